// Arcs, ellipses and splines as chords.
#pragma once

#include <algorithm>
#include <cmath>
#include <numbers>

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

inline constexpr double kFewestChords = 2, kMostChords = 20000;

/// How many chords keep within `tolerance` of a piece whose second derivative stays below `bend` over a
/// parameter range of 1.
inline int chords_for_bend(double bend, double tolerance) {
  return static_cast<int>(std::clamp(std::ceil(std::sqrt(bend / (8 * tolerance))), 1.0, kMostChords));
}

/// Appends the end points of the chords of an arc of an ellipse: centre + cos t u + sin t v, from `from` to
/// `to`, the point at `from` left out.
inline void add_ellipse_arc(Polyline3& points, const Vec3& centre, const Vec3& u, const Vec3& v, double from,
                            double to, double tolerance) {
  const double radius = std::max(u.norm(), v.norm());
  const double step = radius > tolerance ? 2 * std::acos(1 - tolerance / radius) : std::numbers::pi;
  const int n =
      static_cast<int>(std::clamp(std::ceil(std::abs(to - from) / step), kFewestChords, kMostChords));
  for (int i = 1; i <= n; ++i) {
    const double t = from + (to - from) * i / n;
    points.push_back(centre + std::cos(t) * u + std::sin(t) * v);
  }
}

/// Appends the end points of the chords of a cubic, the first point left out.
inline void add_cubic(Polyline3& points, const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d,
                      double tolerance) {
  const double bend = 6 * std::max((a - 2 * b + c).norm(), (b - 2 * c + d).norm());
  const int n = chords_for_bend(bend, tolerance);
  for (int i = 1; i <= n; ++i) {
    const double t = static_cast<double>(i) / n, s = 1 - t;
    points.push_back(s * s * s * a + 3 * s * s * t * b + 3 * s * t * t * c + t * t * t * d);
  }
}

}  // namespace yardpass::detail
