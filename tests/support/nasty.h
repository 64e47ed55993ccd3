// Parts and cutters that look for trouble.
#pragma once

#include <string>

#include "support/rng.h"
#include "yardpass/geom/mesh.h"

namespace yardpass::testing {

inline constexpr int kNastyKinds = 9;

/// A small part around the origin (or far off); `kind` tells which trouble it holds.
Mesh nasty_part(Rng& rng, int kind);
const char* nasty_name(int kind);

/// A place that aims at a feature of the part: a corner, a point of an edge, exactly one radius beside
/// either, or chance.
Vec2 aim(Rng& rng, const Mesh& part, double radius);

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

/// An upright box, closed.
Mesh box_mesh(const Box3& box);

/// Text of a mesh for failure messages.
std::string to_text(const Mesh& mesh);

}  // namespace yardpass::testing
