/// Curves: what boundaries, drive curves and carriers are made from.
#pragma once

#include <string>

#include "yardpass/geom/polyline.h"

namespace yardpass {

/// A chain of straight pieces in space, in millimetres. Arcs and splines are cut into chords when they are
/// read.
struct Curve {
  Polyline3 points;                   ///< in running order; of a closed curve the first is not repeated
  bool closed = false;                ///< the last point is joined to the first
  std::string name = {}, layer = {};  ///< as the file says; empty if it says none
  std::string colour = {};            ///< "#rrggbb", in small letters; empty if the file says none
};

/// Along the curve, its closing piece included.
[[nodiscard]] double length(const Curve& curve);

/// The loop or line as seen from above; the first point of a closed curve is not repeated.
[[nodiscard]] Polyline2 in_plan(const Curve& curve);

/// Distance in space from a point to the nearest point of the curve.
[[nodiscard]] double distance_to(const Curve& curve, const Vec3& point);

}  // namespace yardpass
