// Rings, bands and faces: what the demo parts are put together from.
#pragma once

#include <vector>

#include "yardpass/geom/mesh.h"
#include "yardpass/geom/polyline.h"

namespace yardpass::demo {

Polyline2 circle(const Vec2& centre, double radius, int corners);
Polyline2 rounded_rectangle(double length, double width, double corner_radius);

/// `count` points of a finely drawn profile, from its start, closer together where it bends. Its end is not
/// among them.
Polyline2 spread_by_bend(const Polyline2& profile, int count);

class Builder {
 public:
  int point(const Vec3& p);
  std::vector<int> ring(const Polyline2& loop, double z);
  /// Between two rings of the same number of corners; seen from outside, `lower` runs to the right below
  /// `upper`.
  void band(const std::vector<int>& lower, const std::vector<int>& upper);
  void fan(const std::vector<int>& ring, int tip);
  /// A level face, seen from above, inside a ring that runs counter-clockwise and outside of rings that do so
  /// too.
  void face(const std::vector<int>& outer, const std::vector<std::vector<int>>& holes) {
    level(outer, holes, false);
  }
  /// The same seen from below.
  void face_below(const std::vector<int>& outer, const std::vector<std::vector<int>>& holes) {
    level(outer, holes, true);
  }
  Mesh mesh;

 private:
  void triangle(int a, int b, int c) { mesh.triangles.push_back({a, b, c}); }
  void level(const std::vector<int>& outer, const std::vector<std::vector<int>>& holes, bool downwards);
  [[nodiscard]] const Vec3& at(int i) const { return mesh.points[static_cast<std::size_t>(i)]; }
};

}  // namespace yardpass::demo
