// An edge between two plane faces, of any angle, leaning and sloping.
#pragma once

#include <cmath>
#include <numbers>

#include "yardpass/geom/edge_section.h"
#include "yardpass/geom/mesh.h"

namespace yardpass::testing {

/// Two faces of 40 x 8 that meet at an edge.
struct Ridge {
  EdgeSection section;
  Mesh mesh;
  Ridge(double material_deg, double lean_deg, double slope_deg, double round_deg) {
    const double slope = slope_deg * std::numbers::pi / 180, round = round_deg * std::numbers::pi / 180;
    section.at = Vec3(0, 0, 0);
    section.along =
        Vec3(std::cos(round) * std::cos(slope), std::sin(round) * std::cos(slope), std::sin(slope));
    const Vec3 up = (Vec3(0, 0, 1) - section.along.z() * section.along).normalized(),
               side = section.along.cross(up);
    const double turn = std::numbers::pi - material_deg * std::numbers::pi / 180,
                 middle = lean_deg * std::numbers::pi / 180;
    const auto leaning = [&](double angle) -> Vec3 { return std::cos(angle) * up + std::sin(angle) * side; };
    section.one = leaning(middle - 0.5 * turn), section.other = leaning(middle + 0.5 * turn);
    constexpr int kSteps = 8;
    for (int i = 0; i <= kSteps; ++i) {
      const Vec3 at = section.at + (40.0 * i / kSteps - 20) * section.along;
      mesh.points.push_back(at);
      mesh.points.emplace_back(at + 8 * section.into_one());
      mesh.points.emplace_back(at + 8 * section.into_other());
    }
    const auto face = [&](std::int32_t a, std::int32_t b, std::int32_t c, const Vec3& normal) {
      const Vec3 across =
          (mesh.points[static_cast<std::size_t>(b)] - mesh.points[static_cast<std::size_t>(a)])
              .cross(mesh.points[static_cast<std::size_t>(c)] - mesh.points[static_cast<std::size_t>(a)]);
      if (across.dot(normal) < 0) std::swap(b, c);
      mesh.triangles.push_back({a, b, c});
    };
    for (std::int32_t i = 0; i < kSteps; ++i) {
      const std::int32_t a = 3 * i, b = 3 * i + 3;
      face(a, b, b + 1, section.one), face(a, b + 1, a + 1, section.one);
      face(a, b, b + 2, section.other), face(a, b + 2, a + 2, section.other);
    }
  }
};

}  // namespace yardpass::testing
