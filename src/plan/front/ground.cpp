#include "plan/front/ground.h"

#include <algorithm>
#include <cmath>

namespace yardpass::detail {

FrontPoint Ground::at(const Vec2& place, std::int32_t near_triangle) const {
  FrontPoint point;
  const std::optional<Touch> touch = surface_.touch(place, near_triangle);
  if (!touch) {
    point.tip = with_z(place, beside_.value_or(0));
    point.contact = point.tip;
    point.touched = beside_.has_value();
    return point;
  }
  point.tip = with_z(place, touch->height);
  point.normal = surface_normal(slope_at(surface_, place, *touch));
  point.contact = touch->point;
  point.triangle = touch->triangle;
  point.touched = true;
  return point;
}

Polyline2 far_box() {
  constexpr double kFar = 2e4;  // mm
  return {{-kFar, -kFar}, {kFar, -kFar}, {kFar, kFar}, {-kFar, kFar}};
}

Vec2 on_lattice(const Vec2& p) {
  constexpr double kPerMm = 1 / kRegionStep;
  return {std::round(p.x() * kPerMm) / kPerMm, std::round(p.y() * kPerMm) / kPerMm};
}

Polyline2 in_plan(const FrontLoop& loop) {
  Polyline2 line;
  line.reserve(loop.size());
  for (const FrontPoint& p : loop) line.push_back(plan(p.tip));
  return line;
}

double extent(const FrontLoop& loop) {
  Box3 box;
  for (const FrontPoint& p : loop) box.extend(p.tip);
  return box.isEmpty() ? 0 : box.diagonal().norm();
}

namespace {

/// How far a point lies from a chord, in space or, times what steep ground makes of that, in plan.
double off_chord(const FrontPoint& p, const FrontPoint& a, const FrontPoint& b) {
  constexpr double kSteepest = 0.01;
  return std::max(
      distance_to_segment(p.tip, a.tip, b.tip),
      distance_to_segment(plan(p.tip), plan(a.tip), plan(b.tip)) / std::max(kSteepest, p.normal.z()));
}

/// As D. H. Douglas and T. K. Peucker, "Algorithms for the reduction of the number of points", 1973.
void keep_between(const FrontLoop& points, std::size_t first, std::size_t last, double tolerance,
                  std::vector<std::uint8_t>& kept) {
  std::vector<std::pair<std::size_t, std::size_t>> open{{first, last}};
  while (!open.empty()) {
    const auto [from, to] = open.back();
    open.pop_back();
    double most = tolerance;
    std::size_t at = from;
    for (std::size_t i = from + 1; i < to; ++i) {
      const double off = off_chord(points[i], points[from], points[to]);
      if (off > most) most = off, at = i;
    }
    if (at == from) continue;
    kept[at] = 1;
    open.emplace_back(from, at);
    open.emplace_back(at, to);
  }
}

}  // namespace

FrontLoop worth_keeping(const FrontLoop& points, bool closed, double stepover) {
  constexpr double kWithin = 0.008;
  if (points.size() < 4) return points;
  FrontLoop line = points;
  if (closed) line.push_back(points.front());
  std::vector<std::uint8_t> kept(line.size(), 0);
  kept.front() = kept.back() = 1;
  // A closed line needs a third point, and a chord from a point to itself says nothing.
  const std::size_t middle = line.size() / 2;
  kept[middle] = 1;
  keep_between(line, 0, middle, kWithin * stepover, kept);
  keep_between(line, middle, line.size() - 1, kWithin * stepover, kept);
  FrontLoop result;
  for (std::size_t i = 0; i + (closed ? 1 : 0) < line.size(); ++i)
    if (kept[i]) result.push_back(line[i]);
  return result.size() < 3 && closed ? points : result;
}

void thin(FrontLoop& loop, bool closed, double stepover) {
  constexpr double kInSpace = 0.004, kInPlan = 0.002, kTiny = 0.03;  // of the stepover
  constexpr int kRounds = 4;
  constexpr std::size_t kFew = 8;
  for (int round = 0; round < kRounds && loop.size() >= kFew; ++round) {
    FrontLoop kept{loop.front()};
    bool dropped = false;
    for (std::size_t i = 1; i < loop.size(); ++i) {
      const FrontPoint& here = loop[i];
      if (i + 1 == loop.size() && !closed) {
        kept.push_back(here);
        break;
      }
      const FrontPoint &before = kept.back(), &after = loop[(i + 1) % loop.size()];
      const double off = distance_to_segment(here.tip, before.tip, after.tip),
                   off_in_plan = distance_to_segment(plan(here.tip), plan(before.tip), plan(after.tip)),
                   level = std::max(0.01, here.normal.z());
      const bool tiny = (here.tip - before.tip).norm() < kTiny * stepover;
      const bool near = (after.tip - before.tip).norm() < stepover && off < kInSpace * stepover &&
                        off_in_plan < kInPlan * stepover * level;
      const bool drop =
          near || (tiny && off < 2.5 * kInSpace * stepover && off_in_plan < 2 * kInPlan * stepover * level);
      // Never two in a row: each is within reach of points that stay.
      const bool same = here.live == before.live && here.touched;
      if (drop && same && !dropped) {
        dropped = true;
        continue;
      }
      dropped = false;
      kept.push_back(here);
    }
    if (kept.size() == loop.size()) break;
    loop = std::move(kept);
  }
}

}  // namespace yardpass::detail
