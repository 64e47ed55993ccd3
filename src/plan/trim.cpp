#include "yardpass/plan/trim.h"

#include <algorithm>
#include <atomic>
#include <cmath>

#include "geom/bands.h"
#include "geom/parallel_for.h"
#include "plan/touch_walk.h"
#include "plan/within_tolerance.h"
#include "yardpass/plan/slope_areas.h"
#include "yardpass/plan/wall_rides.h"

namespace yardpass {

namespace {

/// A closed cut's line runs back to its start.
Polyline3 line_of(const Cut& cut) {
  Polyline3 line = cut.points;
  if (cut.closed && !line.empty()) line.push_back(line.front());
  return line;
}

/// Every cut becomes pieces of its line.
void split_all(CutPlan& plan, const std::function<std::vector<Polyline3>(const Polyline3&)>& split) {
  replace_cuts(plan, [&](const Cut& cut) { return pieces_of(cut, split); });
}

/// By the point of touch, passes are cut where it leaves the boundary; by slope, where the part is less steep
/// or steeper. Returns how many pieces are there only because of the tolerance.
std::int64_t keep_touching(CutPlan& plan, const std::optional<Region>& inside,
                           const std::optional<SlopeLimits>& slope, const ToolSurface& surface,
                           double tolerance) {
  if (!inside && !slope) return 0;
  const TouchedCuts touched(surface, TouchRule(inside, slope, tolerance), tolerance);
  std::atomic<std::int64_t> scraps = 0;
  replace_cuts(plan, [&](const Cut& cut) {
    TouchedCuts::Kept kept = touched.of(cut);
    scraps += kept.scraps;
    return std::move(kept.cuts);
  });
  return scraps;
}

/// Where the cutter meets more material than that, and a bit beyond.
std::vector<Polyline3> where_left(const Stock& stock, const Profile& cutter, double more_than,
                                  const Polyline3& line) {
  const double step = std::max(0.25, stock.cell_mm()), lap = 0.5 * cutter.radius();
  Polyline3 places;
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    // In space: beside steep walls a long way is short in plan.
    const int steps = std::max(1, static_cast<int>(std::ceil((line[i + 1] - line[i]).norm() / step)));
    for (int k = 0; k < steps; ++k) places.push_back(line[i] + (line[i + 1] - line[i]) * (1.0 * k / steps));
  }
  if (!line.empty()) places.push_back(line.back());
  std::vector<std::uint8_t> kept(places.size(), 0);
  for (std::size_t i = 0; i < places.size(); ++i) {
    if (stock.thickness_met(cutter, places[i]) <= more_than) continue;
    const auto reach = [&](std::size_t from, int way) {
      for (std::size_t k = from; k < places.size() && (places[k] - places[from]).norm() <= lap;
           k += static_cast<std::size_t>(way))
        kept[k] = 1;
    };
    reach(i, 1);
    reach(i, -1);
  }
  std::vector<Polyline3> pieces;
  for (std::size_t i = 0; i < places.size(); ++i) {
    if (!kept[i]) continue;
    if (i == 0 || !kept[i - 1]) pieces.emplace_back();
    pieces.back().push_back(places[i]);
  }
  std::erase_if(pieces, [](const Polyline3& piece) { return piece.size() < 2; });
  return pieces;
}

/// What stands inside an area; outside it nothing.
Stock only_inside(Stock stock, const Region& area) {
  const detail::Bands inside(area);
  detail::parallel_for(stock.rows(), [&](int row) {
    for (int column = 0; column < stock.columns(); ++column)
      if (!inside.contains(stock.centre(column, row))) stock.set_height(column, row, stock.bottom_z());
  });
  return stock;
}

void keep_where_left(CutPlan& plan, const std::optional<double>& more_than, const Stock* before,
                     const Region& area, const ToolSurface& surface) {
  if (!more_than || !before) return;
  const bool some = !plan.empty();
  const Stock stock = only_inside(*before, area);
  split_all(plan,
            [&](const Polyline3& line) { return where_left(stock, surface.cutter(), *more_than, line); });
  for (CutGroup& group : plan.groups)
    for (Cut& cut : group.cuts) cut.points = simplify(std::span<const Vec3>(cut.points), 1e-7);
  if (some && plan.empty())
    plan.notes.push_back(
        {"nothing", "nothing to cut: nowhere is more than {} left", {length_of(*more_than)}});
}

void keep_between_heights(CutPlan& plan, const Bounds& bounds) {
  const double highest = std::numeric_limits<double>::infinity();
  if (bounds.top_z == highest && bounds.bottom_z == -highest) return;
  split_all(plan,
            [&](const Polyline3& line) { return between_heights(line, bounds.bottom_z, bounds.top_z); });
}

/// Ends of open cuts that only go down beside an upright wall: there is nothing to finish that way.
void drop_falls(CutPlan& plan) {
  constexpr double kUpright = 115;  // rise over run: 89.5 degrees
  std::int64_t trimmed = 0;
  const auto falls = [](const Vec3& from, const Vec3& to) {
    return from.z() - to.z() > kUpright * (yardpass::plan(to) - yardpass::plan(from)).norm();
  };
  for (CutGroup& group : plan.groups) {
    for (Cut& cut : group.cuts) {
      if (cut.closed || cut.points.size() < 2) continue;
      std::size_t first = 0, last = cut.points.size() - 1;
      while (last > 0 && falls(cut.points[last - 1], cut.points[last])) --last;
      while (first < last && falls(cut.points[first + 1], cut.points[first])) ++first;
      trimmed += (first > 0) + (last + 1 < cut.points.size());
      cut.points = Polyline3(cut.points.begin() + static_cast<std::ptrdiff_t>(first),
                             cut.points.begin() + static_cast<std::ptrdiff_t>(last) + 1);
    }
    std::erase_if(group.cuts, [](const Cut& cut) { return cut.points.size() < 2; });
  }
  if (trimmed > 0)
    plan.notes.push_back({"falls",
                          trimmed == 1 ? "{} end of a pass is left out: it only goes down an upright wall"
                                       : "{} ends of passes are left out: they only go down an upright wall",
                          {count_of(trimmed)}});
}

/// Only the steep or the shallow part of an area.
void keep_to_side(const SteepnessLimits& limits, const ToolSurface& surface, Region& area) {
  const double overlap = limits.overlap_mm.value_or(0);
  if (limits.steep_from_deg) area = slope_areas(surface, area, {*limits.steep_from_deg, overlap}).steep;
  if (limits.shallow_to_deg) area = slope_areas(surface, area, {*limits.shallow_to_deg, overlap}).shallow;
}

/// How much smaller the area must be that none of the rides begins, in whole hundredths.
double shrink_for(std::span<const WallRide> rides) {
  constexpr double kStep = 0.01, kSure = 0.005;
  double inside = 0;
  for (const WallRide& ride : rides) inside = std::max(inside, ride.inside_mm);
  return kStep * std::ceil((inside + kSure) / kStep);
}

Bounds with_less_margin(const Bounds& bounds, double by) {
  Bounds result = bounds;
  result.rule.margin_mm -= by;
  for (LimitException& exception : result.exceptions) exception.rule.margin_mm -= by;
  return result;
}

struct Rides {
  std::vector<WallRide> up, down;
  std::int64_t passes = 0;
};

Rides rides_of(const CutPlan& plan, const Bounds& bounds, const Region& area, const ToolSurface& surface) {
  Rides result;
  if (bounds.rule.by == LimitBy::contact) return result;
  std::vector<Polyline3> lines;
  for (const CutGroup& group : plan.groups)
    for (const Cut& cut : group.cuts)
      if (cut.part == Side::below) lines.push_back(line_of(cut));  // along a wall nothing is ridden up
  result.passes = static_cast<std::int64_t>(lines.size());
  Region simple;
  for (const Polyline2& loop : bounds.boundary.loops) simple.loops.push_back(simplify_loop(loop, 0.0005));
  const double step = std::max(0.05, 0.05 * surface.tool().diameter_mm);
  for (const WallRide& ride : wall_rides(surface, lines, simple, area, {.step_mm = step}))
    (ride.height_mm > 0 ? result.up : result.down).push_back(ride);
  if (!bounds.drawn) result.up.clear();
  return result;
}

/// "a margin of -3.01"
std::string margin_words(const Bounds& bounds) {
  return bounds.exceptions.empty() ? "a margin of {}" : "every margin smaller by {}";
}
Quantity margin_told(const Bounds& bounds, double shrink) {
  return length_of(bounds.exceptions.empty() ? bounds.rule.margin_mm - shrink : shrink);
}

void tell(const Rides& rides, const Bounds& bounds, double avoided_by, std::vector<Note>& notes) {
  const auto add = [&](const std::vector<WallRide>& of, const std::string& what, const std::string& stops,
                       double shrink) {
    if (of.empty()) return;
    const Vec3& at = of.front().at;
    notes.push_back({"rides",
                     "{} of {} passes " + what + " {} at {}; " + stops,
                     {count_of(static_cast<std::int64_t>(of.size())), count_of(rides.passes),
                      length_of(std::abs(of.front().height_mm)), place_at(at.x(), at.y(), at.z()),
                      margin_told(bounds, shrink)}});
  };
  const std::string margin = margin_words(bounds);
  if (avoided_by > 0)
    add(rides.up, "ride up a wall outside the boundary, the highest",
        "avoided by " + margin + ", as asked for", avoided_by);
  else
    add(rides.up, "ride up a wall outside the boundary, the highest",
        margin + " would stop it (or ride_up = \"avoid\")", shrink_for(rides.up));
  add(rides.down, "go down beside an outer edge of the boundary, the deepest",
      margin + " would stop it" + (bounds.exceptions.empty() ? " (or limit = \"contact\")" : ""),
      shrink_for(rides.down));
}

/// Bits at a boundary that are there only because of the tolerance: short, or however long in places that
/// vanish from the area when it is drawn in by as much.
void drop_scraps(const BoundedCuts& bounded, bool at_levels, double tolerance, std::int64_t dropped,
                 CutPlan& plan) {
  const double shortest = 5 * tolerance;
  const Region stays = at_levels ? Region{} : detail::what_stays_if_drawn_in(bounded.area, tolerance);
  const auto is_scrap = [&](const Cut& cut) {
    // Short or not, a helix clears the ground that what follows counts on.
    if (cut.link || cut.entry == Entry::helix) return false;
    const Polyline3 line = line_of(cut);
    if (length(std::span<const Vec3>(line)) < shortest) return true;
    if (at_levels) return false;
    for (std::size_t i = 0; i + 1 < line.size(); ++i)
      if (!inside(stays, yardpass::plan(line[i]), yardpass::plan(line[i + 1])).empty()) return false;
    return true;
  };
  for (CutGroup& group : plan.groups)
    dropped += static_cast<std::int64_t>(std::erase_if(group.cuts, is_scrap));
  if (dropped > 0)
    plan.notes.push_back({"scraps",
                          dropped == 1
                              ? "1 scrap dropped: it is there only because of the tolerance, {}"
                              : "{} scraps dropped: they are there only because of the tolerance, {}",
                          dropped == 1 ? std::vector{length_of(tolerance)}
                                       : std::vector{count_of(dropped), length_of(tolerance)}});
}

}  // namespace

std::vector<Cut> pieces_of(const Cut& cut,
                           const std::function<std::vector<Polyline3>(const Polyline3&)>& split) {
  const Polyline3 line = line_of(cut);
  std::vector<Polyline3> pieces = split(line);
  if (cut.closed && pieces.size() == 1 && pieces.front().front() == line.front() &&
      pieces.front().back() == line.back() && pieces.front().size() >= line.size()) {
    Cut whole = cut;
    whole.points.assign(pieces.front().begin(), pieces.front().end() - 1);
    return {std::move(whole)};
  }
  // The start of a closed cut is no place of its own: what ends there goes on with what begins there.
  if (cut.closed && pieces.size() > 1 && pieces.front().front() == line.front() &&
      pieces.back().back() == line.back()) {
    pieces.back().insert(pieces.back().end(), pieces.front().begin() + 1, pieces.front().end());
    pieces.front() = std::move(pieces.back());
    pieces.pop_back();
  }
  std::vector<Cut> result;
  for (Polyline3& piece : pieces) {
    Cut one = cut;
    one.points = std::move(piece);
    one.closed = false;
    result.push_back(std::move(one));
  }
  return result;
}

void replace_cuts(CutPlan& plan, const std::function<std::vector<Cut>(const Cut&)>& make) {
  for (CutGroup& group : plan.groups) {
    std::vector<std::vector<Cut>> made(group.cuts.size());
    detail::parallel_for(group.cuts.size(), {}, [&](std::size_t i) { made[i] = make(group.cuts[i]); });
    group.cuts.clear();
    for (auto& of_cut : made)
      for (Cut& cut : of_cut) group.cuts.push_back(std::move(cut));
  }
}

TouchedCuts::TouchedCuts(const ToolSurface& surface, TouchRule rule, double tolerance_mm)
    : surface_(surface),
      rule_(std::move(rule)),
      thicker_(surface.with_more_allowance(tolerance_mm)),
      step_(std::min(0.25, 0.1 * surface.tool().diameter_mm)),
      floats_(4 * tolerance_mm) {}

TouchedCuts::Kept TouchedCuts::of(const Cut& cut) const {
  constexpr double kPrecision = 1e-5;  // mm
  Kept kept;
  kept.cuts = pieces_of(cut, [&](const Polyline3& line) {
    PiecesThatBelong found = pieces_that_belong(surface_, line, rule_, step_, kPrecision,
                                                cut.part == Side::below ? nullptr : &thicker_, floats_);
    kept.scraps += found.scraps;
    return std::move(found.pieces);
  });
  return kept;
}

BoundedCuts cuts_within(const Bounds& bounds, const ToolSurface& surface, const Stock* before,
                        double tolerance_mm, const CutsOf& strategy, const Progress& progress) {
  require(tolerance_mm > 0, "tolerance_mm", "must be above 0");
  BoundedCuts result;
  std::int64_t scraps = 0;
  const auto ask = [&](const Bounds& within, const Progress& share) {
    result.area =
        centre_area(within.boundary, 0.5 * surface.tool().diameter_mm, within.rule, within.exceptions);
    if (!bounds.at_levels) keep_to_side(within.steepness, surface, result.area);
    std::optional<Region> touched;
    if (within.rule.by == LimitBy::contact && !bounds.at_levels)
      touched = within.rule.margin_mm == 0 ? within.boundary : offset(within.boundary, within.rule.margin_mm);
    Site site{surface, result.area, before, tolerance_mm, bounds.top_z, bounds.bottom_z, bounds.drilled};
    site.touched = touched ? &*touched : nullptr;
    result.plan = strategy(site, share);
    if (bounds.at_levels) return;
    keep_between_heights(result.plan, bounds);
    scraps = keep_touching(result.plan, bounds.touches_twice ? std::nullopt : touched, bounds.slope, surface,
                           tolerance_mm);
    keep_where_left(result.plan, bounds.only_where_left_mm, before, touched ? *touched : within.boundary,
                    surface);
    drop_falls(result.plan);
  };
  ask(bounds, bounds.avoid_riding_up ? part_of(progress, 0, 0.5) : progress);
  if (!bounds.at_levels) {
    std::vector<Note> notes;
    Rides rides = rides_of(result.plan, bounds, result.area, surface);
    if (bounds.avoid_riding_up && !rides.up.empty()) {
      const double shrink = shrink_for(rides.up);
      const Bounds within = with_less_margin(bounds, shrink);
      ask(within, part_of(progress, 0.5, 1));
      rides.down.clear();
      tell(rides, bounds, shrink, notes);
      tell(rides_of(result.plan, within, result.area, surface), within, 0, notes);
    } else {
      tell(rides, bounds, 0, notes);
    }
    result.plan.notes.insert(result.plan.notes.end(), notes.begin(), notes.end());
  }
  drop_scraps(result, bounds.at_levels, tolerance_mm, scraps, result.plan);
  return result;
}

}  // namespace yardpass
