// Borders of sets of triangles, by corners of the mesh.
#pragma once

#include "yardpass/part/guides.h"

namespace yardpass::detail {

/// A closed border by corners of the mesh, the set on its left.
struct CornerLoop {
  std::vector<std::int32_t> corners;
};

/// Borders that end or branch are left out. `turned`: from turned_over().
std::vector<CornerLoop> border_loops(const Mesh& mesh, const Joints& joints, const TriangleSet& set,
                                     const std::vector<std::uint8_t>& turned);

Rim rim_of(const Mesh& mesh, const CornerLoop& loop);

}  // namespace yardpass::detail
