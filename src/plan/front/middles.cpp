#include "plan/front/middles.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "geom/more_points.h"
#include "plan/front/near_lines.h"

namespace yardpass::detail {

namespace {

constexpr double kNearBefore = 0.5, kNearAfter = 0.53;  // of the stepover: what counts as near a line
constexpr double kSliver = 0.02;                        // of the stepover
constexpr double kAround = 2;                           // stepovers of the line beside a swallowed stretch

/// Whether a ray passes a place that is far from the line it comes from and from the new ones. Places ahead
/// of a front lie on rays from their nearest places of it.
bool passes_far(const Vec3& base, const Vec3& head, const NearLines& lines, const FrontRuns& runs,
                double farthest) {
  constexpr int kPlaces = 5;
  constexpr double kSure = 0.95;
  const double size = (head - base).norm();
  for (int k = 0; k < kPlaces && size > farthest; ++k) {
    const double way = farthest + (size - farthest) * k / (kPlaces - 1);
    const Vec3 place = base + (head - base) * (way / size);
    if (runs.contains(plan(place)) && !lines.near(place, kSure * farthest)) return true;
  }
  return false;
}

/// How far each point of a closed chain lies from the nearest marked one, along the chain.
std::vector<double> ways_from(const FrontLoop& loop, const std::vector<std::uint8_t>& marks) {
  const std::size_t n = loop.size();
  std::vector<double> ways(n, std::numeric_limits<double>::infinity());
  for (const bool forward : {true, false}) {
    double way = std::numeric_limits<double>::infinity();
    for (std::size_t k = 0; k < 2 * n; ++k) {
      const std::size_t i = forward ? k % n : n - 1 - k % n, last = forward ? (i + n - 1) % n : (i + 1) % n;
      way = marks[i] ? 0 : way + (loop[i].tip - loop[last].tip).norm();
      ways[i] = std::min(ways[i], way);
    }
  }
  return ways;
}

/// A point on the straight piece between two of a line.
FrontPoint between(const Ground& ground, const FrontPoint& from, const FrontPoint& to, double share,
                   FrontCounts& counts) {
  FrontPoint point = ground.at(plan(from.tip) + share * (plan(to.tip) - plan(from.tip)), from.triangle);
  ++counts.touches;
  point.live = point.touched && from.live;
  point.pass = from.pass;
  return point;
}

/// On pieces that are longer than twice a way, points as far from their ends.
void part_long_pieces(const Ground& ground, double way, FrontLoop& loop, std::vector<std::uint8_t>& marks,
                      FrontCounts& counts) {
  FrontLoop parted;
  std::vector<std::uint8_t> parted_marks;
  for (std::size_t i = 0; i < loop.size(); ++i) {
    const FrontPoint &here = loop[i], &next = loop[(i + 1) % loop.size()];
    parted.push_back(here);
    parted_marks.push_back(marks[i]);
    const double size = (next.tip - here.tip).norm();
    if (size <= 2 * way || !here.touched || !next.touched) continue;
    for (const double share : {way / size, 1 - way / size}) {
      parted.push_back(between(ground, here, next, share, counts));
      parted_marks.push_back(0);
    }
  }
  loop = std::move(parted);
  marks = std::move(parted_marks);
}

/// Stretches of a closed chain up to a way from marked points, as open chains.
std::vector<FrontChain> stretches(const Ground& ground, FrontLoop loop, std::vector<std::uint8_t> marks,
                                  double around, FrontCounts& counts) {
  part_long_pieces(ground, 1.01 * around, loop, marks, counts);
  const std::size_t n = loop.size();
  const std::vector<double> ways = ways_from(loop, marks);
  std::vector<FrontChain> result;
  const auto gap = std::find_if(ways.begin(), ways.end(), [&](double way) { return way > around; });
  if (gap == ways.end()) {
    result.push_back({loop, true, {}});
    return result;
  }
  // On long pieces a stretch ends between their points.
  const auto end_between = [&](std::size_t inner, std::size_t outer) {
    const double size = (loop[outer].tip - loop[inner].tip).norm();
    const double share = std::min(1.0, (around - ways[inner]) / std::max(size, 1e-12));
    return between(ground, loop[inner], loop[outer], share, counts);
  };
  const auto first = static_cast<std::size_t>(gap - ways.begin());
  FrontChain chain{{}, false, {}};
  for (std::size_t k = 1; k <= n; ++k) {
    const std::size_t i = (first + k) % n, before = (i + n - 1) % n;
    if (ways[i] <= around) {
      if (chain.points.empty()) chain.points.push_back(end_between(i, before));
      chain.points.push_back(loop[i]);
    } else if (!chain.points.empty()) {
      chain.points.push_back(end_between(before, i));
      result.push_back(std::move(chain));
      chain = {{}, false, {}};
    }
  }
  return result;
}

/// What chains sweep as they advance by a share of the stepover.
Region swept(const Ground& ground, std::vector<FrontChain> chains, double share, const FrontOptions& options,
             FrontCounts& counts) {
  for (FrontChain& chain : chains) chain.steps.assign(chain.points.size(), share * options.stepover_mm);
  std::vector<Polyline2> loops;
  for (const Heads& heads : heads_of(ground, chains, options.stepover_mm, counts))
    loops.push_back(in_plan(heads.points));
  std::vector<Polyline2> raw;
  for (std::size_t c = 0; c < chains.size(); ++c) {
    const Polyline2 base = in_plan(chains[c].points);
    if (chains[c].closed) {
      raw.push_back(loops[c]);
      raw.emplace_back(base.rbegin(), base.rend());
    } else {
      Polyline2 loop = loops[c];
      loop.insert(loop.end(), base.rbegin(), base.rend());
      raw.push_back(std::move(loop));
    }
  }
  return wound_around(raw, false);
}

/// The distance in space from a place to the nearest of the chains; up to `reach` in plan.
double distance_to(const std::vector<FrontChain>& chains, const Vec3& p, double reach) {
  double least = reach;
  for (const FrontChain& chain : chains)
    for (std::size_t i = 0; i + (chain.closed ? 0 : 1) < chain.points.size(); ++i) {
      const Vec3 &a = chain.points[i].tip, &b = chain.points[(i + 1) % chain.points.size()].tip;
      if ((plan(a) - plan(p)).norm() > 2 * reach) continue;
      least = std::min(least, distance_to_segment(p, a, b));
    }
  return least;
}

/// Whether some place within an outline, which is a narrow one there and back, is farther from all chains.
bool holds_farther(const Ground& ground, const FrontLoop& outline, const std::vector<FrontChain>& before,
                   const std::vector<FrontChain>& after, double farther, FrontCounts& counts) {
  constexpr std::size_t kPlaces = 24;
  const std::size_t n = outline.size();
  const Polyline2 line = in_plan(outline);
  const Region inner{{line}};
  const auto far = [&](const Vec2& place) {
    const FrontPoint at = ground.at(place, outline.front().triangle);
    ++counts.touches;
    return at.touched && distance_to(before, at.tip, 2 * farther) > farther &&
           distance_to(after, at.tip, 2 * farther) > farther;
  };
  Vec2 middle(0, 0);
  for (const Vec2& p : line) middle += p / static_cast<double>(n);
  if (inner.contains(middle) && far(middle)) return true;
  // Half-way across, between points that lie opposite each other.
  const std::size_t stride = std::max<std::size_t>(1, n / kPlaces);
  for (std::size_t i = 0; i < n; i += stride) {
    std::size_t opposite = (i + n / 2) % n;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t k = n / 4; k <= n - n / 4; ++k) {
      const double off = (line[(i + k) % n] - line[i]).norm();
      if (off < least) least = off, opposite = (i + k) % n;
    }
    const Vec2 across = 0.5 * (line[i] + line[opposite]);
    if (inner.contains(across) && far(across)) return true;
  }
  return false;
}

/// Twice the area over the length around, in space: half the width of what is narrow.
double half_width(const FrontLoop& outline) {
  Vec3 twice(0, 0, 0);
  double around = 0;
  const std::size_t n = outline.size();
  for (std::size_t i = 0; i < n; ++i) {
    const Vec3 &a = outline[i].tip, &b = outline[(i + 1) % n].tip;
    twice += (a - outline[0].tip).cross(b - outline[0].tip);
    around += (b - a).norm();
  }
  return around > 0 ? twice.norm() / around : 0;
}

/// Of the point of the chains that is nearest.
std::int32_t pass_near(const std::vector<FrontChain>& chains, const Vec3& p) {
  std::int32_t pass = -1;
  double least = std::numeric_limits<double>::infinity();
  for (const FrontChain& chain : chains)
    for (const FrontPoint& point : chain.points) {
      const double off = (point.tip - p).norm();
      if (off < least) least = off, pass = point.pass;
    }
  return pass;
}

void add(const FrontLoop& loop, NearLines& lines) {
  for (std::size_t i = 0; i < loop.size(); ++i) {
    const FrontPoint &a = loop[i], &b = loop[(i + 1) % loop.size()];
    if (a.touched && b.touched && (a.live || b.live)) lines.add(a.tip, b.tip);
  }
}

/// Whether the ray to a head may pass something far from all lines: not if the head lies on a new line,
/// unless it jumped a wall.
bool may_pass_far(const FrontChain& chain, const Heads& heads, std::size_t head, double stepover) {
  constexpr double kJumped = 1.2;
  const std::size_t i = heads.base[head];
  const FrontPoint& base = chain.points[i];
  if (!base.live) return false;
  const double step = chain.steps.empty() ? stepover : chain.steps[i];
  return !heads.kept[head] || (heads.points[head].tip - base.tip).norm() > kJumped * step;
}

bool any_may_pass_far(const FrontChain& chain, const Heads& heads, double stepover) {
  for (std::size_t k = 0; k < heads.points.size(); ++k)
    if (may_pass_far(chain, heads, k, stepover)) return true;
  return false;
}

/// Points of a loop that have rays which pass far from all lines; on its long pieces points of their own.
class FarPoints {
 public:
  FarPoints(const Ground& ground, const NearLines& lines, const FrontRuns& runs, const FrontOptions& options,
            FrontCounts& counts)
      : ground_(ground), lines_(lines), runs_(runs), options_(options), counts_(counts) {}

  /// False if there are none.
  bool mark(const FrontChain& chain, const Heads& heads) {
    const FrontLoop& loop = chain.points;
    const std::size_t n = loop.size();
    points.clear(), marks.clear();
    std::vector<std::size_t> first(n, heads.points.size()), last(n, 0);
    std::vector<std::uint8_t> far(n, 0);
    for (std::size_t k = 0; k < heads.points.size(); ++k) {
      const std::size_t i = heads.base[k];
      first[i] = std::min(first[i], k), last[i] = k;
      if (!far[i] && may_pass_far(chain, heads, k, options_.stepover_mm))
        far[i] = passes_far(loop[i].tip, heads.points[k].tip);
    }
    bool any = false;
    for (std::size_t i = 0; i < n; ++i) {
      points.push_back(loop[i]);
      marks.push_back(far[i]);
      any = any || far[i];
      const std::size_t next = (i + 1) % n;
      if (!loop[i].live || !loop[next].live || first[next] == heads.points.size()) continue;
      if (!heads.kept[last[i]] || !heads.kept[first[next]])
        any |= along(loop[i], loop[next], heads.points[last[i]], heads.points[first[next]]);
    }
    return any;
  }

  FrontLoop points;
  std::vector<std::uint8_t> marks;

 private:
  [[nodiscard]] bool passes_far(const Vec3& base, const Vec3& head) const {
    return detail::passes_far(base, head, lines_, runs_, options_.farthest * options_.stepover_mm);
  }
  bool along(const FrontPoint& from, const FrontPoint& to, const FrontPoint& head,
             const FrontPoint& next_head) {
    constexpr double kApart = 1.5;  // stepovers
    const int parts =
        static_cast<int>(std::ceil((to.tip - from.tip).norm() / (kApart * options_.stepover_mm)));
    bool any = false;
    for (int k = 1; k < parts; ++k) {
      const double share = 1.0 * k / parts;
      if (!passes_far(from.tip + share * (to.tip - from.tip), head.tip + share * (next_head.tip - head.tip)))
        continue;
      points.push_back(between(ground_, from, to, share, counts_));
      marks.push_back(1);
      any = true;
    }
    return any;
  }

  const Ground& ground_;
  const NearLines& lines_;
  const FrontRuns& runs_;
  const FrontOptions& options_;
  FrontCounts& counts_;
};

}  // namespace

std::vector<FrontLoop> middles_of(const FrontState& state, const Ground& ground, const FrontRuns& runs,
                                  const FrontOptions& options, FrontCounts& counts) {
  const double s = options.stepover_mm;
  std::vector<std::size_t> missing;
  for (std::size_t c = 0; c < state.before.size(); ++c)
    if (any_may_pass_far(state.before[c], state.heads[c], s)) missing.push_back(c);
  if (missing.empty()) return {};
  NearLines lines(s), swept_from(1.1 * s);
  for (const FrontChain& chain : state.before) add(chain.points, lines);
  for (const FrontLoop& loop : state.loops) add(loop, lines);
  std::vector<FrontChain> before, after;
  FarPoints far(ground, lines, runs, options, counts);
  for (const std::size_t c : missing) {
    if (!far.mark(state.before[c], state.heads[c])) continue;
    for (FrontChain& stretch : stretches(ground, far.points, far.marks, kAround * s, counts)) {
      for (std::size_t i = 0; i + 1 < stretch.points.size(); ++i)
        swept_from.add(stretch.points[i].tip, stretch.points[i + 1].tip);
      before.push_back(std::move(stretch));
    }
  }
  if (before.empty()) return {};
  for (const FrontLoop& loop : state.loops) {
    const FrontLoop back(loop.rbegin(), loop.rend());
    std::vector<std::uint8_t> marks(back.size(), 0);
    bool any = false;
    for (std::size_t i = 0; i < back.size(); ++i)
      if (back[i].live && swept_from.near(back[i].tip, 1.1 * s)) marks[i] = 1, any = true;
    if (!any) continue;
    for (FrontChain& stretch : stretches(ground, back, marks, kAround * s, counts))
      after.push_back(std::move(stretch));
  }
  Region rest = swept(ground, before, 1, options, counts);
  rest = subtract(rest, swept(ground, before, kNearBefore, options, counts));
  if (!after.empty()) rest = subtract(rest, swept(ground, after, kNearAfter, options, counts));
  if (rest.empty()) return {};
  std::vector<Polyline2> done;
  for (const FrontChain& chain : state.before) done.push_back(in_plan(chain.points));
  rest = subtract(rest, wound_around(done, false));
  std::vector<FrontLoop> result;
  for (const Region& piece : pieces(rest)) {
    FrontLoop outline;
    for (const Vec2& p : with_more_points(piece.loops.front(), true, s)) {
      outline.push_back(ground.at(p, outline.empty() ? -1 : outline.back().triangle));
      ++counts.touches;
    }
    for (FrontPoint& p : outline) p.pass = pass_near(before, outline.front().tip);
    // Slivers come from roundings along steep walls.
    if (half_width(outline) > kSliver * s &&
        holds_farther(ground, outline, before, after, options.farthest * s, counts))
      result.push_back(std::move(outline));
  }
  return result;
}

}  // namespace yardpass::detail
