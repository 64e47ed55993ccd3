#include "dxf/dxf_spline.h"

#include <algorithm>
#include <array>

namespace yardpass::detail {

// C. de Boor, "A Practical Guide to Splines", 1978, with homogeneous coordinates for the weights.
Vec3 DxfSpline::at(std::size_t span, double t) const {
  const auto p = static_cast<std::size_t>(degree);
  std::array<Eigen::Vector4d, 32> d;
  for (std::size_t j = 0; j <= p; ++j) {
    const std::size_t i = span - p + j;
    const double w = weights[i] > 0 ? weights[i] : 1;
    d[j] << points[i] * w, w;
  }
  for (std::size_t r = 1; r <= p; ++r)
    for (std::size_t j = p; j >= r; --j) {
      const std::size_t i = span - p + j;
      const double room = knots[i + p - r + 1] - knots[i];
      const double share = room > 0 ? (t - knots[i]) / room : 0;
      d[j] = (1 - share) * d[j - 1] + share * d[j];
    }
  return d[p].head<3>() / d[p][3];
}

Polyline3 DxfSpline::chords(double tolerance) const {
  const auto p = static_cast<std::size_t>(std::max(degree, 0));
  if (degree < 1 || degree > 25 || points.size() < p + 1 || knots.size() != points.size() + p + 1 ||
      !std::is_sorted(knots.begin(), knots.end()) || !(knots[points.size()] > knots[p]))
    return {};
  Polyline3 result;
  for (std::size_t span = p; span < points.size(); ++span) {
    const double from = knots[span], to = knots[span + 1];
    if (!(to > from)) continue;
    if (result.empty()) result.push_back(at(span, from));
    struct Stretch {
      double from, to;
      int depth;
    };
    std::vector<Stretch> open;
    for (int k = 3; k >= 0; --k)
      open.push_back({from + (to - from) * k / 4, from + (to - from) * (k + 1) / 4, 0});
    while (!open.empty()) {
      const Stretch s = open.back();
      open.pop_back();
      const Vec3 a = at(span, s.from), b = at(span, s.to);
      double off = 0;
      for (const double share : {0.25, 0.5, 0.75})
        off = std::max(off, distance_to_segment(at(span, s.from + share * (s.to - s.from)), a, b));
      if (off > tolerance && s.depth < 14) {
        const double middle = (s.from + s.to) / 2;
        open.push_back({middle, s.to, s.depth + 1});
        open.push_back({s.from, middle, s.depth + 1});
      } else {
        result.push_back(b);
      }
    }
  }
  return result;
}

}  // namespace yardpass::detail
