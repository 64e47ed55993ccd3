// A surface that several benchmarks run over.
#pragma once

#include <algorithm>
#include <cmath>

namespace yardpass::bench {

/// A trough of 120 x 80 mm and 14 deep, with waves.
inline double mold(double x, double y) {
  const double u = x / 60, v = y / 40;
  return -14 * std::max(0.0, 1 - u * u * u * u - v * v) + 0.8 * std::sin(x / 7) * std::cos(y / 9);
}

}  // namespace yardpass::bench
