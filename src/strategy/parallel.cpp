#include "yardpass/strategy/parallel.h"

#include <algorithm>
#include <cmath>

#include "geom/parallel_for.h"
#include "strategy/pattern_keys.h"
#include "strategy/rows.h"
#include "yardpass/contact/lift.h"
#include "yardpass/plan/spacing.h"
#include "yardpass/plan/touch_rule.h"

namespace yardpass {

void keys_of(ParallelOptions& options, const Tool& tool, Keys& keys) {
  detail::parallel_keys(options, tool, keys, SpacingHolds::in_plan);
}

void detail::parallel_keys(ParallelOptions& options, const Tool& tool, Keys& keys, SpacingHolds spacing) {
  const bool asked = detail::stepover_keys(
      options.stepover_mm, tool, keys,
      "between the passes; they are spread evenly, so they lie this far apart or a little less");
  constexpr std::pair<SpacingHolds, const char*> holds[] = {{SpacingHolds::in_plan, "plan"},
                                                            {SpacingHolds::on_surface, "surface"}};
  keys.choice(
      "spacing", options.spacing, holds, asked ? SpacingHolds::on_surface : spacing,
      asked || spacing == SpacingHolds::on_surface ? "so that the scallop height holds on slopes"
                                                   : "even passes",
      {.says = "where the stepover holds: in plan, or on the surface, with passes nearer to each other, "
               "down to a quarter, where it slopes across them or is hollow",
       .usual = spacing == SpacingHolds::on_surface
                    ? "`\"surface\"`"
                    : "`\"surface\"` with a scallop height, else `\"plan\"`"});
  keys.number("angle", options.angle_deg, {0, "along X"},
              {.says = "of the passes, counter-clockwise from X",
               .usual = "0",
               .unit = Unit::degrees,
               .low = -360,
               .high = 360});
  constexpr std::pair<PassDirection, const char*> directions[] = {
      {PassDirection::zigzag, "zigzag"},   {PassDirection::one_way, "one-way"},
      {PassDirection::climb, "climb"},     {PassDirection::conventional, "conventional"},
      {PassDirection::up_hill, "up-hill"}, {PassDirection::down_hill, "down-hill"}};
  keys.choice("direction", options.direction, directions, PassDirection::zigzag, "less air",
              {.says = "every second pass runs back; all run the same way, as the angle says, or with what "
                       "is still to be "
                       "cut on their right (climb) or left; or each piece of them only up or only down",
               .usual = "`\"zigzag\"`"});
  constexpr std::pair<FirstPass, const char*> sides[] = {{FirstPass::near_side, "near"},
                                                         {FirstPass::far_side, "far"},
                                                         {FirstPass::low_side, "low"},
                                                         {FirstPass::high_side, "high"}};
  keys.choice(
      "first_pass", options.first, sides, FirstPass::near_side, "as the angle counts",
      {.says = "at the side from which the angle counts (passes along X: low Y), at the far one, or where "
               "the surface is lower or higher",
       .usual = "`\"near\"`"});
  keys.flag("on_border", options.on_border, true,
            {.says = "the first and the last pass lie on the border itself; false: half a stepover inside it",
             .usual = "true"});
}

Usual usual_of(const ParallelOptions& options, const Tool& tool) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spacing_mm = options.stepover_mm;
  usual.angle_deg = options.angle_deg;
  usual.spread = options.spacing == SpacingHolds::in_plan ? Spread::in_plan : Spread::on_surface;
  if (options.direction == PassDirection::up_hill) usual.ways = HeightWays::up;
  if (options.direction == PassDirection::down_hill) usual.ways = HeightWays::down;
  if (leaves_scallops(tool)) usual.scallop_mm = scallop_height(tool, options.stepover_mm);
  return usual;
}

namespace {

/// How far a line goes on from a point, as an index: to its highest place before it falls by more than the
/// tolerance. Not `up`: the same downwards.
std::size_t end_of_rise(const Polyline3& line, std::size_t first, bool up, double tolerance) {
  std::size_t best = first;
  for (std::size_t i = first + 1; i < line.size(); ++i) {
    const double gain = up ? line[i].z() - line[best].z() : line[best].z() - line[i].z();
    if (gain >= 0) best = i;
    if (gain < -tolerance) return best;
  }
  return line.size() - 1;
}

/// Pieces that only rise (or fall) along their way, within the tolerance, in the order of the line.
std::vector<Polyline3> one_way_in_height(const Polyline3& line, bool up, double tolerance) {
  std::vector<Polyline3> pieces;
  for (std::size_t at = 0; at + 1 < line.size();) {
    const std::size_t rise = end_of_rise(line, at, true, tolerance),
                      fall = end_of_rise(line, at, false, tolerance);
    // At least a piece, whichever way it goes.
    const std::size_t end = std::max({rise, fall, at + 1});
    Polyline3 piece(line.begin() + static_cast<std::ptrdiff_t>(at),
                    line.begin() + static_cast<std::ptrdiff_t>(end) + 1);
    if ((rise >= fall) != up) std::reverse(piece.begin(), piece.end());
    pieces.push_back(std::move(piece));
    at = end;
  }
  return pieces;
}

struct Pass {
  Polyline2 line;  // as it is cut
  std::int32_t row;
  std::vector<Polyline3> lifted = {};
};

double mean_height(const std::vector<Pass>& passes, std::int32_t row) {
  double sum = 0;
  std::int64_t count = 0;
  for (const Pass& pass : passes)
    for (const Polyline3& line : pass.lifted)
      for (const Vec3& p : line)
        if (pass.row == row) sum += p.z(), ++count;
  return count > 0 ? sum / static_cast<double>(count) : 0;
}

/// Whether the passes are to be cut in the other order.
bool from_far_side(FirstPass first, const std::vector<Pass>& passes) {
  if (passes.empty() || first == FirstPass::near_side) return false;
  if (first == FirstPass::far_side) return true;
  const double near = mean_height(passes, passes.front().row), far = mean_height(passes, passes.back().row);
  return first == FirstPass::low_side ? far < near : far > near;
}

/// Rows over the area, or over what will be touched of the part.
detail::Rows rows_over(const ParallelOptions& options, const Site& site) {
  detail::Rows rows(site.area, options.angle_deg, site.tolerance_mm);
  if (!site.touched) return rows;
  const TouchRule rule(*site.touched, {}, site.tolerance_mm);
  const double step = std::min(0.25, 0.1 * site.surface.tool().diameter_mm);
  const double shortest = 5 * site.tolerance_mm;  // less is a scrap
  rows.draw_in(options.stepover_mm, [&](const detail::Row& row) {
    detail::Rows::Counts counts;
    for (const Polyline2& piece : row.pieces) {
      const Polyline3 line{with_z(piece.front(), 0), with_z(piece.back(), 0)};
      const PiecesThatBelong found = pieces_that_belong(site.surface, line, rule, step);
      counts.whole = counts.whole && found.whole;
      for (const Polyline3& kept : found.pieces)
        counts.something = counts.something || length(std::span<const Vec3>(kept)) > shortest;
    }
    return counts;
  });
  return rows;
}

/// How much nearer to a pass its neighbours must lie for its slopes and hollows, as a share of the stepover.
double share_beside(const detail::Row& row, const ParallelOptions& options, const Site& site) {
  constexpr double kLeast = 0.25, kSteepest = 3.73,
                   kMostHollow = 15;  // 75 degrees; times the tip's curvature
  const Vec2 across = detail::frame_of(options.angle_deg).across;
  const double s = options.stepover_mm, side = 0.5 * s;
  const double tip = leaves_scallops(site.surface.tool()) ? tip_radius(site.surface.tool()) : 0;
  std::vector<Vec2> places;
  for (const Polyline2& piece : row.pieces) {
    const double size = (piece.back() - piece.front()).norm();
    const int count = std::max(1, static_cast<int>(std::ceil(size / std::max(s, 0.2))));
    for (int k = 0; k <= count; ++k) {
      const Vec2 at = piece.front() + (piece.back() - piece.front()) * (static_cast<double>(k) / count);
      places.insert(places.end(), {at - side * across, at, at + side * across});
    }
  }
  const std::vector<double> z = heights(site.surface, places);
  std::vector<double> shares;
  for (std::size_t i = 0; i + 2 < z.size(); i += 3) {
    if (z[i] == kNothingBelow || z[i + 1] == kNothingBelow || z[i + 2] == kNothingBelow) continue;
    const double rise = std::max(std::abs(z[i + 1] - z[i]), std::abs(z[i + 2] - z[i + 1])) / side;
    if (rise > kSteepest) continue;
    const double mean = (z[i + 2] - z[i]) / (2 * side), length = std::hypot(1, mean),
                 bend = (z[i + 2] - 2 * z[i + 1] + z[i]) / (side * side) / (length * length * length);
    const double hollow = std::clamp(tip * bend, 0.0, kMostHollow);
    shares.push_back(1 / (std::hypot(1, rise) * std::sqrt(1 + hollow)));
  }
  if (shares.empty()) return 1;
  // Single places, corners of facets, do not count.
  const auto few = shares.begin() + static_cast<std::ptrdiff_t>(shares.size() / 1000);
  std::nth_element(shares.begin(), few, shares.end());
  return std::max(kLeast, *few);
}

/// From the first place to the last, each as far from the one before as the surface between them allows.
std::vector<double> spread_on_surface(const detail::Rows& rows, const ParallelOptions& options,
                                      const Site& site) {
  std::vector<double> places;
  if (!(rows.high() >= rows.low())) return places;
  const auto step = [&](double place) {
    return options.stepover_mm * share_beside(rows.at(place), options, site);
  };
  double place = rows.low(), here = step(place);
  if (!options.on_border) place = std::min(place + 0.5 * here, rows.high());
  const double last = options.on_border ? rows.high() : rows.high() - 0.5 * step(rows.high());
  places.push_back(place);
  while (place < last) {
    // The next one has slopes of its own on this side.
    const double ahead = step(std::min(place + here, last));
    place = std::min(place + std::min(here, ahead), last);
    here = ahead;
    places.push_back(place);
  }
  // No pass much nearer to the last one than it need be.
  const std::size_t n = places.size();
  if (n > 2 && places[n - 1] - places[n - 2] < 0.5 * (places[n - 2] - places[n - 3]))
    places[n - 2] = 0.5 * (places[n - 1] + places[n - 3]);
  return places;
}

std::vector<Pass> straight_passes(const ParallelOptions& options, const Site& site) {
  const detail::Rows rows = rows_over(options, site);
  std::vector<Pass> passes;
  std::int32_t number = 0;
  const bool in_plan = options.spacing == SpacingHolds::in_plan;
  for (const double place : in_plan ? rows.spread(options.stepover_mm, options.on_border)
                                    : spread_on_surface(rows, options, site)) {
    ++number;
    for (Polyline2& piece : rows.near(place).pieces) passes.push_back({std::move(piece), number});
  }
  return passes;
}

/// Each the way it is to be cut. As the rows count, what is still to be cut lies on the left; `far`: they are
/// cut in the other order.
void turn(std::vector<Pass>& passes, PassDirection direction, bool far) {
  if (far) {
    std::stable_sort(passes.begin(), passes.end(),
                     [](const Pass& a, const Pass& b) { return a.row > b.row; });
    const std::int32_t last = passes.empty() ? 0 : passes.front().row;
    for (Pass& pass : passes) pass.row = last + 1 - pass.row;
  }
  for (Pass& pass : passes) {
    const bool back = (direction == PassDirection::zigzag && pass.row % 2 == 0) ||
                      direction == (far ? PassDirection::conventional : PassDirection::climb);
    if (!back) continue;
    std::reverse(pass.lifted.begin(), pass.lifted.end());
    for (Polyline3& line : pass.lifted) std::reverse(line.begin(), line.end());
  }
}

}  // namespace

CutPlan cuts_of(const ParallelOptions& options, const Site& site, const Progress& progress) {
  require(options.stepover_mm > 0, "stepover_mm", "must be above 0");
  std::vector<Pass> passes = straight_passes(options, site);
  // What lies below the bottom is left out anyway: beside the part it is not worth following.
  const double floor = site.bottom_z > kNothingBelow ? site.bottom_z - 2 * site.tolerance_mm : kNothingBelow;
  detail::parallel_for(passes.size(), progress, [&](std::size_t i) {
    passes[i].lifted =
        lift(site.surface, passes[i].line, {.tolerance_mm = site.tolerance_mm, .floor_z = floor});
  });
  turn(passes, options.direction, from_far_side(options.first, passes));
  const bool up = options.direction == PassDirection::up_hill,
             down = options.direction == PassDirection::down_hill;
  std::vector<Cut> cuts;
  for (const Pass& pass : passes)
    for (const Polyline3& line : pass.lifted)
      for (Polyline3& piece : between_heights(line, site.bottom_z, site.top_z)) {
        if (!up && !down)
          cuts.push_back({.points = std::move(piece), .pass = pass.row});
        else
          for (Polyline3& part : one_way_in_height(piece, up, site.tolerance_mm))
            cuts.push_back({.points = std::move(part), .pass = pass.row});
      }
  CutPlan plan = plan_of(std::move(cuts));
  // What is still to be cut stays on its side only pass by pass.
  const bool sides =
      options.direction == PassDirection::climb || options.direction == PassDirection::conventional;
  for (CutGroup& group : plan.groups) {
    group.keep_order = sides;
    group.keep_direction = options.direction != PassDirection::zigzag;
  }
  return plan;
}

}  // namespace yardpass
