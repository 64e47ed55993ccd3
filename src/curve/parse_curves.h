// What the readers of the curve formats share.
#pragma once

#include "part/mesh_source.h"
#include "yardpass/curve/read_curves.h"

namespace yardpass::detail {

CurveFile parse_svg_curves(const MeshSource& source, const CurveReadOptions& options);
CurveFile parse_obj_curves(const MeshSource& source, const CurveReadOptions& options);

/// Throws unless all points are finite and within 1e6 mm and there is a curve; drops points that repeat the
/// one before, closes curves that end where they began, leaves out what has no length (with a note).
void tidy(CurveFile& file, const MeshSource& source);

/// "3 texts passed over"
void note_passed_over(CurveFile& file, std::int64_t count, const std::string& what);

/// The whole file; throws Error if it cannot be read.
std::string bytes_of(const std::filesystem::path& file);

}  // namespace yardpass::detail
