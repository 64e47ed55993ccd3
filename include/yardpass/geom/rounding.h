/// What writing coordinates with so many decimals does to a place.
#pragma once

#include <cmath>

namespace yardpass {

/// How far rounding each coordinate to whole steps can move a point in space [mm].
[[nodiscard]] inline double rounding_reserve_of(double step_mm) {
  return 0.5 * std::sqrt(3.0) * step_mm * 1.001;
}

/// How far rounding each coordinate to `decimals` can move a point in space [mm]. Plan with the tool thicker
/// by this, and the rounded moves are as free as the planned ones.
[[nodiscard]] inline double rounding_reserve(int decimals) {
  return rounding_reserve_of(std::pow(10.0, -decimals));
}

}  // namespace yardpass
