// Quick answers about one area: its sides sorted into level bands.
#pragma once

#include <array>

#include "yardpass/geom/region.h"

namespace yardpass::detail {

/// Answers as Region::contains does, for areas of many sides that are asked often.
class Bands {
 public:
  explicit Bands(const Region& region);
  [[nodiscard]] bool contains(const Vec2& p) const;
  /// The pieces of a line inside, in its order.
  [[nodiscard]] std::vector<Polyline2> inside(const Polyline2& line) const;
  /// Of a closed line, whose first point is not repeated: its start is no place of its own, so what the
  /// border cuts goes on over it. A piece that ends where it begins is all of it.
  [[nodiscard]] std::vector<Polyline2> inside_loop(const Polyline2& loop) const;

 private:
  struct SideOfLoop {
    Vec2 a, b;
  };
  [[nodiscard]] std::size_t band_of(double y) const;
  /// Shares of a-b at which it crosses sides, sorted, between 0 and 1.
  void crossings(const Vec2& a, const Vec2& b, std::vector<double>& shares) const;

  double low_ = 0, per_mm_ = 0;
  std::vector<SideOfLoop> sides_;    // band by band
  std::vector<std::size_t> starts_;  // of each band among them
};

}  // namespace yardpass::detail
