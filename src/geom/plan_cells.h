// Square cells of the plan by number, for indices of what lies near places and lines.
#pragma once

#include <algorithm>
#include <cmath>
#include <cstdint>

#include "yardpass/geom/vec.h"

namespace yardpass::detail {

class PlanCells {
 public:
  explicit PlanCells(double side_mm) : side_(side_mm) {}

  [[nodiscard]] std::int64_t of(const Vec2& place) const { return key(cell(place.x()), cell(place.y())); }

  /// Visits each cell that comes within `reach_mm` of the line from a to b, and some beyond; some of them
  /// more than once.
  template <typename Visit>
  void along(const Vec2& a, const Vec2& b, double reach_mm, const Visit& visit) const {
    // The box of a long slanted line would hold many cells that it does not come near.
    const Vec2 way = b - a;
    const int parts = std::max(1, static_cast<int>(std::ceil(way.norm() / (2 * side_))));
    for (int k = 0; k < parts; ++k) {
      const Vec2 p = a + way * (1.0 * k / parts), q = a + way * ((k + 1.0) / parts);
      const Vec2 low = p.cwiseMin(q), high = p.cwiseMax(q);
      for (std::int64_t x = cell(low.x() - reach_mm); x <= cell(high.x() + reach_mm); ++x)
        for (std::int64_t y = cell(low.y() - reach_mm); y <= cell(high.y() + reach_mm); ++y) visit(key(x, y));
    }
  }

 private:
  static std::int64_t key(std::int64_t x, std::int64_t y) { return (x << 32) ^ (y & 0xffffffff); }
  [[nodiscard]] std::int64_t cell(double coordinate) const {
    return static_cast<std::int64_t>(std::floor(coordinate / side_));
  }
  double side_;
};

}  // namespace yardpass::detail
