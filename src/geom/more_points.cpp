#include "geom/more_points.h"

#include <algorithm>
#include <cmath>

namespace yardpass::detail {

Polyline2 with_more_points(const Polyline2& line, bool closed, double longest) {
  Polyline2 result;
  const std::size_t count = line.size(), pieces = closed ? count : count - 1;
  for (std::size_t i = 0; i < pieces; ++i) {
    const Vec2 &a = line[i], &b = line[(i + 1) % count];
    const int parts = std::max(1, static_cast<int>(std::ceil((b - a).norm() / longest - 1e-9)));
    for (int k = 0; k < parts; ++k) result.push_back(a + (b - a) * (1.0 * k / parts));
  }
  if (!closed) result.push_back(line.back());
  return result;
}

}  // namespace yardpass::detail
