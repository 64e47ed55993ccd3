#include "yardpass/run/slope_seams.h"

#include "setup/guided_parts.h"
#include "setup/stage.h"
#include "yardpass/contact/tool_surface.h"

namespace yardpass {

namespace {

std::optional<SlopeSeam> asked_for(const Settled& settled) {
  const SteepnessLimits& limits = settled.values.limits.steepness;
  SlopeSeam seam{settled.number, settled.name, 0, {}, {}};
  if (limits.steep_from_deg)
    seam.angle_deg = *limits.steep_from_deg, seam.only = Steepness::steep;
  else if (limits.shallow_to_deg)
    seam.angle_deg = *limits.shallow_to_deg, seam.only = Steepness::shallow;
  else if (settled.usual.split_deg)
    seam.angle_deg = *settled.usual.split_deg;
  else
    return std::nullopt;
  return settled.usual.at_levels ? std::nullopt : std::optional(seam);
}

}  // namespace

std::vector<SlopeSeam> slope_seams(const JobSetup& setup, const StageProgress& progress) {
  std::vector<SlopeSeam> seams;
  const std::vector<Settled> operations = settle(setup);
  std::vector<Guides> guides;
  for (const Settled& settled : operations)
    if (asked_for(settled)) guides.push_back(settled.values.guides);
  detail::GuidedParts parts(setup, std::move(guides));
  for (const Settled& settled : operations) {
    auto seam = asked_for(settled);
    if (!seam) continue;
    const Progress stage = detail::stage(progress, "steep and shallow, " + settled.name);
    const detail::GuidedPart guided = parts.next({});
    const ToolSurface surface(guided.part, settled.tool, guided.options(settled.values.allowance),
                              setup.job.machine.controller.decimals);
    const Bounds bounds = settled.bounds();
    const Region area =
        centre_area(bounds.boundary, 0.5 * settled.tool.diameter_mm, bounds.rule, bounds.exceptions);
    seam->areas = slope_areas(surface, area, {seam->angle_deg, 0}, stage);
    seams.push_back(std::move(*seam));
  }
  return seams;
}

}  // namespace yardpass
