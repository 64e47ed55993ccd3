/// Circular arcs in space, as machine controls run them.
#pragma once

#include <cstdint>
#include <vector>

#include "yardpass/geom/vec.h"

namespace yardpass {

/// The plane of an arc, named as G17, G18 and G19 name it.
enum class ArcPlane : std::uint8_t { xy, zx, yz };

/// The two coordinates of a plane, the turn from the first to the second being counter-clockwise.
struct PlaneAxes {
  int first, second;
};
[[nodiscard]] PlaneAxes axes_of(ArcPlane plane);

/// An arc in one of the three planes about an axis through `centre`, while the third coordinate runs evenly
/// (a helix; seldom seen but in XY). Programs are rounded, so both ends may lie at slightly different
/// distances from the axis: then the radius runs evenly too, and both ends are met.
struct Arc {
  Vec3 start, end;
  Vec3 centre;          ///< its coordinate across the plane says nothing
  double turn_rad = 0;  ///< about the axis, counter-clockwise seen from its positive end is positive
  ArcPlane plane = ArcPlane::xy;

  /// The arc about `centre` from `start` by an angle, while Z runs evenly to `end_z`.
  [[nodiscard]] static Arc in_plan(const Vec3& start, const Vec2& centre, double turn_rad, double end_z);

  [[nodiscard]] int axis() const;  ///< 0, 1, 2 for X, Y, Z: the one it turns about
  [[nodiscard]] double start_radius() const;
  [[nodiscard]] double end_radius() const;
  [[nodiscard]] double rise() const;  ///< along the axis
  [[nodiscard]] double length() const;
  [[nodiscard]] Vec3 at(double share) const;         ///< share of the angle, 0 to 1
  [[nodiscard]] Vec3 direction(double share) const;  ///< of travel, of length 1
  [[nodiscard]] Box3 box()
      const;  ///< holds all of it, and is no larger than it where the radius does not run
};

/// Places along the arc, both ends included and evenly spread in angle, so many that it lies nowhere farther
/// than `sagitta_mm` from the chords between them. Throws Error unless the sagitta is above 0.
[[nodiscard]] std::vector<Vec3> chord_points(const Arc& arc, double sagitta_mm);

}  // namespace yardpass
