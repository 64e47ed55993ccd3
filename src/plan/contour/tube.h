// The room that the tolerance gives a line along a wall: free of the part as it is, met by a thicker tool.
#pragma once

#include "yardpass/contact/along_line.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass::detail {

struct Tube {
  TipSurface low, middle, high;  // of the tool as it is, thicker by half the tolerance, and by all of it
  double tolerance;

  Tube(const TipSurface& surface, double tolerance_mm)
      : low(surface),
        middle(surface.with_more_allowance(0.5 * tolerance_mm)),
        high(surface.with_more_allowance(tolerance_mm)),
        tolerance(tolerance_mm) {}

  [[nodiscard]] bool free(const Vec3& a, const Vec3& b, std::int32_t near = -1) const {
    return low.clearance(a, b, 0.0, near).room >= 0;
  }
  [[nodiscard]] bool met(const Vec3& a, const Vec3& b, std::int32_t near = -1) const {
    return covered(high, a, b, near).whole;
  }
  [[nodiscard]] bool holds(const Vec3& a, const Vec3& b, std::int32_t near = -1) const {
    return free(a, b, near) && met(a, b, near);
  }
};

}  // namespace yardpass::detail
