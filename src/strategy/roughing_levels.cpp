#include "strategy/roughing_levels.h"

#include <algorithm>
#include <cmath>

#include "geom/parallel_for.h"
#include "plan/cell_outline.h"
#include "yardpass/contact/assembly.h"

namespace yardpass::detail {

namespace {

/// From the highest down.
std::vector<RoughingLevel> regular_and_flats(const Site& site, const LevelAreas& areas, double top,
                                             double stepdown, double lowest) {
  constexpr double kSame = 1e-3;  // mm
  const TipSurface& surface = site.surface;
  const double radius = surface.cutter().radius();
  std::vector<RoughingLevel> levels;
  for (int k = 1; top - k * stepdown > lowest + 1e-6; ++k) levels.push_back({top - k * stepdown});
  if (site.bottom_z > lowest - 1e-6 && site.bottom_z < top - 1e-6) levels.push_back({site.bottom_z});
  const std::size_t regular = levels.size();
  for (const Flat& flat : flats(surface.part().mesh(), radius * radius))
    for (const double allowance : surface.floor_allowances_mm()) {
      const double z = flat.z_mm + allowance;
      if (!(z < top - 1e-6 && z > lowest - 1e-6 && areas.rests_at(z, site.area))) continue;
      // A flat counts exactly, a level that is nearly there is moved onto it.
      const auto near = [&](const RoughingLevel& level) { return std::abs(level.z - z) < kSame; };
      const auto known = std::find_if(levels.begin(), levels.end(), near);
      if (known == levels.end())
        levels.push_back({.z = z, .only_flats = true});
      else if (static_cast<std::size_t>(known - levels.begin()) < regular)
        known->z = std::max(known->z, z);
    }
  std::erase_if(levels, [&](const RoughingLevel& level) { return level.z < site.bottom_z; });
  std::sort(levels.begin(), levels.end(),
            [](const RoughingLevel& one, const RoughingLevel& other) { return one.z > other.z; });
  levels.erase(std::unique(levels.begin(), levels.end(),
                           [&](const RoughingLevel& one, const RoughingLevel& other) {
                             return one.z - other.z < kSame;
                           }),
               levels.end());
  return levels;
}

}  // namespace

std::vector<RoughingLevel> roughing_levels(const Site& site, const LevelAreas& areas, double top,
                                           const RoughingOptions& options, double lowest) {
  std::vector<RoughingLevel> result;
  double upper = top, upper_regular = top;
  std::vector<RoughingLevel> regular = regular_and_flats(site, areas, top, options.stepdown_mm, lowest);
  for (RoughingLevel& level : regular) {
    level.upper_z = upper;
    upper = level.z;
    result.push_back(level);
    const bool last = &level == &regular.back();
    if (level.only_flats && !last) continue;
    const double height = upper_regular - level.z, most = options.step_on_slopes_mm;
    const int parts = most > 0 && site.before ? static_cast<int>(std::ceil(height / most - 1e-9)) : 1;
    for (int k = 1; k < parts; ++k)
      result.push_back({.z = level.z + k * height / parts, .upper_z = upper_regular, .between = true});
    upper_regular = level.z;
  }
  return result;
}

void draw(std::vector<RoughingLevel>& levels, const Site& site, const LevelAreas& areas,
          const Progress& progress) {
  parallel_for(levels.size(), progress, [&](std::size_t i) {
    levels[i].drawn = areas.at(levels[i].z);
    levels[i].drawn.area = intersect(levels[i].drawn.area, site.area);
  });
}

StandingMaterial::StandingMaterial(const Site& site) : stock_(*site.before) {
  const Tool& tool = site.surface.tool();
  const double radius = site.surface.cutter().radius(), cell = stock_.cell_mm();
  if (tool.flute_length_mm > 0) bodies_.push_back({tool.flute_length_mm, radius});
  for (const ToolSection& section : sections_above(tool)) {
    const double clearance = clearance_of(tool, section.part);
    // Material between the centres may stand nearer.
    if (section.profile.radius() > radius + 1e-6)
      bodies_.push_back(
          {section.above_tip_mm - clearance, section.profile.radius() + clearance + 0.75 * cell});
  }
}

bool StandingMaterial::matters(double lowest) const {
  return std::any_of(bodies_.begin(), bodies_.end(),
                     [&](const Body& body) { return lowest + body.above_tip_mm < stock_.block().max().z(); });
}

Region StandingMaterial::barred(double z) const {
  Region result;
  const auto heights = stock_.heights();
  for (const Body& body : bodies_) {
    Mask high(heights.size());
    bool any = false;
    for (std::size_t i = 0; i < high.size(); ++i)
      high[i] = heights[i] > z + body.above_tip_mm + 1e-6, any = any || high[i];
    if (any) result = unite(result, offset(outline_of_cells(stock_, high), body.reach_mm, 0.02));
  }
  return result;
}

void StandingMaterial::cut(std::span<const std::uint8_t> cells, double z) {
  const auto heights = stock_.heights();
  for (std::size_t i = 0; i < cells.size(); ++i)
    if (cells[i]) heights[i] = std::min(heights[i], z);
}

}  // namespace yardpass::detail
