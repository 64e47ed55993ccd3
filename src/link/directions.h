// Which way a line sets off.
#pragma once

#include <span>

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

/// Of length 1, past points that lie in one place.
inline Vec3 start_direction(std::span<const Vec3> line) {
  for (const Vec3& p : line)
    if (const Vec3 step = p - line.front(); step.norm() > 1e-6) return step.normalized();
  return {1, 0, 0};
}
/// The way that it goes on at its end.
inline Vec3 end_direction(std::span<const Vec3> line) {
  for (auto p = line.rbegin(); p != line.rend(); ++p)
    if (const Vec3 step = line.back() - *p; step.norm() > 1e-6) return step.normalized();
  return {1, 0, 0};
}

}  // namespace yardpass::detail
