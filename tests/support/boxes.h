// Parts put together from blocks.
#pragma once

#include <vector>

#include "support/nasty.h"

namespace yardpass::testing {

inline Mesh blocks(const std::vector<Box3>& boxes) {
  Mesh mesh;
  for (const Box3& one : boxes) {
    const Mesh box = box_mesh(one);
    const auto first = static_cast<std::int32_t>(mesh.points.size());
    mesh.points.insert(mesh.points.end(), box.points.begin(), box.points.end());
    for (const auto& t : box.triangles) mesh.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
  }
  return mesh;
}

/// A pocket with upright walls in a block: its half sides, how deep its floor lies below 0, how wide the
/// block is beside it.
inline Mesh block_pocket(double half_x, double half_y, double deep, double beside) {
  const double x = half_x + beside, y = half_y + beside, low = -2 * deep;
  return blocks({{Vec3(-x, -y, low), Vec3(x, y, -deep)},
                 {Vec3(-x, -y, low), Vec3(-half_x, y, 0)},
                 {Vec3(half_x, -y, low), Vec3(x, y, 0)},
                 {Vec3(-half_x, -y, low), Vec3(half_x, -half_y, 0)},
                 {Vec3(-half_x, half_y, low), Vec3(half_x, y, 0)}});
}

}  // namespace yardpass::testing
