#include "plan/front/front_state.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <unordered_map>

#include "geom/more_points.h"
#include "geom/parallel_for.h"
#include "plan/front/measure.h"

namespace yardpass::detail {

namespace {

constexpr double kPerMm = 1 / kRegionStep;
constexpr double kSpeck = 0.3;        // of the stepover: shorter loops are none
constexpr double kOutside = 0.02;     // of the stepover
constexpr double kHalfWidth = 0.001;  // mm, of the sliver that stands for an open line

/// Where a point stands among the raw lines.
struct RawPlace {
  std::size_t chain, point;
};

/// Points by their place on the lattice.
class ByPlace {
 public:
  explicit ByPlace(std::size_t count) { places_.reserve(2 * count); }
  void add(const RawPlace& raw, const Vec2& place) { places_[key(place)] = raw; }
  [[nodiscard]] std::optional<RawPlace> at(const Vec2& place) const {
    const auto found = places_.find(key(place));
    return found == places_.end() ? std::nullopt : std::optional(found->second);
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
  std::unordered_map<Key, RawPlace, Hash> places_;
};

/// A union drops the points of straight pieces. Those that lie a stepover or more from each other are put
/// back: they know which pass they come from, and what lies between two points far apart may be anything.
/// All that lie on the piece are noted in `on_line`.
void put_back(const RawPlace& start, std::size_t to, double stepover, const FrontLoop& points,
              FrontLoop& loop, std::vector<RawPlace>& on_line) {
  constexpr double kOff = 3 * kRegionStep;
  const std::size_t from = start.point;
  const Vec2 a = plan(points[from].tip), b = plan(points[to].tip);
  std::size_t last = from;
  for (std::size_t i = from + 1; i < to; ++i) {
    if (distance_to_segment(plan(points[i].tip), a, b) > kOff) return;
    on_line.push_back({start.chain, i});
    if ((points[i].tip - points[last].tip).norm() < stepover) continue;
    if ((points[i].tip - points[to].tip).norm() < stepover) continue;
    loop.push_back(points[i]);
    last = i;
  }
}

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
  for (const Vec2& p : far_box()) {
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

/// What is straight seen from above, between two points far apart, may go over anything.
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
std::vector<FrontLoop> FrontState::united(std::vector<Heads>& raw) {
  std::vector<Polyline2> lines;
  std::size_t count = 0;
  for (const Heads& chain : raw) count += chain.points.size();
  ByPlace by_place(count);
  for (std::size_t c = 0; c < raw.size(); ++c) {
    lines.push_back(in_plan(raw[c].points));
    raw[c].kept.assign(raw[c].points.size(), 0);
    for (std::size_t i = 0; i < lines[c].size(); ++i) by_place.add({c, i}, lines[c][i]);
  }
  std::vector<FrontLoop> result;
  for (const Polyline2& line : wound_around(lines, false).loops) {
    FrontLoop loop;
    std::vector<RawPlace> on_line;
    std::optional<RawPlace> last = by_place.at(line.back());
    for (const Vec2& place : line) {
      const std::optional<RawPlace> known = by_place.at(place);
      if (known) {
        const FrontLoop& points = raw[known->chain].points;
        if (last && last->chain == known->chain)
          put_back(*last, known->point, options_.stepover_mm, points, loop, on_line);
        on_line.push_back(*known);
        loop.push_back(points[known->point]);
      } else {
        loop.push_back(point_at(place, loop.empty() ? -1 : loop.back().triangle));
      }
      last = known;
    }
    for (FrontPoint& p : loop) p.live = p.touched && !p.ended && lives_(plan(p.tip));
    if (extent(loop) < kSpeck * options_.stepover_mm) continue;
    for (const RawPlace& place : on_line) raw[place.chain].kept[place.point] = 1;
    thin(loop, true, options_.stepover_mm);
    if (loop.size() >= 3) result.push_back(with_points_on_long_pieces(loop));
  }
  return result;
}

}  // namespace yardpass::detail
