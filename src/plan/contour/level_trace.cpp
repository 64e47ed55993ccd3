#include "plan/contour/level_trace.h"

#include <algorithm>
#include <cmath>

namespace yardpass::detail {

namespace {

/// The nearest place of a segment.
Vec2 nearest_of(const Vec2& a, const Vec2& b, const Vec2& p) {
  const Vec2 way = b - a;
  const double size = way.squaredNorm();
  return size > 0 ? Vec2(a + std::clamp((p - a).dot(way) / size, 0.0, 1.0) * way) : a;
}

constexpr double kSame = 1e-9;  // mm

}  // namespace

LevelTrace::LevelTrace(const Tube& tube, double z, double longest_step,
                       std::function<bool(const Vec2&)> wanted)
    : tube_(tube),
      z_(z),
      longest_(longest_step),
      // The tube is as wide as the tolerance normal to the part: in plan more on gentle slopes.
      reach_(20 * tube.tolerance),
      wanted_(std::move(wanted)) {}

template <typename Visit>
void LevelTrace::near(const Vec2& a, const Vec2& b, const Visit& visit) const {
  const Vec2 low = a.cwiseMin(b).array() - reach_, high = a.cwiseMax(b).array() + reach_;
  const double side = longest_;
  for (auto i = std::llround(std::floor(low.x() / side)); i <= std::llround(std::floor(high.x() / side)); ++i)
    for (auto j = std::llround(std::floor(low.y() / side)); j <= std::llround(std::floor(high.y() / side));
         ++j)
      visit((static_cast<std::int64_t>(i) << 32) ^ (static_cast<std::int64_t>(j) & 0xffffffff));
}

void LevelTrace::add_chord(const Vec2& from, const Vec2& to, int trace, double travelled) {
  const std::size_t index = chords_.size();
  chords_.push_back({from, to, trace, traces_[static_cast<std::size_t>(trace)].points.size() - 1, travelled});
  near(from, to, [&](std::int64_t key) { cells_[key].push_back(index); });
}

bool LevelTrace::known(const Vec2& place) const {
  bool found = false;
  near(place, place, [&](std::int64_t key) {
    const auto cell = cells_.find(key);
    if (found || cell == cells_.end()) return;
    for (const std::size_t index : cell->second) {
      const Vec2 beside = nearest_of(chords_[index].from, chords_[index].to, place);
      const double off = (beside - place).norm();
      if (off > reach_) continue;
      // Else two contours closer than that would swallow each other.
      if (off < kSame || tube_.holds(at_level(beside), at_level(place))) {
        found = true;
        return;
      }
    }
  });
  return found;
}

bool LevelTrace::passes_near(const Vec2& place, double distance_mm) const {
  bool found = false;
  near(place, place, [&](std::int64_t key) {
    const auto cell = cells_.find(key);
    if (found || cell == cells_.end()) return;
    found = std::any_of(cell->second.begin(), cell->second.end(), [&](std::size_t index) {
      return distance_to_segment(place, chords_[index].from, chords_[index].to) < distance_mm;
    });
  });
  return found;
}

std::optional<LevelTrace::Hit> LevelTrace::passes(const Vec2& from, const Vec2& to, int trace,
                                                  double travelled) const {
  constexpr double kLeast = 4, kAtLeast = 8;  // tolerances travelled since
  constexpr std::size_t kPoints = 8;          // that lie in between, but at the start
  const std::size_t here = traces_[static_cast<std::size_t>(trace)].points.size() - 1;
  const Vec2 way = to - from;
  std::optional<Hit> best;
  double first = std::numeric_limits<double>::infinity();
  near(from, to, [&](std::int64_t key) {
    const auto cell = cells_.find(key);
    if (cell == cells_.end()) return;
    for (const std::size_t index : cell->second) {
      const Chord& chord = chords_[index];
      if (chord.trace == trace) {
        const double since = travelled - chord.travelled;
        const bool start =
            chord.point == 0 && since > kLeast * tube_.tolerance && (chord.from - from).norm() < 0.5 * since;
        if (!start && (chord.point + kPoints > here || since < kAtLeast * tube_.tolerance)) continue;
      }
      const Vec2 other = chord.to - chord.from;
      if (other.dot(way) < 0.5 * other.norm() * way.norm()) continue;
      const Vec2 beside = nearest_of(from, to, chord.from);
      const double off = (beside - chord.from).norm(), at = (beside - from).norm();
      // Beside it, not ahead of it or behind.
      if (std::abs((beside - chord.from).dot(other)) > 0.5 * off * other.norm()) continue;
      if (off > reach_ || at > first || (at == first && best)) continue;
      if (off > kSame && !tube_.holds(at_level(beside), at_level(chord.from))) continue;
      first = at;
      best = Hit{chord, beside};
    }
  });
  return best;
}

void LevelTrace::join(int index, const Hit& hit) {
  const Chord& chord = hit.chord;
  Trace& trace = traces_[static_cast<std::size_t>(index)];
  const Vec2 last = trace.points.back();
  if ((last - chord.from).norm() > kSame && !tube_.holds(at_level(last), at_level(chord.from)) &&
      (hit.beside - last).norm() > kSame)
    trace.points.push_back(hit.beside);
  if (chord.trace != index) {
    if ((trace.points.back() - chord.from).norm() > kSame) trace.points.push_back(chord.from);
    trace.into = chord.trace;
    trace.into_point = chord.point;
    trace.into_travelled = chord.travelled;
    return;
  }
  if ((trace.points.back() - chord.from).norm() <= kSame) trace.points.pop_back();
  const auto from = static_cast<std::ptrdiff_t>(chord.point);
  if (from == 0) {
    trace.closed = true;
    return;
  }
  // A loop with a tail, which keeps the number: others may run into its start.
  Trace loop;
  loop.closed = true;
  loop.points.assign(trace.points.begin() + from, trace.points.end());
  trace.points.resize(chord.point + 1);
  traces_.push_back(std::move(loop));
}

void LevelTrace::follow(const Seed& seed) {
  const WallWalk start(tube_, longest_);
  const auto place = start.meet(seed.free, seed.blocked, z_);
  if (place && !known(plan(place->tip))) trace(*place);
}

void LevelTrace::trace(WallPlace at) {
  constexpr int kMostSteps = 2'000'000;
  const int index = static_cast<int>(traces_.size());
  traces_.push_back({{plan(at.tip)}});
  const auto points = [&]() -> Polyline2& { return traces_[static_cast<std::size_t>(index)].points; };
  WallWalk walk(tube_, longest_);
  double travelled = 0;
  for (int steps = 0; steps < kMostSteps; ++steps) {
    const auto step = walk.next(at, 0, z_);
    if (!step) break;
    for (const std::optional<Vec3>& tip : {step->corner, std::optional(step->end.tip)}) {
      if (!tip) continue;
      const Vec2 from = points().back(), to = plan(*tip);
      const double size = (to - from).norm();
      if (size < kSame) continue;
      if (const auto hit = passes(from, to, index, travelled)) {
        add_chord(from, hit->chord.from, index, travelled);  // it passes there too
        return join(index, *hit);
      }
      add_chord(from, to, index, travelled);
      points().push_back(to);
      travelled += size;
    }
    at = step->end;
    if (!wanted_(plan(at.tip))) {
      traces_[static_cast<std::size_t>(index)].left = true;
      return;
    }
  }
  broken_off_.push_back(plan(at.tip));
}

/// A piece that runs into the start of another open one is put in front of it.
void LevelTrace::chain() {
  const double start = 2 * longest_;
  std::vector<std::uint8_t> gone(traces_.size(), 0);
  for (std::size_t i = 0; i < traces_.size(); ++i) {
    Trace& piece = traces_[i];
    while (!gone[i] && !piece.closed && piece.into >= 0 && piece.into_travelled <= start) {
      const auto next = static_cast<std::size_t>(piece.into);
      if (next == i) {
        piece.closed = true;
        break;
      }
      const Trace& other = traces_[next];
      if (gone[next] || other.closed || other.points.size() <= piece.into_point) break;
      piece.points.insert(piece.points.end(),
                          other.points.begin() + static_cast<std::ptrdiff_t>(piece.into_point) + 1,
                          other.points.end());
      piece.into = other.into, piece.left = other.left;
      piece.into_point = other.into_point, piece.into_travelled = other.into_travelled;
      gone[next] = 1;
      // What has run into this piece by now may follow it as well.
      for (Trace& trace : traces_)
        if (trace.into == static_cast<int>(next)) trace.into_travelled = 2 * start + 1;
    }
  }
  std::vector<Trace> kept;
  for (std::size_t i = 0; i < traces_.size(); ++i)
    if (!gone[i]) kept.push_back(std::move(traces_[i]));
  traces_ = std::move(kept);
}

LevelContours LevelTrace::take() {
  chain();
  LevelContours result;
  result.z = z_;
  const double shortest = tube_.low.cutter().radius();
  for (Trace& trace : traces_) {
    if (trace.points.size() < 2 || (trace.closed && trace.points.size() < 3)) continue;
    // What only runs into another contour within the tube is no contour of its own.
    if (!trace.closed && trace.into >= 0 && length(std::span<const Vec2>(trace.points)) < shortest) continue;
    result.lines.push_back({std::move(trace.points), trace.closed});
  }
  result.broken_off = std::move(broken_off_);
  return result;
}

}  // namespace yardpass::detail
