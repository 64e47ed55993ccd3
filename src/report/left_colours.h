// Colours for how much material is left, the same in pictures and on the page.
#pragma once

#include <array>
#include <cmath>

#include "report/canvas.h"

namespace yardpass::detail {

/// Steps of the map: lighter is thinner, so the order survives in grey.
struct LeftStep {
  double up_to_mm;
  unsigned colour;
};
inline constexpr std::array<LeftStep, 9> kLeftSteps{{{0.005, 0xfdf6d8},
                                                     {0.01, 0xf3e3a2},
                                                     {0.02, 0xdccb7c},
                                                     {0.05, 0xa8c08a},
                                                     {0.1, 0x6eaf9c},
                                                     {0.2, 0x3f93a6},
                                                     {0.5, 0x2f6fa0},
                                                     {1.0, 0x2d4a8a},
                                                     {1e9, 0x26234f}}};
inline constexpr unsigned kBelowPart = 0xe0457b, kNoPartThere = 0xd9dde2;

[[nodiscard]] inline Colour left_colour(double left_mm) {
  if (std::isnan(left_mm)) return hex(kNoPartThere);
  if (left_mm < -0.001) return hex(kBelowPart);
  for (const LeftStep& step : kLeftSteps)
    if (left_mm <= step.up_to_mm) return hex(step.colour);
  return hex(kLeftSteps.back().colour);
}

/// Their legend, at the panel; returns where it ends.
double draw_left_steps(Canvas& canvas, double top);

}  // namespace yardpass::detail
