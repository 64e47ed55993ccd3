// Triangles of a plane polygon with holes, for the generators of the demo parts.
#pragma once

#include <array>
#include <vector>

#include "yardpass/geom/polyline.h"

namespace yardpass::demo {

/// Corners are numbered through: the outer loop first, then the holes. Outer loop counter-clockwise, holes
/// clockwise; no two loops touch. Triangles are counter-clockwise and use the given corners only. Method:
/// holes are joined to the outer loop by bridges, then ears are cut off. Source: D. Eberly, "Triangulation by
/// Ear Clipping", 2002.
std::vector<std::array<int, 3>> triangulate(const Polyline2& outer, const std::vector<Polyline2>& holes);

}  // namespace yardpass::demo
