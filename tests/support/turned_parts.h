// Parts turned about an upright axis, and walls around outlines: what formulas know the contours of.
#pragma once

#include <cmath>
#include <numbers>

#include "yardpass/geom/mesh.h"
#include "yardpass/geom/polyline.h"

namespace yardpass::testing {

/// A chain of (radius, height), turned round about a place. Corners lie on the true circles.
inline void add_turned(Mesh& mesh, const Polyline2& chain, int around, const Vec2& centre = {0, 0}) {
  const auto first = static_cast<std::int32_t>(mesh.points.size());
  const auto rings = static_cast<std::int32_t>(chain.size());
  for (int k = 0; k < around; ++k) {
    const double angle = 2 * std::numbers::pi * (k + 0.3) / around;
    for (const Vec2& p : chain)
      mesh.points.emplace_back(centre.x() + p.x() * std::cos(angle), centre.y() + p.x() * std::sin(angle),
                               p.y());
  }
  for (int k = 0; k < around; ++k)
    for (std::int32_t i = 0; i + 1 < rings; ++i) {
      const std::int32_t a = first + k * rings + i, b = first + ((k + 1) % around) * rings + i;
      mesh.triangles.push_back({a, b, b + 1});
      mesh.triangles.push_back({a, b + 1, a + 1});
    }
}

inline Mesh turned_part(const Polyline2& chain, int around) {
  Mesh mesh;
  add_turned(mesh, chain, around);
  return mesh;
}

/// An arc of (radius, height) about a middle; angles in degrees from the direction of the radius.
inline Polyline2 arc_chain(const Vec2& middle, double radius, double from_deg, double to_deg, int pieces) {
  Polyline2 chain;
  for (int i = 0; i <= pieces; ++i) {
    const double angle = (from_deg + (to_deg - from_deg) * i / pieces) * std::numbers::pi / 180;
    chain.push_back(middle + radius * Vec2(std::cos(angle), std::sin(angle)));
  }
  return chain;
}

/// Upright sides around an outline, between two heights; nothing else.
inline void add_walls(Mesh& mesh, const Polyline2& outline, double low, double high) {
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const Vec2 &a = outline[i], &b = outline[(i + 1) % outline.size()];
    const auto first = static_cast<std::int32_t>(mesh.points.size());
    mesh.points.insert(mesh.points.end(), {Vec3(a.x(), a.y(), low), Vec3(b.x(), b.y(), low),
                                           Vec3(b.x(), b.y(), high), Vec3(a.x(), a.y(), high)});
    mesh.triangles.push_back({first, first + 1, first + 2});
    mesh.triangles.push_back({first, first + 2, first + 3});
  }
}

}  // namespace yardpass::testing
