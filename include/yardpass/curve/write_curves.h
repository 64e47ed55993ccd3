/// Writing curves: OBJ lines (3D) and SVG (seen from above).
#pragma once

#include <filesystem>
#include <vector>

#include "yardpass/curve/curve.h"

namespace yardpass {

/// Vertices and `l` lines, in mm; `g` is the layer, `o` the name. 1e-6 mm. Throws Error if the file cannot be
/// written.
void write_obj_curves(const std::filesystem::path& file, const std::vector<Curve>& curves);

/// Paths in mm, Y upwards as in the program; one group a layer, in order of appearance; the name is the id.
/// 1e-6 mm; heights are lost. Read back, all curves are shifted by the lower left corner of their common
/// rectangle, which stands in the file as a comment. Throws Error if the file cannot be written.
void write_svg_curves(const std::filesystem::path& file, const std::vector<Curve>& curves);

}  // namespace yardpass
