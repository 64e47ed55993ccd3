// Where two lines cross, by the way along both.
#pragma once

#include <vector>

#include "curve/crossings.h"
#include "geom/along_line.h"

namespace yardpass::detail {

struct CrossingWays {
  double on_a, on_b;
};

/// Where two lines cross or touch, along both.
inline std::vector<CrossingWays> crossings(const AlongLine& a, const AlongLine& b) {
  std::vector<CrossingWays> found;
  for (std::size_t i = 0; i + 1 < a.points().size(); ++i) {
    const Vec2 &p = a.points()[i], &q = a.points()[i + 1];
    const Vec2 low = p.cwiseMin(q), high = p.cwiseMax(q);
    for (std::size_t k = 0; k + 1 < b.points().size(); ++k) {
      const Vec2 &r = b.points()[k], &s = b.points()[k + 1];
      if ((r.cwiseMax(s).array() < low.array()).any() || (r.cwiseMin(s).array() > high.array()).any())
        continue;
      const auto crossing = detail::line_crossing(p, q, r, s);
      if (!crossing || crossing->s < 0 || crossing->s > 1 || crossing->t < 0 || crossing->t > 1) continue;
      found.push_back({a.ways()[i] + crossing->s * (a.ways()[i + 1] - a.ways()[i]),
                       b.ways()[k] + crossing->t * (b.ways()[k + 1] - b.ways()[k])});
    }
  }
  return found;
}

}  // namespace yardpass::detail
