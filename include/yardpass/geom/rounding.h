/// What writing coordinates with so many decimals does to a place.
#pragma once

#include <cmath>

namespace yardpass {

/// How far rounding each coordinate to `decimals` can move a point in space [mm]. Plan with the tool thicker
/// by this, and the rounded moves are as free as the planned ones.
[[nodiscard]] inline double rounding_reserve(int decimals) {
  return 0.5 * std::sqrt(3.0) * std::pow(10.0, -decimals) * 1.001;
}

}  // namespace yardpass
