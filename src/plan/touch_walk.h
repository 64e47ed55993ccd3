// Along a path in small steps, with the touch at each.
#pragma once

#include <algorithm>
#include <cmath>
#include <optional>

#include "yardpass/contact/tip_surface.h"

namespace yardpass::detail {

/// Walks along a path in small steps and tells where the touch lies.
class TouchWalk {
 public:
  explicit TouchWalk(const TipSurface& surface) : surface_(surface) {}

  [[nodiscard]] std::optional<Touch> touch(const Vec3& tip) {
    auto found = surface_.touch(plan(tip), near_);
    if (found) near_ = found->triangle;
    return found;
  }

 private:
  const TipSurface& surface_;
  std::int32_t near_ = -1;
};

inline int steps_between(const Vec3& a, const Vec3& b, double step_mm) {
  return std::max(1, static_cast<int>(std::ceil((plan(b) - plan(a)).norm() / step_mm)));
}

}  // namespace yardpass::detail
