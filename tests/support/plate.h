// A plate with a hole and a wall, and the head of a job about it.
#pragma once

#include "support/nasty.h"
#include "support/scratch.h"

namespace yardpass::testing {

/// A plate of 60 x 40 whose top bulges along X, with a square hole of 8 mm down to -6 and, at x = 22, a wall
/// that rises to 5.
inline Mesh plate() {
  const auto top = [](double x, double y) {
    if (std::abs(x) < 4 && std::abs(y) < 4) return -6.0;
    if (x > 22) return 5.0;
    return -x * x / 400;
  };
  return sheet(Box2(Vec2(-30, -20), Vec2(30, 20)), 300, 100, top);
}

inline const char* const kPlateJob = R"(title = "plate"
[part]
mesh = "plate.stl"
[splitting]
scrap_area = 0.5
[regions.face]
at = [10, 10]
[stock]
cell = 0.4
[tools.ball4]
number = 1
shape = "ball"
diameter = 4
flute_length = 30
stickout = 60
spindle = 9000
feed = 1000
)";

}  // namespace yardpass::testing
