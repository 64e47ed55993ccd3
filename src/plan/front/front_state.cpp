#include "plan/front/front_state.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "geom/parallel_for.h"
#include "plan/front/measure.h"

namespace yardpass::detail {

namespace {

constexpr double kPerMm = 1 / kRegionStep;
constexpr double kSpeck = 0.3;        // of the stepover: shorter loops are none
constexpr double kFar = 2e4;          // mm: beyond every part
constexpr double kHalfWidth = 0.001;  // mm, of the sliver that stands for an open line

/// Points by their place on the lattice.
class ByPlace {
 public:
  explicit ByPlace(std::size_t count) { places_.reserve(2 * count); }
  void add(const FrontPoint& point) { places_[key(plan(point.tip))] = &point; }
  [[nodiscard]] const FrontPoint* at(const Vec2& place) const {
    const auto found = places_.find(key(place));
    return found == places_.end() ? nullptr : found->second;
  }

 private:
  struct Key {
    std::int64_t x, y;
    bool operator==(const Key&) const = default;
  };
  struct Hash {
    std::size_t operator()(const Key& k) const {
      return static_cast<std::size_t>(k.x) * 0x9E3779B97F4A7C15ull ^ static_cast<std::size_t>(k.y);
    }
  };
  static Key key(const Vec2& p) { return {std::llround(p.x() * kPerMm), std::llround(p.y() * kPerMm)}; }
  std::unordered_map<Key, const FrontPoint*, Hash> places_;
};

}  // namespace

FrontPoint FrontState::point_at(const Vec2& place, std::int32_t near) {
  const Vec2 at = on_lattice(place);
  FrontPoint point = ground_.at(at, near);
  ++counts.touches;
  point.live = point.touched && lives_(at);
  return point;
}

void FrontState::add(const Polyline2& loop) {
  FrontLoop points;
  for (const Vec2& p : loop) points.push_back(point_at(p, points.empty() ? -1 : points.back().triangle));
  loops.push_back(std::move(points));
}

void FrontState::add_far_box() {
  FrontLoop far;
  for (const Vec2& p : {Vec2(-kFar, -kFar), Vec2(kFar, -kFar), Vec2(kFar, kFar), Vec2(-kFar, kFar)}) {
    far.emplace_back();
    far.back().tip = with_z(p, 0);
  }
  loops.push_back(std::move(far));
}

void FrontState::start(const FrontStart& start, const Region& lives) {
  const double longest = options_.stepover_mm;
  const Region closed = unite(start.closed, {});
  const bool inward = start.side == FrontSide::inward && !closed.empty();
  // Where nothing lives all is done: fronts end there without leaving a trace.
  add_far_box();
  if (!inward)
    for (const Polyline2& loop : unite(lives, {}).loops) add({loop.rbegin(), loop.rend()});
  if (start.side != FrontSide::outward)
    for (const Polyline2& loop : closed.loops)
      add(with_more_points({loop.rbegin(), loop.rend()}, true, longest));
  if (start.side != FrontSide::inward)
    for (const Polyline2& loop : closed.loops) add(with_more_points(loop, true, longest));
  for (const Polyline2& line : start.open)
    for (const Polyline2& loop : around({line}, false, kHalfWidth, 0.2 * kHalfWidth).loops)
      add(with_more_points(loop, true, longest));
}

bool FrontState::step() {
  before.clear();
  bool any = false;
  for (FrontLoop& loop : loops) {
    for (const FrontPoint& p : loop) any = any || p.live;
    before.push_back({std::move(loop), true, {}});
  }
  loops.clear();
  if (!any) {
    for (FrontChain& chain : before) loops.push_back(std::move(chain.points));
    return false;
  }
  for (FrontChain& chain : before) chain.steps = steps_of(ground_, chain, options_, counts);
  heads = heads_of(ground_, before, options_.stepover_mm, counts);
  loops = united(heads);
  return true;
}

/// All that the raw lines go around a positive number of times.
std::vector<FrontLoop> FrontState::united(const std::vector<Heads>& raw) {
  std::vector<Polyline2> lines;
  std::size_t count = 0;
  for (const Heads& one : raw) count += one.points.size();
  ByPlace by_place(count);
  for (const Heads& one : raw) {
    lines.push_back(in_plan(one.points));
    for (const FrontPoint& point : one.points) by_place.add(point);
  }
  const Region region = wound_around(lines, false);
  std::vector<FrontLoop> result;
  for (const Polyline2& line : region.loops) {
    FrontLoop loop;
    for (const Vec2& place : line) {
      if (const FrontPoint* known = by_place.at(place)) {
        loop.push_back(*known);
        loop.back().live = known->touched && !known->ended && lives_(place);
      } else {
        loop.push_back(point_at(place, loop.empty() ? -1 : loop.back().triangle));
      }
    }
    if (extent(loop) < kSpeck * options_.stepover_mm) continue;
    thin(loop, true, options_.stepover_mm);
    if (loop.size() >= 3) result.push_back(std::move(loop));
  }
  return result;
}

}  // namespace yardpass::detail
