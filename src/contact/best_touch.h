// The highest touch over triangles offered one by one. Internal to this layer.
#pragma once

#include "contact/triangle.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass::detail {

inline Corners corners_of(const Mesh& mesh, std::int32_t triangle) {
  const auto t = static_cast<std::size_t>(triangle);
  return {{mesh.corner(t, 0), mesh.corner(t, 1), mesh.corner(t, 2)}};
}

/// Begins to fetch the corners of a triangle from memory.
inline void fetch(const Mesh& mesh, std::int32_t triangle) {
  for (const std::int32_t corner : mesh.triangles[static_cast<std::size_t>(triangle)])
    __builtin_prefetch(&mesh.points[static_cast<std::size_t>(corner)]);
}

/// As a limit for bounds, which come in single precision: never above the value.
inline float limit_for_bounds(double value) {
  return static_cast<float>(value - 1e-6 * std::abs(value) - 1e-7);
}

/// Of the cutter alone at one place. Of equal touches the first triangle counts, in whatever order they come.
class BestTouch {
 public:
  BestTouch(const TipSurface& surface, const Vec2& xy) : surface_(surface), xy_(xy) {}

  void offer(std::int32_t triangle) {
    const double lift = surface_.contact_lift(triangle);
    const Corners corners = corners_of(surface_.part().mesh(), triangle);
    // No tip stands higher than the triangle: on a level face this is all that most are asked for.
    const double most = corners.top() + lift;
    if (most < best_.height || (most == best_.height && triangle > triangle_)) return;
    TriangleTouch touch =
        touch_triangle(surface_.contact_profile(triangle), xy_, corners, best_.height - lift);
    touch.height += lift;
    if (touch.height < best_.height || touch.height == kNothingBelow) return;
    if (touch.height == best_.height && triangle > triangle_) return;
    best_ = touch;
    triangle_ = triangle;
  }
  [[nodiscard]] const TriangleTouch& best() const { return best_; }
  [[nodiscard]] std::int32_t triangle() const { return triangle_; }  ///< -1: none

 private:
  const TipSurface& surface_;
  Vec2 xy_;
  TriangleTouch best_;
  std::int32_t triangle_ = -1;
};

}  // namespace yardpass::detail
