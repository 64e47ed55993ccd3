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
constexpr double kOutside = 0.02;     // of the stepover
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
    // A bit farther out, so that nothing on that border lives; with points so near each other that a front's
    // end on it sweeps nothing ahead of the front.
    for (const Polyline2& loop : offset(lives, kOutside * longest, kOutside * longest).loops)
      add(with_more_points({loop.rbegin(), loop.rend()}, true, longest));
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

/// A union drops the points of straight pieces. Those that a stepover or more from each other are put back:
/// they know which pass they come from, and what lies between two points far apart may be anything.
void FrontState::put_back(const FrontPoint* from, const FrontPoint* to, const std::vector<Heads>& raw,
                          FrontLoop& loop) const {
  constexpr double kOff = 3 * kRegionStep;
  if (!(to > from + 1)) return;
  const bool one_chain = std::any_of(raw.begin(), raw.end(), [&](const Heads& chain) {
    return !chain.points.empty() && from >= chain.points.data() &&
           to < chain.points.data() + chain.points.size();
  });
  if (!one_chain) return;
  const Vec2 a = plan(from->tip), b = plan(to->tip);
  const FrontPoint* last = from;
  for (const FrontPoint* p = from + 1; p < to; ++p) {
    if (distance_to_segment(plan(p->tip), a, b) > kOff) return;
    if ((p->tip - last->tip).norm() < options_.stepover_mm) continue;
    if ((p->tip - to->tip).norm() < options_.stepover_mm) break;
    loop.push_back(*p);
    last = p;
  }
}

/// The same where no point was.
FrontLoop FrontState::with_points_on_long_pieces(const FrontLoop& loop) {
  constexpr double kLongest = 2;  // stepovers
  FrontLoop result;
  for (std::size_t i = 0; i < loop.size(); ++i) {
    const FrontPoint &here = loop[i], &next = loop[(i + 1) % loop.size()];
    result.push_back(here);
    if (!here.live && !next.live) continue;
    const int parts =
        static_cast<int>(std::ceil((next.tip - here.tip).norm() / (kLongest * options_.stepover_mm) - 1e-9));
    for (int k = 1; k < parts; ++k) {
      result.push_back(
          point_at(plan(here.tip) + (plan(next.tip) - plan(here.tip)) * (1.0 * k / parts), here.triangle));
      result.back().pass = here.pass;
    }
  }
  return result;
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
    const FrontPoint* last = by_place.at(line.back());
    for (const Vec2& place : line) {
      const FrontPoint* known = by_place.at(place);
      if (last && known) put_back(last, known, raw, loop);
      if (known)
        loop.push_back(*known);
      else
        loop.push_back(point_at(place, loop.empty() ? -1 : loop.back().triangle));
      last = known;
    }
    for (FrontPoint& p : loop) p.live = p.touched && !p.ended && lives_(plan(p.tip));
    if (extent(loop) < kSpeck * options_.stepover_mm) continue;
    thin(loop, true, options_.stepover_mm);
    if (loop.size() >= 3) result.push_back(with_points_on_long_pieces(loop));
  }
  return result;
}

}  // namespace yardpass::detail
