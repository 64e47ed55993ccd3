/// Stock that is no block: round bars, and height maps from a file.
#pragma once

#include <filesystem>

#include "yardpass/stock/stock.h"

namespace yardpass {

/// A round bar standing on its end; around it there is no material (height bottom_z). Throws Error as Stock
/// does.
[[nodiscard]] Stock upright_bar(const Vec2& centre, double diameter_mm, double bottom_z, double top_z,
                                double cell_mm);

/// A round bar lying along X or Y: its upper half as heights. What hangs over below its middle is not seen:
/// the material reaches straight down to bottom_z, the bar's lowest line.
enum class BarAxis { x, y };
[[nodiscard]] Stock lying_bar(BarAxis axis, const Vec3& middle, double diameter_mm, double length_mm,
                              double cell_mm);

/// Saves the heights as a NumPy array file (format 1.0, `<f8`, shape (rows, columns), row 0 at the least Y)
/// and beside it a text file with the ending .frame that says where it lies, in mm:
///     x = -94       least X of the first column's cells
///     y = -64
///     cell = 0.1
///     bottom = -40
///     top = 2       of the block that it was cut from
///     x_end = 94    and its far sides; without them the last cells end it
///     y_end = 64
/// Both are written whole or Error is thrown. Reading gives the same bits.
void write_stock(const std::filesystem::path& npy_file, const Stock& stock);
/// Throws Error with the file if one of the two is missing, damaged, of another kind or has heights that are
/// not finite or outside bottom to top.
[[nodiscard]] Stock read_stock(const std::filesystem::path& npy_file);

}  // namespace yardpass
