// Short ways to plan in tests.
#pragma once

#include "yardpass/strategy/parallel.h"
#include "yardpass/strategy/roughing.h"

namespace yardpass::testing {

inline Tool ball_tool(double diameter) {
  return {.name = "ball", .number = 1, .diameter_mm = diameter, .spindle_rpm = 9000, .feed_mm_min = 1800};
}
inline Tool flat_tool(double diameter) {
  return {.name = "flat",
          .number = 1,
          .shape = Shape::flat,
          .diameter_mm = diameter,
          .spindle_rpm = 9000,
          .feed_mm_min = 1800};
}

/// Without a reserve for rounding: what is planned is not posted.
inline ToolSurface exact_surface(const std::shared_ptr<const ContactPart>& part, const Tool& tool,
                                 const TipSurfaceOptions& options = {}) {
  return {part, tool, options, std::nullopt};
}

/// The cuts of all groups in their order.
inline std::vector<Cut> all_cuts(const CutPlan& plan) {
  std::vector<Cut> cuts;
  for (const CutGroup& group : plan.groups) cuts.insert(cuts.end(), group.cuts.begin(), group.cuts.end());
  return cuts;
}

inline std::vector<Cut> parallel_cuts(const ToolSurface& surface, const Region& area,
                                      const ParallelOptions& options, double tolerance_mm = 0.01,
                                      const Progress& progress = {}) {
  return all_cuts(cuts_of(options, {surface, area, nullptr, tolerance_mm}, progress));
}

/// The heights of a plan's levels, highest first.
inline std::vector<double> levels_of(const CutPlan& plan) {
  std::vector<double> levels;
  for (const CutGroup& group : plan.groups)
    if (levels.empty() || levels.back() != group.level_z) levels.push_back(group.level_z);
  return levels;
}

}  // namespace yardpass::testing
