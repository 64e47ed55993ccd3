// Ground of four kinds, and tools of every shape, for passes over it.
#pragma once

#include <gtest/gtest.h>

#include <cmath>
#include <vector>

#include "support/nasty.h"
#include "support/planning.h"

namespace yardpass::testing {

struct Ground {
  const char* name;
  Mesh mesh;
};

inline std::vector<Ground> grounds() {
  const Box2 box(Vec2(-16, -16), Vec2(16, 16));
  std::vector<Ground> all;
  all.push_back({"smooth", sheet(box, 200, 200, [](double x, double y) {
                   return 2 * std::sin(x / 5) + 1.5 * std::cos(y / 4) + 0.02 * x * y;
                 })});
  all.push_back({"mechanical", sheet(box, 320, 320, [](double x, double y) {
                   const double pocket = std::abs(x) < 6 && std::abs(y + 3) < 5 ? -3.0 : 0.0;
                   return pocket + (y > 6 ? 0.6 * (y - 6) : 0.0) +
                          (std::hypot(x - 10, y - 2) < 3 ? 2.0 : 0.0);
                 })});
  Rng rng(7);
  all.push_back({"scanned", sheet(box, 160, 160, [&](double x, double y) {
                   return 1.2 * std::sin(x / 6 + y / 9) + rng.uniform(-0.01, 0.01);
                 })});
  all.push_back({"nasty", nasty_part(rng, 3)});
  return all;
}

inline Tool tool_of(Shape shape) {
  Tool tool = ball_tool(6);
  tool.shape = shape;
  if (shape == Shape::bull) tool.corner_radius_mm = 1.5;
  if (shape == Shape::taper) tool.diameter_mm = 4, tool.corner_radius_mm = 2, tool.taper_angle_deg = 8;
  tool.flute_length_mm = 30;
  return tool;
}

/// Passes of a plan: free of the part on their whole way, within the area, and no fewer than that.
inline void expect_no_gouge(const CutPlan& plan, const ToolSurface& surface, const Region& area,
                            double least_length) {
  double length_mm = 0;
  const Region allowed = offset(area, 0.002);
  for (const Cut& cut : all_cuts(plan)) {
    Polyline3 line = cut.points;
    if (cut.closed) line.push_back(line.front());
    length_mm += length(std::span<const Vec3>(line));
    for (std::size_t i = 0; i + 1 < line.size(); ++i) {
      EXPECT_GE(surface.clearance(line[i], line[i + 1], 0).room, -kTouchError);
      EXPECT_TRUE(allowed.contains(yardpass::plan(line[i])));
    }
  }
  EXPECT_GT(length_mm, least_length);
}

}  // namespace yardpass::testing
