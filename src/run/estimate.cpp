#include "yardpass/run/estimate.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include <fmt/format.h>

#include "run/coarse_levels.h"
#include "run/estimate_sums.h"
#include "run/ground_samples.h"
#include "setup/guided_parts.h"
#include "yardpass/plan/valleys.h"
#include "yardpass/run/curve_roles.h"

namespace yardpass {

namespace {

using detail::GroundSamples;

constexpr double kPi = std::numbers::pi;

/// Area of one kind of ground, and of it what walls add.
struct Ground {
  double plan_mm2 = 0;
  double along_mm2 = 0;    ///< stretched along rows at an angle
  double surface_mm2 = 0;  ///< stretched every way
  double rise_mm2 = 0;     ///< what contours go round, by height: their length times the level distance
  void add(double cell_mm2, const Vec2& slope, const Vec2& way) {
    const double along = slope.dot(way);
    plan_mm2 += cell_mm2;
    along_mm2 += cell_mm2 * std::sqrt(1 + along * along);
    // Passes that keep their distance on the surface run up no upright wall.
    const double steep = std::min(slope.norm(), 12.0);
    surface_mm2 += cell_mm2 * std::sqrt(1 + steep * steep);
    rise_mm2 += cell_mm2 * slope.norm();
  }
};

/// What a line goes round, whichever way it runs.
Region enclosed(Polyline2 line) {
  if (signed_area(line) < 0) std::reverse(line.begin(), line.end());
  return wound_around({std::move(line)}, false);
}

class Foretelling {
 public:
  Foretelling(const Settled& settled, const ToolSurface& surface, detail::CoarseLevels& levels,
              const std::vector<CurveRole>& roles, bool solid)
      : settled_(settled),
        usual_(settled.usual),
        surface_(surface),
        levels_(levels),
        roles_(roles),
        solid_(solid) {}

  OperationEstimate made() {
    OperationEstimate result;
    result.number = settled_.number, result.name = settled_.name;
    switch (usual_.spread) {
      case Spread::at_levels:
      case Spread::on_flats:
        clearing(result);
        break;
      case Spread::along_lines:
        lines(result);
        break;
      case Spread::beside_lines:
        beside_lines(result);
        break;
      default:
        following(result);
    }
    if (settled_.values.smooth) result.points *= kSmoothed;
    const double layers = settled_.values.layers;
    result.passes *= layers, result.length_mm *= layers, result.points *= layers;
    return result;
  }

 private:
  /// Where passes lie: inside the boundary; of curves that passes run between, between them.
  [[nodiscard]] Region area() const {
    const LimitRule& rule = settled_.values.limits.rule;
    Region area = settled_.works_in;
    area = centre_area(area, 0.5 * settled_.tool.diameter_mm, rule, {});
    std::vector<const CurveRole*> sides;
    for (const CurveRole& role : roles_)
      if (role.runs && role.line.size() > 1) sides.push_back(&role);
    if (sides.size() < 2) return area;
    const CurveRole &first = *sides.front(), &last = *sides.back();
    if (first.closed && last.closed) {
      const Region one = enclosed(first.line), other = enclosed(last.line);
      return intersect(area, unite(subtract(one, other), subtract(other, one)));
    }
    Polyline2 round = first.line;
    round.insert(round.end(), last.line.rbegin(), last.line.rend());
    const Region there = enclosed(round);
    Polyline2 crossed = first.line;
    crossed.insert(crossed.end(), last.line.begin(), last.line.end());
    const Region turned = enclosed(crossed);
    return intersect(area, there.area_mm2() > turned.area_mm2() ? there : turned);
  }

  [[nodiscard]] double density(const GroundSamples& ground, std::optional<double> angle, bool level) const {
    return detail::points_per_mm(surface_, ground, settled_.values.tolerance_mm, angle, level);
  }

  [[nodiscard]] bool counts(double tip_z, double slope_deg) const {
    const Limits& limits = settled_.values.limits;
    const SteepnessLimits& sides = limits.steepness;
    if (tip_z > limits.top_z.value_or(1e300) || tip_z < limits.bottom_z.value_or(-1e300)) return false;
    return slope_deg >= sides.steep_from_deg.value_or(0) && slope_deg <= sides.shallow_to_deg.value_or(90);
  }

  /// The ground that passes follow, sorted by what follows it.
  struct SortedGround {
    double split_deg = 91;  ///< contours follow what is steeper
    Ground steep, shallow;
    double lowest = 1e300, highest = -1e300;  ///< of what is steep
    double corners_mm = 0;
    [[nodiscard]] double height_mm() const { return std::max(0.0, highest - lowest); }
  };

  [[nodiscard]] GroundSamples samples(bool walls) const {
    const LimitRule& rule = settled_.values.limits.rule;
    const Region touched =
        rule.margin_mm == 0 ? settled_.works_in : offset(settled_.works_in, rule.margin_mm);
    const double radius = 0.5 * settled_.tool.diameter_mm;
    return {surface_, walls ? offset(area(), 0.1 * radius + 0.3) : area(),
            rule.by == LimitBy::contact ? &touched : nullptr,
            walls ? std::optional(settled_.bottom_z) : std::nullopt};
  }

  [[nodiscard]] SortedGround sorted(const GroundSamples& ground, bool walls, const Vec2& way) const {
    SortedGround result;
    if (usual_.spread == Spread::by_slope) result.split_deg = usual_.split_deg.value_or(45);
    if (usual_.spread == Spread::on_walls) result.split_deg = usual_.least_slope_deg;
    const double cell2 = ground.cell_mm() * ground.cell_mm();
    for (int row = 0; row < ground.rows(); ++row)
      for (int column = 0; column < ground.columns(); ++column) {
        if (!ground.inside(column, row)) continue;
        const Vec2 slope = ground.slope(column, row);
        const double degrees = std::atan(slope.norm()) * 180 / kPi, z = ground.height(column, row);
        const bool steep = degrees >= result.split_deg;
        if (!counts(z, degrees) || (walls && z <= settled_.bottom_z && !steep)) continue;
        (steep ? result.steep : result.shallow).add(cell2, slope, way);
        if (steep) result.lowest = std::min(result.lowest, z), result.highest = std::max(result.highest, z);
        result.corners_mm += is_kink(ground, column, row) ? ground.cell_mm() : 0;
      }
    return result;
  }

  void following(OperationEstimate& result) {
    // Walls all round a solid part stand on its outline, where the tip falls to the bottom.
    const bool walls = usual_.along_walls && settled_.values.limits.rule.by == LimitBy::contact && solid_;
    const GroundSamples ground = samples(walls);
    const double angle = usual_.angle_deg.value_or(usual_.rows_angle_deg) * kPi / 180;
    const SortedGround found = sorted(ground, walls, Vec2(std::cos(angle), std::sin(angle)));
    const double spacing = std::max(usual_.spacing_mm, 1e-12);
    switch (usual_.spread) {
      case Spread::in_plan:
        return add(result, ground.width_across(angle) / spacing, found.shallow.along_mm2 / spacing,
                   density(ground, angle, false));
      case Spread::on_walls:
        return contours(result, ground, found);
      case Spread::by_slope:
        contours(result, ground, found);
        return straight_rows(result, ground, found, angle);
      case Spread::in_corners:
        return usual_.touches_twice ? corners(result, ground) : rests(result, ground, found);
      default:
        if (usual_.angle_deg) return straight_rows(result, ground, found, angle);
        add(result, rows_on_surface(ground, found.shallow) / spacing, found.shallow.surface_mm2 / spacing,
            density(ground, {}, false) + bends_per_mm());
    }
  }

  /// Blocks of a smoothed operation for each one without, as measured on the demo parts: 0.16 to 0.25 of
  /// passes, a tenth or less of levels round even walls.
  static constexpr double kSmoothed = 0.18;

  // Points a millimetre, as measured on the demo parts: lines in corners bend with every facet that they
  // touch.
  static constexpr double kInCorners = 3.2, kInRests = 6;

  /// Corners that a round end leaves are found as in planning, for that is quick.
  void corners(OperationEstimate& result, const GroundSamples& ground) const {
    if (round_end_mm(surface_.cutter()) <= 0 || !(usual_.corner_left_mm > 0)) return;
    double length_mm = 0, lines = 0;
    for (const Valley& valley : valleys(surface_, area(), {.left_mm = usual_.corner_left_mm}).lines)
      length_mm += valley.length_mm, ++lines;
    add(result, lines * usual_.rows_a_corner, length_mm * usual_.rows_a_corner,
        std::max(density(ground, {}, false) + bends_per_mm(), kInCorners));
  }

  /// What an earlier tool left lies about its creases: a guess.
  void rests(OperationEstimate& result, const GroundSamples& ground, const SortedGround& found) const {
    const double beside = settled_.tool.diameter_mm / std::max(usual_.spacing_mm, 1e-12);
    add(result, beside, found.corners_mm * beside,
        std::max(density(ground, {}, false) + bends_per_mm(), kInRests));
  }

  /// Points that lines need which bend in plan too, besides those for their heights.
  [[nodiscard]] double bends_per_mm() const { return 0.055 / std::sqrt(settled_.values.tolerance_mm); }

  void contours(OperationEstimate& result, const GroundSamples& ground, const SortedGround& found) const {
    const double spacing =
        usual_.wall_spacing_mm > 0 ? usual_.wall_spacing_mm : std::max(usual_.spacing_mm, 1e-12);
    // Levels by scallop have passes in between where the wall is less steep.
    const double area =
        usual_.tells_spacing ? found.steep.rise_mm2 : std::hypot(found.steep.rise_mm2, found.steep.plan_mm2);
    add(result, found.height_mm() / spacing, area / spacing, density(ground, {}, true));
  }

  void straight_rows(OperationEstimate& result, const GroundSamples& ground, const SortedGround& found,
                     double angle) const {
    const double rows = straight_rows_on_surface(ground, angle, std::min(83.0, found.split_deg)),
                 spacing = std::max(usual_.spacing_mm, 1e-12), wide = ground.width_across(angle);
    if (rows > 0 && wide > 0)
      add(result, rows / spacing, found.shallow.along_mm2 / spacing * rows / wide,
          density(ground, angle, false));
  }

  /// How far it is across straight passes on the surface: each lies beside the one before by where it slopes
  /// most across them, up to a slope.
  static double straight_rows_on_surface(const GroundSamples& ground, double angle, double up_to_deg) {
    const Vec2 across(-std::sin(angle), std::cos(angle));
    std::map<std::int64_t, double> steepest;
    for (int row = 0; row < ground.rows(); ++row)
      for (int column = 0; column < ground.columns(); ++column) {
        if (!ground.inside(column, row)) continue;
        const double slope = std::abs(ground.slope(column, row).dot(across));
        if (slope > std::tan(up_to_deg * kPi / 180)) continue;
        double& most = steepest[std::llround(ground.at(column, row).dot(across) / ground.cell_mm())];
        most = std::max(most, slope);
      }
    double sum = 0;
    // In hollows ridges ask for more than slopes do.
    for (const auto& [row, most] : steepest) sum += 1.4 * ground.cell_mm() * std::sqrt(1 + most * most);
    return sum;
  }

  /// How far it is across the passes: between two curves their mean distance, else from the outline to the
  /// middle.
  [[nodiscard]] double rows_on_surface(const GroundSamples& ground, const Ground& all) const {
    std::vector<double> lengths;
    for (const CurveRole& role : roles_)
      if (role.runs) lengths.push_back(length(role));
    if (lengths.size() >= 2) {
      double mean = 0;
      for (const double one : lengths) mean += one / static_cast<double>(lengths.size());
      return mean > 0 ? all.surface_mm2 / mean : 0;
    }
    return ground.depth_mm() * std::sqrt(all.surface_mm2 / std::max(1e-12, all.plan_mm2));
  }

  /// A crease of the tip surface, seen from above: where it touches the part on two sides.
  static bool is_kink(const GroundSamples& ground, int column, int row) {
    for (const auto& [dx, dy] : {std::pair(1, 0), std::pair(0, 1)}) {
      if (!ground.inside(column - dx, row - dy) || !ground.inside(column + dx, row + dy)) continue;
      const double here = ground.height(column, row),
                   left = std::atan((here - ground.height(column - dx, row - dy)) / ground.cell_mm()),
                   right = std::atan((ground.height(column + dx, row + dy) - here) / ground.cell_mm());
      if (right - left > 20 * kPi / 180) return true;
    }
    return false;
  }

  static void add(OperationEstimate& result, double passes, double length_mm, double per_mm) {
    result.passes += passes;
    result.length_mm += length_mm;
    result.points += length_mm * per_mm + passes;
  }

  void clearing(OperationEstimate& result) {
    const double spacing = std::max(usual_.spacing_mm, 1e-12);
    const bool flats = usual_.spread == Spread::on_flats;
    const auto cleared = flats
                             ? levels_.clear_flats(surface_, settled_.works_in, settled_.bottom_z)
                             : levels_.clear(surface_, settled_.works_in, std::max(usual_.stepdown_mm, 1e-12),
                                             settled_.values.limits.top_z, settled_.bottom_z);
    // Loops of an area are as long as the area by their distance, and half of its outline more. They turn
    // round corners and tools: half of them in arcs of the tool's radius.
    const double radius = 0.5 * settled_.tool.diameter_mm,
                 arcs = 1 / (2 * std::sqrt(2 * radius * settled_.values.tolerance_mm));
    add(result, flats ? 0.5 * std::sqrt(cleared.area_mm2) / spacing : cleared.levels,
        cleared.area_mm2 / spacing + 0.5 * cleared.outline_mm, 0.38 * arcs);
  }

  void lines(OperationEstimate& result) {
    // Lines that lie on the part itself are known by what is meant to be cut along them.
    if (roles_.empty()) return intended_lines(result);
    const GroundSamples ground(surface_, rectangle(plan(surface_.part().box())), nullptr, {}, 5000);
    double all = 0;
    for (const CurveRole& role : roles_) all += length(role);
    add(result, static_cast<double>(roles_.size()), all, density(ground, {}, false));
    for (const CurveRole& role : roles_) result.points += static_cast<double>(role.line.size());
  }

  void intended_lines(OperationEstimate& result) {
    double all = 0, ways = 0;
    for (const DepthLine& line :
         settled_.values.pattern->intended(settled_.tool, surface_.shared_part()).along) {
      all += length(std::span<const Vec2>(line.points)), ++ways;
      for (std::size_t i = 1; i + 1 < line.points.size(); ++i) {
        const Vec2 in = (line.points[i] - line.points[i - 1]).normalized(),
                   out = (line.points[i + 1] - line.points[i]).normalized();
        result.points += in.dot(out) < 1 - 1e-6;
      }
    }
    add(result, ways, all, 0);
  }

  void beside_lines(OperationEstimate& result) {
    const GroundSamples ground(surface_, settled_.works_in, nullptr, {}, 5000);
    double all = 0;
    for (const CurveRole& role : roles_) all += length(role);
    const double passes = all / std::max(usual_.spacing_mm, 1e-12);
    add(result, passes, passes * usual_.beside_mm, density(ground, {}, false));
  }

  const Settled& settled_;
  const Usual& usual_;
  const ToolSurface& surface_;
  detail::CoarseLevels& levels_;
  const std::vector<CurveRole>& roles_;
  bool solid_;
};

}  // namespace

Estimate estimate(const JobSetup& setup, const std::vector<Settled>& operations, const Progress& progress,
                  const EstimateOf& of) {
  Estimate result;
  const std::vector<OperationCurves> roles = curve_roles(setup, operations);
  const std::vector<const PlannedOperation*> known = detail::known_of(setup, operations, of.kept);
  const bool all_known = std::find(known.begin(), known.end(), nullptr) == known.end();
  // Later levels go by what earlier ones leave.
  const auto only_known = [&](std::size_t i) {
    return known[i] && (all_known || !operations[i].usual.at_levels);
  };
  std::vector<Guides> guides;
  for (std::size_t i = 0; i < operations.size(); ++i)
    if (!only_known(i)) guides.push_back(operations[i].values.guides);
  detail::GuidedParts parts(setup, std::move(guides));
  detail::CoarseLevels levels(*setup.stock);
  double touch_s = 0;
  for (std::size_t i = 0; i < operations.size(); ++i) {
    report(progress, static_cast<double>(i) / static_cast<double>(operations.size()));
    const Settled& settled = operations[i];
    result.operations.push_back({settled.number, settled.name});
    if (only_known(i) && touch_s > 0) continue;
    std::vector<CurveRole> own;
    for (const OperationCurves& curves : roles)
      if (curves.operation == settled.number) own = curves.roles;
    const detail::GuidedPart guided = only_known(i) ? detail::GuidedPart{setup.part} : parts.next({});
    try {
      const ToolSurface surface(guided.part, settled.tool, guided.options(settled.values.allowance),
                                posted_form(setup.job.machine.controller).step_mm);
      if (touch_s == 0) touch_s = detail::seconds_per_touch(surface, setup.part->box());
      if (only_known(i)) continue;
      result.operations.back() =
          Foretelling(settled, surface, levels, own, setup.summary.edges.open == 0).made();
    } catch (const Error&) {  // planning will say what is wrong, and of which operation
    }
  }
  for (std::size_t i = 0; i < operations.size(); ++i)
    if (known[i]) result.operations[i] = detail::as_planned(operations[i], *known[i]);
  detail::sum_up(setup, operations, touch_s, of.judged, result);
  report(progress, 1);
  return result;
}

}  // namespace yardpass
