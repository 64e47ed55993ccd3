#include "yardpass/plan/trim.h"

#include <algorithm>

#include "geom/parallel_for.h"

namespace yardpass {

namespace {

/// A closed cut's line runs back to its start.
Polyline3 line_of(const Cut& cut) {
  Polyline3 line = cut.points;
  if (cut.closed && !line.empty()) line.push_back(line.front());
  return line;
}

/// Every cut becomes its pieces, in its place.
void split_all(CutPlan& plan, const std::function<std::vector<Polyline3>(const Polyline3&)>& split) {
  for (CutGroup& group : plan.groups) {
    std::vector<std::vector<Cut>> pieces(group.cuts.size());
    detail::parallel_for(group.cuts.size(), {},
                         [&](std::size_t i) { pieces[i] = pieces_of(group.cuts[i], split); });
    group.cuts.clear();
    for (auto& of_cut : pieces)
      for (Cut& piece : of_cut) group.cuts.push_back(std::move(piece));
  }
}

/// By the point of touch, passes are cut where it leaves the boundary.
void keep_touching(CutPlan& plan, const Bounds& bounds, const ToolSurface& surface) {
  if (bounds.rule.by != LimitBy::contact) return;
  const double margin = bounds.rule.margin_mm;
  const Region area = margin == 0 ? bounds.boundary : offset(bounds.boundary, margin);
  const double step = std::min(0.25, 0.1 * surface.tool().diameter_mm);
  split_all(plan, [&](const Polyline3& line) { return cut_at_contact(surface, line, area, step); });
}

void keep_between_heights(CutPlan& plan, const Bounds& bounds) {
  const double highest = std::numeric_limits<double>::infinity();
  if (bounds.top_z == highest && bounds.bottom_z == -highest) return;
  split_all(plan,
            [&](const Polyline3& line) { return between_heights(line, bounds.bottom_z, bounds.top_z); });
}

/// Tells where passes ride up a wall outside the boundary, and gives the margin that stops them; 0 if none
/// does.
double margin_without_riding_up(const CutPlan& plan, const Bounds& bounds, const ToolSurface& surface,
                                std::vector<Note>& notes) {
  if (!bounds.drawn || bounds.rule.by == LimitBy::contact) return 0;
  std::vector<Polyline3> lines;
  for (const CutGroup& group : plan.groups)
    for (const Cut& cut : group.cuts) lines.push_back(line_of(cut));
  Region simple;
  for (const Polyline2& loop : bounds.boundary.loops) simple.loops.push_back(simplify_loop(loop, 0.0005));
  const auto rides = wall_rides(surface, lines, simple, std::max(0.05, 0.05 * surface.tool().diameter_mm));
  if (rides.empty()) return 0;
  double margin = 0;
  for (const WallRide& ride : rides) margin = std::min(margin, ride.margin_mm);
  const Vec3& at = rides.front().at;
  notes.push_back(
      {"rides",
       std::string("{} of {} passes ride up a wall outside the boundary, the highest {} at {}; ") +
           (bounds.avoid_riding_up ? "avoided by a margin of {}, as asked for"
                                   : "a margin of {} would stop it (or ride_up = \"avoid\")"),
       {count_of(static_cast<std::int64_t>(rides.size())), count_of(static_cast<std::int64_t>(lines.size())),
        length_of(rides.front().height_mm), place_at(at.x(), at.y(), at.z()), length_of(margin)}});
  return margin;
}

/// Bits at a boundary that are there only because of the tolerance.
void drop_scraps(CutPlan& plan, double tolerance) {
  const double shortest = 5 * tolerance;
  std::size_t dropped = 0;
  for (CutGroup& group : plan.groups)
    dropped += std::erase_if(
        group.cuts, [&](const Cut& cut) { return length(std::span<const Vec3>(cut.points)) < shortest; });
  if (dropped == 1)
    plan.notes.push_back({"scraps", "1 scrap shorter than {} dropped", {length_of(shortest)}});
  if (dropped > 1)
    plan.notes.push_back({"scraps",
                          "{} scraps shorter than {} dropped",
                          {count_of(static_cast<std::int64_t>(dropped)), length_of(shortest)}});
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

BoundedCuts cuts_within(const Bounds& bounds, const ToolSurface& surface, const Stock* before,
                        double tolerance_mm, const CutsOf& strategy, const Progress& progress) {
  require(tolerance_mm > 0, "tolerance_mm", "must be above 0");
  BoundedCuts result;
  result.area =
      centre_area(bounds.boundary, 0.5 * surface.tool().diameter_mm, bounds.rule, bounds.exceptions);
  const auto ask = [&](const Progress& share) {
    const Site site{surface, result.area, before, tolerance_mm, bounds.top_z, bounds.bottom_z};
    result.plan = strategy(site, share);
    if (bounds.at_levels) return;
    keep_between_heights(result.plan, bounds);
    keep_touching(result.plan, bounds, surface);
  };
  ask(bounds.avoid_riding_up ? part_of(progress, 0, 0.5) : progress);
  if (!bounds.at_levels) {
    std::vector<Note> notes;
    const double margin = margin_without_riding_up(result.plan, bounds, surface, notes);
    if (margin < 0 && bounds.avoid_riding_up) {
      result.area = intersect(result.area, offset(bounds.boundary, margin));
      ask(part_of(progress, 0.5, 1));
    }
    result.plan.notes.insert(result.plan.notes.end(), notes.begin(), notes.end());
  }
  drop_scraps(result.plan, tolerance_mm);
  return result;
}

}  // namespace yardpass
