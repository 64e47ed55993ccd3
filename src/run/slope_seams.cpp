#include "yardpass/run/slope_seams.h"

#include "setup/guided_parts.h"
#include "setup/stage.h"
#include "yardpass/contact/tool_surface.h"

namespace yardpass {

namespace {

/// Without their areas; two where it keeps to a band between two slopes.
std::vector<SlopeSeam> asked_for(const Settled& settled) {
  const SteepnessLimits& limits = settled.values.limits.steepness;
  std::vector<SlopeSeam> seams;
  const auto add = [&](const std::optional<double>& angle, std::optional<Steepness> only) {
    if (angle && !settled.usual.at_levels) seams.push_back({settled.number, settled.name, *angle, {}, only});
  };
  add(limits.steep_from_deg, Steepness::steep);
  add(limits.shallow_to_deg, Steepness::shallow);
  add(settled.usual.split_deg, {});
  return seams;
}

}  // namespace

std::vector<SlopeSeam> slope_seams(const JobSetup& setup, const StageProgress& progress) {
  std::vector<SlopeSeam> seams;
  const std::vector<Settled> operations = settle(setup);
  std::vector<Guides> guides;
  for (const Settled& settled : operations)
    if (!asked_for(settled).empty()) guides.push_back(settled.values.guides);
  detail::GuidedParts parts(setup, std::move(guides));
  for (const Settled& settled : operations) {
    std::vector<SlopeSeam> asked = asked_for(settled);
    if (asked.empty()) continue;
    const Progress stage = detail::stage(progress, "steep and shallow, " + settled.name);
    const detail::GuidedPart guided = parts.next({});
    const ToolSurface surface(guided.part, settled.tool, guided.options(settled.values.allowance),
                              posted_form(setup.job.machine.controller).step_mm);
    const Bounds bounds = settled.bounds();
    const Region area =
        centre_area(bounds.boundary, 0.5 * settled.tool.diameter_mm, bounds.rule, bounds.exceptions);
    for (SlopeSeam& seam : asked) {
      seam.areas = slope_areas(surface, area, {seam.angle_deg, 0}, stage);
      seams.push_back(std::move(seam));
    }
  }
  return seams;
}

}  // namespace yardpass
