// The directions of lines side by side across an area.
#pragma once

#include <cmath>
#include <numbers>

#include "yardpass/geom/vec.h"

namespace yardpass::detail {

struct Frame {
  Vec2 along, across;
};

inline Frame frame_of(double angle_deg) {
  // Exact for whole quarter turns: cos(90 degrees) is not 0 in floating point.
  const double quarter = angle_deg / 90;
  if (quarter == std::round(quarter)) {
    const Vec2 ways[] = {{1, 0}, {0, 1}, {-1, 0}, {0, -1}};
    const auto k = static_cast<int>(std::fmod(std::fmod(quarter, 4) + 4, 4));
    return {ways[k], ways[(k + 1) % 4]};
  }
  const double angle = angle_deg * std::numbers::pi / 180;
  return {{std::cos(angle), std::sin(angle)}, {-std::sin(angle), std::cos(angle)}};
}

}  // namespace yardpass::detail
