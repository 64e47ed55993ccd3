#include "yardpass/strategy/drawn_curves.h"

#include <algorithm>
#include <cmath>

#include "geom/bands.h"
#include "geom/chained_ends.h"
#include "geom/parallel_for.h"
#include "plan/sunk_line.h"
#include "strategy/lifted_lines.h"
#include "yardpass/contact/lift.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

namespace {

constexpr double kMeets = 0.01;  // mm: ends so near are one place
constexpr double kSame = 1e-9;   // mm

void turn(DrawnLine& one) {
  Polyline2& points = one.line.points;
  std::vector<double>& depths = one.line.depth_mm;
  // A closed one keeps its first point.
  const std::ptrdiff_t from = one.line.closed ? 1 : 0;
  std::reverse(points.begin() + from, points.end());
  std::reverse(depths.begin() + from, depths.end());
  std::reverse(one.numbers.begin(), one.numbers.end());
}

void append(DrawnLine& to, const DrawnLine& more) {
  DepthLine& line = to.line;
  const bool same = (line.points.back() - more.line.points.front()).norm() < kSame;
  const std::ptrdiff_t from = same ? 1 : 0;
  line.points.insert(line.points.end(), more.line.points.begin() + from, more.line.points.end());
  line.depth_mm.insert(line.depth_mm.end(), more.line.depth_mm.begin() + from, more.line.depth_mm.end());
  to.numbers.insert(to.numbers.end(), more.numbers.begin(), more.numbers.end());
}

/// Lines whose ends meet become one, where it stands first in the list, in the direction of that one.
std::vector<DrawnLine> joined_lines(std::vector<DrawnLine> lines) {
  // Depths must meet too.
  std::vector<LineEnds> ends;
  for (const DrawnLine& one : lines) {
    const DepthLine& line = one.line;
    ends.emplace_back();
    if (!line.closed)
      ends.back() = {with_z(line.points.front(), line.depth_mm.front()),
                     with_z(line.points.back(), line.depth_mm.back())};
  }
  std::vector<DrawnLine> result;
  for (const EndChain& chain :
       chained(partners_within(ends, kMeets, [](const LineEnd&, const LineEnd&) { return true; }))) {
    DrawnLine whole;
    for (const LineEnd& at : chain.lines) {
      DrawnLine next = std::move(lines[at.line]);
      if (at.last) turn(next);
      if (whole.line.points.empty())
        whole = std::move(next);
      else
        append(whole, next);
    }
    if (chain.ring && whole.line.points.size() > 3) {
      whole.line.closed = true;
      if ((whole.line.points.front() - whole.line.points.back()).norm() <= kMeets)
        whole.line.points.pop_back(), whole.line.depth_mm.pop_back();
    }
    result.push_back(std::move(whole));
  }
  return result;
}

/// One after the other: what ends where the next begins goes on.
std::vector<DrawnLine> run_on(std::vector<DrawnLine> lines) {
  std::vector<DrawnLine> result;
  for (DrawnLine& line : lines) {
    const bool goes_on = !result.empty() && !result.back().line.closed && !line.line.closed &&
                         (result.back().line.points.back() - line.line.points.front()).norm() < kSame &&
                         std::abs(result.back().line.depth_mm.back() - line.line.depth_mm.front()) < kSame;
    if (goes_on)
      append(result.back(), line);
    else
      result.push_back(std::move(line));
  }
  return result;
}

void to_and_fro(std::vector<DrawnLine>& lines) {
  for (std::size_t i = 1; i < lines.size(); ++i) {
    const DepthLine& before = lines[i - 1].line;
    const Vec2& at = before.closed ? before.points.front() : before.points.back();
    const DepthLine& line = lines[i].line;
    if (!line.closed && (line.points.back() - at).norm() < (line.points.front() - at).norm()) turn(lines[i]);
  }
}

}  // namespace

void drawn_keys(DrawnCurves& drawn, Keys& keys) {
  keys.curves("curves", drawn.curves,
              {.says = "the curves that it runs along, seen from above", .required = true});
  constexpr std::pair<DrawnOrder, const char*> orders[] = {{DrawnOrder::as_drawn, "as-drawn"},
                                                           {DrawnOrder::to_and_fro, "to-and-fro"},
                                                           {DrawnOrder::joined, "joined"}};
  keys.choice("order", drawn.order, orders, DrawnOrder::as_drawn, "as the file has it",
              {.says = "one after the other, each the way it is drawn; or each from its nearer end; or what "
                       "meets joined, in the order and direction with least air",
               .usual = "`\"as-drawn\"`"});
  keys.flag("last_first", drawn.last_first, false,
            {.says = "from the last curve to the first", .usual = "`false`"});
  keys.idle_if(drawn.order == DrawnOrder::joined, "last_first", "joined curves are in no order");
  keys.counts("turned", drawn.turned,
              {.says = "curves that run the other way, by their number as drawn", .usual = "none"});
  const auto count = static_cast<std::int64_t>(drawn.curves.curves.size());
  const bool beyond = std::any_of(drawn.turned.begin(), drawn.turned.end(),
                                  [&](std::int64_t number) { return number > count; });
  keys.refuse_if(count > 0 && beyond, {"turned"},
                 "names a number beyond the last curve, " + std::to_string(count));
  keys.flag("own_heights", drawn.own_heights, false,
            {.says = "the Z of the curves counts: it is added to the height of the surface, straight up; "
                     "negative: into it",
             .usual = "`false`"});
}

std::vector<DrawnLine> drawn_lines(const DrawnCurves& drawn) {
  require(drawn.curves.given(), "curves", "must be at least one");
  std::vector<DrawnLine> lines;
  for (std::size_t i = 0; i < drawn.curves.curves.size(); ++i) {
    const Curve& curve = drawn.curves.curves[i];
    DrawnLine one;
    one.numbers = {static_cast<std::int64_t>(i) + 1};
    for (const Vec3& p : curve.points) {
      // Seen from above a step straight up is no step.
      if (!one.line.points.empty() && (one.line.points.back() - plan(p)).norm() < kSame) continue;
      one.line.points.push_back(plan(p));
      one.line.depth_mm.push_back(drawn.own_heights ? -p.z() : 0);
    }
    const bool back =
        one.line.points.size() > 1 && (one.line.points.front() - one.line.points.back()).norm() < kSame;
    if (curve.closed && back) one.line.points.pop_back(), one.line.depth_mm.pop_back();
    one.line.closed = curve.closed && one.line.points.size() > 2;
    if (one.line.points.size() < 2) continue;
    if (std::find(drawn.turned.begin(), drawn.turned.end(), one.numbers.front()) != drawn.turned.end())
      turn(one);
    lines.push_back(std::move(one));
  }
  if (drawn.order == DrawnOrder::joined) return joined_lines(std::move(lines));
  if (drawn.last_first) std::reverse(lines.begin(), lines.end());
  if (drawn.order == DrawnOrder::to_and_fro) to_and_fro(lines);
  return run_on(std::move(lines));
}

std::vector<CurveRole> drawn_roles(const DrawnCurves& drawn, const std::vector<DrawnLine>& lines) {
  std::vector<CurveRole> roles;
  for (const DrawnLine& one : lines) {
    CurveRole role;
    const auto first = static_cast<std::size_t>(one.numbers.front()) - 1;
    const std::string& name = drawn.curves.curves[first].name;
    role.role = one.numbers.size() == 1 ? "curve " + std::to_string(one.numbers.front())
                                        : std::to_string(one.numbers.size()) + " curves from " +
                                              std::to_string(one.numbers.front());
    if (!name.empty()) role.role += " (" + name + ")";
    role.line = one.line.points;
    role.closed = one.line.closed;
    role.runs = true;
    if (drawn.order != DrawnOrder::joined) role.number = static_cast<std::int32_t>(roles.size()) + 1;
    roles.push_back(std::move(role));
  }
  return roles;
}

namespace {

/// Heights above the surface alone, or depths below it alone, with a point where a line goes through it.
DepthLine one_side(const DepthLine& line, bool below) {
  DepthLine result{{}, {}, line.closed};
  for (std::size_t i = 0; i < line.points.size(); ++i) {
    const double depth = line.depth_mm[i];
    result.points.push_back(line.points[i]);
    result.depth_mm.push_back(below ? std::max(depth, 0.0) : std::min(depth, 0.0));
    const std::size_t k = (i + 1) % line.points.size();
    const double next = line.depth_mm[k];
    if ((k == 0 && !line.closed) || !(depth * next < 0)) continue;
    const double share = depth / (depth - next);
    result.points.push_back(line.points[i] + share * (line.points[k] - line.points[i]));
    result.depth_mm.push_back(0);
  }
  return result;
}

bool any_other_than_0(const DepthLine& line) {
  return std::any_of(line.depth_mm.begin(), line.depth_mm.end(), [](double d) { return d != 0; });
}

}  // namespace

IntendedCuts intended_along(const std::vector<DrawnLine>& lines) {
  IntendedCuts intended;
  for (const DrawnLine& one : lines)
    if (one.line.greatest_mm() > 0) intended.along.push_back(one_side(one.line, true));
  return intended;
}

CutPlan drawn_cuts(const std::vector<DrawnLine>& lines, DrawnOrder order, const Site& site,
                   const Progress& progress) {
  const Bands inside(site.area);
  const double floor = site.bottom_z > kNothingBelow ? site.bottom_z - 2 * site.tolerance_mm : kNothingBelow;
  std::vector<std::vector<Cut>> cuts(lines.size());
  std::vector<double> kept(lines.size(), 0);
  parallel_for(lines.size(), progress, [&](std::size_t i) {
    const DepthLine& line = lines[i].line;
    const std::vector<Polyline2> pieces =
        line.closed ? inside.inside_loop(line.points) : inside.inside(line.points);
    for (const Polyline2& piece : pieces) {
      kept[i] += length(std::span<const Vec2>(piece));
      const bool all = line.closed && piece.front() == piece.back();
      LiftedLine lifted{piece, all, static_cast<std::int32_t>(i) + 1};
      lifted.pieces = lift(site.surface, piece, {.tolerance_mm = site.tolerance_mm, .floor_z = floor});
      add_cuts(cuts[i], std::move(lifted));
    }
    if (const DepthLine above = one_side(line, false); any_other_than_0(above))
      for (Cut& cut : cuts[i]) {
        Polyline3 points = cut.points;
        if (cut.closed) points.push_back(points.front());
        cut.points = sunk_line(points, above);
        if (cut.closed) cut.points.pop_back();
      }
  });
  CutPlan plan;
  plan.groups.emplace_back();
  plan.groups.front().keep_order = plan.groups.front().keep_direction = order != DrawnOrder::joined;
  double drawn = 0, left = 0;
  std::int64_t curves = 0;
  bool sinks = false;
  for (std::size_t i = 0; i < lines.size(); ++i) {
    for (Cut& cut : cuts[i]) plan.groups.front().cuts.push_back(std::move(cut));
    plan.sunk.push_back(one_side(lines[i].line, true));
    sinks = sinks || any_other_than_0(plan.sunk.back());
    Polyline2 whole = lines[i].line.points;
    if (lines[i].line.closed) whole.push_back(whole.front());
    drawn += length(std::span<const Vec2>(whole));
    left += kept[i];
    curves += std::ssize(lines[i].numbers);
  }
  if (!sinks) plan.sunk.clear();
  plan.facts.push_back({"curves", count_of(curves), "with a length of their own"});
  if (order == DrawnOrder::joined)
    plan.facts.push_back({"lines", count_of(std::ssize(lines)), "after what meets is joined"});
  constexpr double kTold = 0.01;  // mm
  if (drawn - left > kTold && !plan.empty())
    plan.notes.push_back({"outside",
                          "{} of {} of the curves lie outside the area",
                          {length_of(drawn - left), length_of(drawn)}});
  if (plan.empty())
    plan.notes.push_back({"nothing", "nothing to cut: no curve runs over the part inside the area"});
  return plan;
}

}  // namespace yardpass::detail
