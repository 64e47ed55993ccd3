// What is there, or not, only because of the tolerance.
#pragma once

#include <algorithm>

#include "yardpass/geom/region.h"

namespace yardpass::detail {

/// How far a pass along a border of facets may leave it, to be whole: no farther than the judge allows.
inline double loose_by(double tolerance_mm) { return std::min(tolerance_mm, 0.008); }

/// What of an area does not vanish when it is drawn in by the tolerance: its border, and what is wider than
/// twice the tolerance.
inline Region what_stays_if_drawn_in(const Region& area, double tolerance_mm) {
  constexpr double kRounding = 0.002;  // of the round corners of both steps
  return offset(offset(area, -tolerance_mm), tolerance_mm + kRounding);
}

}  // namespace yardpass::detail
