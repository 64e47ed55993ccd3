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

 private:
  struct SideOfLoop {
    Vec2 a, b;
  };
  [[nodiscard]] std::size_t band_of(double y) const;

  double low_ = 0, per_mm_ = 0;
  std::vector<SideOfLoop> sides_;    // band by band
  std::vector<std::size_t> starts_;  // of each band among them
};

}  // namespace yardpass::detail
