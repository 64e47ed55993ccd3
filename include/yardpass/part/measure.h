/// Measuring on a part: places on its surface, and angles, distances and radii between them.
#pragma once

#include <optional>

#include "yardpass/geom/mesh.h"

namespace yardpass {

/// A point on the surface and the triangle it lies on.
struct SurfacePlace {
  Vec3 at{0, 0, 0};
  std::int32_t triangle = -1;
  Vec3 normal{0, 0, 1};  ///< of the triangle, unit, as its corners run
  /// Angle between the surface here and a level plane, 0 to 90 degrees, whichever way it faces.
  [[nodiscard]] double slope_deg() const;
};

/// The highest point of the part at a place in plan; nothing where there is no part. Looks at every triangle.
[[nodiscard]] std::optional<SurfacePlace> highest_at(const Mesh& mesh, const Vec2& place);

/// The point of the surface that is nearest to a point in space. Looks at every triangle.
[[nodiscard]] SurfacePlace nearest_to(const Mesh& mesh, const Vec3& point);

/// From one point to another.
struct Span {
  double distance_mm = 0;
  double plan_distance_mm = 0;  ///< seen from above
  double rise_mm = 0;           ///< Z of the second less Z of the first
  double angle_deg = 0;         ///< in plan from X, above -180 to 180; 0 if both are at one place in plan
  double slope_deg = 0;         ///< of the line against a level plane, -90 to 90, upwards positive
};
[[nodiscard]] Span span_between(const Vec3& from, const Vec3& to);

/// The circle through three points; nothing if they lie in one line.
struct CircleThrough {
  Vec3 centre{0, 0, 0};
  double radius_mm = 0;
  Vec3 normal{0, 0, 1};  ///< of its plane
};
[[nodiscard]] std::optional<CircleThrough> circle_through(const Vec3& a, const Vec3& b, const Vec3& c);

}  // namespace yardpass
