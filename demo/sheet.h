// A sheet over the plan, for tests and benchmarks.
#pragma once

#include "yardpass/geom/mesh.h"

namespace yardpass::demo {

/// z = height(x, y) over a grid, two triangles a square.
template <typename Height>
Mesh sheet(const Box2& box, int columns, int rows, const Height& height) {
  Mesh mesh;
  for (int j = 0; j <= rows; ++j)
    for (int i = 0; i <= columns; ++i) {
      const Vec2 p = box.min() + Vec2(box.sizes().x() * i / columns, box.sizes().y() * j / rows);
      mesh.points.emplace_back(p.x(), p.y(), height(p.x(), p.y()));
    }
  for (int j = 0; j < rows; ++j)
    for (int i = 0; i < columns; ++i) {
      const std::int32_t a = j * (columns + 1) + i, b = a + columns + 1;
      mesh.triangles.push_back({a, a + 1, b + 1});
      mesh.triangles.push_back({a, b + 1, b});
    }
  return mesh;
}

}  // namespace yardpass::demo
