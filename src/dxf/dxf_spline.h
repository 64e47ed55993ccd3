// Splines by control points, knots and weights.
#pragma once

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

struct DxfSpline {
  int degree = 3;
  Polyline3 points;
  std::vector<double> weights, knots;

  /// Points of the spline from its first to its last useful knot, chords within the tolerance; empty if
  /// points, knots and degree do not fit together.
  [[nodiscard]] Polyline3 chords(double tolerance) const;

 private:
  [[nodiscard]] Vec3 at(std::size_t span, double t) const;
};

}  // namespace yardpass::detail
