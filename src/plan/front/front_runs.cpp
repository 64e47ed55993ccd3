#include "plan/front/front_runs.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "geom/more_points.h"

namespace yardpass::detail {

namespace {

constexpr double kOnBorder = 0.001;  // mm: counts as inside
constexpr double kBeside = 1.5;      // stepovers

/// How far corners of this interior angle may be rounded, in stepovers: so that no place gets farther from a
/// line than half a stepover beyond what the sharp corner reached, nor, between two such corners, farther
/// than `farthest`, if it is not so anyway.
double rounding_radius(double interior, double farthest) {
  const double half = std::sin(0.5 * interior);
  if (half > 1 - 1e-9) return 0;
  const double left = 0.5 / (1 / half - 1);
  if (0.5 / half <= farthest) return left;
  return std::clamp((farthest * (1 + half) - 1) / (1 - half), 0.0, left);
}

std::vector<std::int32_t> passes_under(const FrontLoop& points) {
  std::vector<std::int32_t> passes;
  for (const FrontPoint& p : points)
    if (p.pass >= 0) passes.push_back(p.pass);
  std::sort(passes.begin(), passes.end());
  passes.erase(std::unique(passes.begin(), passes.end()), passes.end());
  return passes;
}

/// A way from a point along the line, as far as its pieces go straight on.
Vec3 straight_from(const FrontLoop& points, std::size_t at, bool forward, bool closed, double longest) {
  constexpr double kStraight = 0.1;  // radians
  const std::size_t n = points.size();
  Vec3 way(0, 0, 0);
  std::size_t here = at;
  while (way.norm() < longest) {
    if (!closed && (forward ? here + 1 >= n : here == 0)) break;
    const std::size_t next = forward ? (here + 1) % n : (here + n - 1) % n;
    const Vec3 edge = points[next].tip - points[here].tip;
    if (!way.isZero() && way.cross(edge).norm() > kStraight * way.norm() * edge.norm()) break;
    if (next == at) break;
    way += edge;
    here = next;
  }
  const double size = way.norm();
  return size > longest ? Vec3(way * (longest / size)) : way;
}

}  // namespace

namespace {

/// A hollow corner: unit ways back and ahead along its sides, half the angle between them, and how far from
/// it its arc begins and ends.
struct HollowCorner {
  Vec3 back, ahead;
  double half = 0, tangent = 0;
};

std::optional<HollowCorner> hollow_corner(const FrontLoop& points, std::size_t i, bool closed,
                                          const FrontOptions& options) {
  constexpr double kCorner = 0.3;  // radians
  constexpr double kLeast = 0.02;  // of the stepover: smaller arcs are none
  constexpr double kUsual = 0.6, kSure = 0.995;
  if (!closed && (i == 0 || i + 1 == points.size())) return std::nullopt;
  const double stepover = options.stepover_mm,
               farthest = kSure * (options.farthest > 0 ? options.farthest : kUsual);
  const Vec3 back = straight_from(points, i, false, closed, stepover),
             ahead = straight_from(points, i, true, closed, stepover);
  if (back.isZero() || ahead.isZero()) return std::nullopt;
  HollowCorner corner{back.normalized(), ahead.normalized()};
  const double turn =
      std::atan2(ahead.cross(back).dot(points[i].normal), -ahead.dot(back));  // to the left positive
  if (turn > -kCorner) return std::nullopt;
  corner.half = 0.5 * (std::numbers::pi + turn);
  // No more than half of each side: the other half may belong to the next corner.
  corner.tangent = std::min({rounding_radius(2 * corner.half, farthest) * stepover / std::tan(corner.half),
                             0.5 * back.norm(), 0.5 * ahead.norm()});
  if (corner.tangent * std::tan(corner.half) < kLeast * stepover) return std::nullopt;
  return corner;
}

/// In the plane of its two sides the arc is a circle's; seen from above it goes along with them.
void add_arc(const Vec2& at, const HollowCorner& corner, Polyline2& line) {
  constexpr double kArc = 0.2;  // radians
  const double range = std::numbers::pi - 2 * corner.half, radius = corner.tangent * std::tan(corner.half),
               centre = radius / std::sin(corner.half);
  const int parts = std::max(2, static_cast<int>(std::ceil(range / kArc)));
  for (int k = 0; k <= parts; ++k) {
    const double angle = range * (1.0 * k / parts - 0.5);
    const double mean = (centre - radius * std::cos(angle)) / std::cos(corner.half),
                 apart = radius * std::sin(angle) / std::sin(corner.half);
    line.push_back(at + 0.5 * (mean - apart) * plan(corner.back) + 0.5 * (mean + apart) * plan(corner.ahead));
  }
}

}  // namespace

Polyline2 with_round_corners(const FrontLoop& points, bool closed, const FrontOptions& options) {
  const std::size_t n = points.size();
  std::vector<std::optional<HollowCorner>> corners(n);
  std::vector<std::uint8_t> dropped(n, 0);
  for (std::size_t i = 0; i < n; ++i) {
    corners[i] = hollow_corner(points, i, closed, options);
    if (!corners[i]) continue;
    for (const bool forward : {true, false}) {
      double way = 0;
      for (std::size_t k = 1; k < n; ++k) {
        if (!closed && (forward ? i + k >= n : k > i)) break;
        const std::size_t next = forward ? (i + k) % n : (i + n - k) % n,
                          last = forward ? (i + k - 1) % n : (i + n - k + 1) % n;
        way += (points[next].tip - points[last].tip).norm();
        if (way > corners[i]->tangent) break;
        dropped[next] = 1;
      }
    }
  }
  Polyline2 line;
  for (std::size_t i = 0; i < n; ++i) {
    if (corners[i])
      add_arc(plan(points[i].tip), *corners[i], line);
    else if (!dropped[i] || (!closed && (i == 0 || i + 1 == n)))
      line.push_back(plan(points[i].tip));
  }
  return line;
}

FrontRuns::FrontRuns(const Region& area, const FrontOptions& options)
    : border_(area),
      area_(offset(area, kOnBorder)),
      bands_(area_),
      deep_(offset(area, -kBeside * options.stepover_mm, 0.1 * options.stepover_mm)),
      near_border_(options.stepover_mm),
      options_(options) {}

void FrontRuns::note(const Run& run) {
  const std::size_t n = run.points.size();
  for (std::size_t i = 0; i + (run.closed ? 0 : 1) < n; ++i) {
    const Vec3 &a = run.points[i].tip, &b = run.points[(i + 1) % n].tip;
    if (!deep_.contains(plan(a)) || !deep_.contains(plan(b))) near_border_.add(a, b);
  }
}

std::vector<FrontRuns::Run> FrontRuns::runs_of(const FrontLoop& loop) const {
  const std::size_t n = loop.size();
  std::vector<std::uint8_t> in(n);
  std::size_t out = n;
  for (std::size_t i = 0; i < n; ++i) {
    in[i] = belongs(loop[i]);
    if (!in[i]) out = i;
  }
  std::vector<Run> runs;
  if (out == n) {
    Run whole{loop, {}, true};
    for (std::size_t i = 0; i < n; ++i) whole.of.push_back(i);
    runs.push_back(std::move(whole));
    return runs;
  }
  const auto crossing = [&](const FrontPoint& from, const FrontPoint& to, bool enters) {
    FrontPoint at = enters ? to : from;
    if (!from.touched || !to.touched) return at;
    const std::vector<Interval> pieces = inside(area_, plan(from.tip), plan(to.tip));
    if (pieces.empty()) return at;
    const double share = enters ? pieces.back().from : pieces.front().to;
    at.tip = from.tip + (to.tip - from.tip) * share;
    return at;
  };
  Run run;
  for (std::size_t k = 1; k <= n; ++k) {
    const std::size_t i = (out + k) % n, before = (i + n - 1) % n;
    if (in[i]) {
      if (run.points.empty()) run.points.push_back(crossing(loop[before], loop[i], true));
      run.points.push_back(loop[i]);
      run.of.push_back(i);
    } else if (!run.points.empty()) {
      run.points.push_back(crossing(loop[before], loop[i], false));
      runs.push_back(std::move(run));
      run = {};
    }
  }
  return runs;
}

FrontPass FrontRuns::pass_of(Run run, std::int32_t step, bool middle) {
  note(run);
  FrontPass pass;
  pass.closed = run.closed;
  pass.step = step;
  pass.middle = middle;
  pass.from = passes_under(run.points);
  // The start itself stays as it is.
  if (step > 0) run.points = worth_keeping(run.points, run.closed, options_.stepover_mm);
  const bool round = step > 0 && !middle && options_.round_corners;
  pass.line = round ? with_round_corners(run.points, run.closed, options_) : in_plan(run.points);
  return pass;
}

void FrontRuns::add(std::vector<FrontLoop>& loops, std::int32_t step, std::vector<FrontPass>& passes) {
  for (FrontLoop& loop : loops) {
    std::vector<std::int32_t> marks(loop.size(), -1);
    for (Run& run : runs_of(loop)) {
      for (const std::size_t i : run.of) marks[i] = static_cast<std::int32_t>(passes.size());
      passes.push_back(pass_of(std::move(run), step, false));
    }
    for (std::size_t i = 0; i < loop.size(); ++i) loop[i].pass = marks[i];
  }
}

void FrontRuns::add_middle(const FrontLoop& outline, std::int32_t step, std::vector<FrontPass>& passes) {
  for (Run& run : runs_of(outline)) passes.push_back(pass_of(std::move(run), step, true));
}

void FrontRuns::add_border(const Ground& ground, std::vector<FrontPass>& passes, FrontCounts& counts) {
  constexpr double kApart = 0.25;  // of the stepover
  const double s = options_.stepover_mm;
  std::int32_t last = 0;
  for (const FrontPass& pass : passes) last = std::max(last, pass.step);
  for (const Polyline2& loop : border_.loops) {
    const Polyline2 line = with_more_points(loop, true, kApart * s);
    const std::size_t n = line.size();
    std::vector<std::uint8_t> far(n, 0);
    std::int32_t near = -1;
    for (std::size_t i = 0; i < n; ++i) {
      const FrontPoint at = ground.at(line[i], near);
      ++counts.touches;
      near = at.triangle;
      far[i] = at.touched && at.triangle >= 0 && !near_border_.near(at.tip, options_.farthest * s);
    }
    // A sample more at each end, so that nothing stays between.
    const std::vector<std::uint8_t> alone = far;
    for (std::size_t i = 0; i < n; ++i) far[i] = alone[i] || alone[(i + 1) % n] || alone[(i + n - 1) % n];
    const auto covered = std::find(far.begin(), far.end(), 0);
    const bool whole = covered == far.end();
    const std::size_t first = whole ? 0 : static_cast<std::size_t>(covered - far.begin());
    FrontPass pass;
    const auto finish = [&] {
      pass.middle = true, pass.step = last;
      if (pass.line.size() > 1) passes.push_back(std::move(pass));
      pass = {};
    };
    for (std::size_t k = 0; k < n; ++k) {
      const std::size_t i = (first + k) % n;
      if (far[i])
        pass.line.push_back(line[i]);
      else
        finish();
    }
    pass.closed = whole;
    finish();
  }
}

}  // namespace yardpass::detail
