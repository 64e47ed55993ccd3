#include "strategy/roughing_levels.h"

#include <algorithm>
#include <cmath>

#include "geom/parallel_for.h"
#include "plan/cell_outline.h"
#include "plan/distance_map.h"
#include "stock/cells_inside.h"
#include "yardpass/contact/assembly.h"
#include "yardpass/plan/cut_area.h"

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

/// What of a tool is wider than its cutter.
struct WideBody {
  double above_tip_mm, radius_mm;
};

std::vector<WideBody> wide_bodies(const Tool& tool, double cutter_radius) {
  std::vector<WideBody> bodies;
  for (const ToolSection& section : sections_above(tool)) {
    const double clearance = clearance_of(tool, section.part);
    if (section.profile.radius() > cutter_radius + 1e-6)
      bodies.push_back({section.above_tip_mm - clearance, section.profile.radius() + clearance});
  }
  return bodies;
}

/// Follows the material from level to level, for what of the tool is wider than its cutter.
class StandingMaterial {
 public:
  StandingMaterial(const Site& site)
      : stock_(*site.before),
        cutter_(site.surface.cutter()),
        bodies_(wide_bodies(site.surface.tool(), cutter_.radius())) {}

  /// Where a body would stand in material, with the tip at a height.
  [[nodiscard]] Region barred(double z) const {
    Region result;
    const auto heights = stock_.heights();
    for (const WideBody& body : bodies_) {
      Mask high(heights.size());
      for (std::size_t i = 0; i < high.size(); ++i) high[i] = heights[i] > z + body.above_tip_mm;
      if (std::none_of(high.begin(), high.end(), [](std::uint8_t one) { return one; })) continue;
      // Material between the centres may stand nearer.
      const double reach = body.radius_mm + 0.75 * stock_.cell_mm();
      result = unite(result, offset(outline_of_cells(stock_, high), reach, 0.02));
    }
    return result;
  }
  void cut(const Region& axis, double z) {
    Mask under(stock_.heights().size(), 0);
    for_cells_inside(stock_, axis, [&](int column, int row) { under[stock_.index(column, row)] = 1; });
    const std::vector<float> squares = squared_distances(stock_.columns(), stock_.rows(), under);
    const auto heights = stock_.heights();
    for (std::size_t i = 0; i < heights.size(); ++i) {
      const double far = stock_.cell_mm() * (std::sqrt(static_cast<double>(squares[i])) + 0.75);
      if (far <= cutter_.radius()) heights[i] = std::min(heights[i], z + cutter_.height(far));
    }
  }
  /// Anything of the tool comes down to the top of the material on its way to a height.
  [[nodiscard]] bool matters(double lowest) const {
    return std::any_of(bodies_.begin(), bodies_.end(), [&](const WideBody& body) {
      return lowest + body.above_tip_mm < stock_.block().max().z();
    });
  }

 private:
  Stock stock_;
  const Profile& cutter_;
  std::vector<WideBody> bodies_;
};

}  // namespace

std::vector<RoughingLevel> roughing_levels(const Site& site, const LevelAreas& areas, double top,
                                           const RoughingOptions& options, double lowest) {
  std::vector<RoughingLevel> result;
  double upper = top, upper_regular = top;
  for (RoughingLevel& level : regular_and_flats(site, areas, top, options.stepdown_mm, lowest)) {
    level.upper_z = upper;
    upper = level.z;
    result.push_back(level);
    if (level.only_flats) continue;
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
  if (!site.before || levels.empty()) return;
  StandingMaterial material(site);
  double lowest = levels.front().z;
  for (const RoughingLevel& level : levels) lowest = std::min(lowest, level.z);
  if (!material.matters(lowest)) return;
  for (RoughingLevel& level : levels) {
    if (const Region barred = material.barred(level.z); !barred.empty())
      level.drawn.area = subtract(level.drawn.area, barred);
    material.cut(level.drawn.area, level.z);
  }
}

}  // namespace yardpass::detail
