#include <algorithm>
#include <cmath>
#include <optional>

#include "geom/more_points.h"
#include "plan/front/front_runs.h"
#include "plan/front/front_state.h"
#include "plan/front/measure.h"

namespace yardpass {

namespace {

using detail::FrontChain;
using detail::FrontCounts;
using detail::FrontLoop;
using detail::FrontPoint;
using detail::Ground;
using detail::Heads;

double turn_at(const FrontLoop& loop, std::size_t i) {
  const std::size_t n = loop.size();
  const Vec3 in = loop[i].tip - loop[(i + n - 1) % n].tip, on = loop[(i + 1) % n].tip - loop[i].tip;
  if (in.norm() < 1e-9 || on.norm() < 1e-9) return 0;
  return std::acos(std::clamp(in.dot(on) / (in.norm() * on.norm()), -1.0, 1.0));
}

/// Where the loop is straightest: it goes on farthest, on both sides, before it has turned by so much.
std::size_t seam_of(const FrontLoop& loop) {
  constexpr double kTurn = 0.3;  // radians
  const std::size_t n = loop.size();
  // Three times around: how far, and turned by how much, before each point.
  std::vector<double> ways{0}, turns{0};
  for (std::size_t k = 0; k < 3 * n; ++k) {
    ways.push_back(ways.back() + (loop[(k + 1) % n].tip - loop[k % n].tip).norm());
    turns.push_back(turns.back() + turn_at(loop, k % n));
  }
  std::size_t best = 0;
  double farthest = -1;
  for (std::size_t i = n; i < 2 * n; ++i) {
    const auto ahead = std::upper_bound(turns.begin(), turns.end(), turns[i] + kTurn) - turns.begin() - 1,
               behind = std::lower_bound(turns.begin(), turns.end(), turns[i + 1] - kTurn) - turns.begin();
    const std::size_t to = std::min(static_cast<std::size_t>(ahead), i + n / 2),
                      from = std::max(static_cast<std::size_t>(behind), i - n / 2);
    const double reach = std::min(ways[to] - ways[i], ways[i] - ways[from]);
    if (reach > farthest + 1e-9) farthest = reach, best = i - n;
  }
  return best;
}

class SpiralMaker {
 public:
  SpiralMaker(const Ground& ground, const FrontOptions& options, bool right, bool hole)
      : ground_(ground), options_(options), right_(right), hole_(hole) {}

  /// The first turn leaves the loop, which begins at the seam.
  void begin(const FrontLoop& loop) {
    FrontChain chain{loop, false, {}};
    chain.points.push_back(loop.front());
    double total = 0;
    std::vector<double> ways{0};
    for (std::size_t i = 1; i < chain.points.size(); ++i)
      ways.push_back(total += (chain.points[i].tip - chain.points[i - 1].tip).norm());
    std::vector<double> steps = steps_of(ground_, chain, options_, counts_);
    if (steps.empty()) steps.assign(chain.points.size(), options_.stepover_mm);
    for (std::size_t i = 0; i < steps.size(); ++i) steps[i] *= right_ ? ways[i] / total : 1 - ways[i] / total;
    chain.steps = std::move(steps);
    turn_ = std::move(chain.points);
    advance({turn_, false, std::move(chain.steps)}, false);
  }
  /// False if there is no further turn.
  bool next() {
    FrontChain chain{turn_, false, {}};
    chain.steps = steps_of(ground_, chain, options_, counts_);
    return advance(std::move(chain), true);
  }
  [[nodiscard]] const FrontLoop& turn() const { return turn_; }  // along the loop's own direction
  [[nodiscard]] std::int64_t breaks() const { return breaks_; }

 private:
  bool advance(FrontChain chain, bool joined) {
    FrontLoop heads = std::move(heads_of(ground_, {chain}, options_.stepover_mm, counts_).front().points);
    if (heads.size() < 4) return false;
    // It begins where the turn before ended.
    if (joined) (right_ ? heads.front() : heads.back()) = right_ ? turn_.back() : turn_.front();
    std::vector<Polyline2> raw{detail::in_plan(heads)};
    if (hole_) raw.push_back(detail::far_box());
    const Region united = wound_around(raw, false);
    std::optional<FrontLoop> found = cut_open(united, heads);
    if (!found || found->size() < 4) return false;
    turn_ = std::move(*found);
    return true;
  }

  /// Of the loops, the one nearest to the ends of the raw line, from the one end to the other.
  std::optional<FrontLoop> cut_open(const Region& united, const FrontLoop& heads) {
    const Vec2 first = plan(heads.front().tip), last = plan(heads.back().tip);
    const Polyline2* best = nullptr;
    std::size_t at = 0;
    double least = reach(heads.front());
    for (const Polyline2& loop : united.loops) {
      if ((signed_area(loop) < 0) != hole_) continue;
      for (std::size_t i = 0; i < loop.size(); ++i)
        if ((loop[i] - first).norm() < least) least = (loop[i] - first).norm(), best = &loop, at = i;
    }
    if (!best) return std::nullopt;
    if (least > kSame) ++breaks_;
    FrontLoop result;
    std::size_t end = 0;
    double off = reach(heads.back());
    std::size_t known = 0;
    for (std::size_t k = 0; k < best->size(); ++k) {
      const Vec2& place = (*best)[(at + k) % best->size()];
      // Raw points come in the same order.
      std::size_t search = known;
      while (search < heads.size() && (plan(heads[search].tip) - place).norm() > kSame) ++search;
      if (search < heads.size()) {
        known = search;
        result.push_back(heads[search]);
      } else {
        result.push_back(ground_.at(place, result.empty() ? -1 : result.back().triangle));
      }
      result.back().live = result.back().touched;
      if (k > 0 && (place - last).norm() <= off) off = (place - last).norm(), end = k;
    }
    if (end == 0) return std::nullopt;
    if (off > kSame) ++breaks_;
    result.resize(end + 1);
    if (detail::extent(result) < kSmallest * options_.stepover_mm) return std::nullopt;
    detail::thin(result, false, options_.stepover_mm);
    return result;
  }

  /// In plan, how far along the surface a stepover reaches at least.
  [[nodiscard]] double reach(const FrontPoint& at) const {
    return options_.stepover_mm * std::max(0.01, at.normal.z());
  }

  static constexpr double kSame = 2e-6;     // mm, on the lattice
  static constexpr double kSmallest = 0.6;  // of the stepover
  const Ground& ground_;
  const FrontOptions& options_;
  bool right_, hole_;
  FrontLoop turn_;
  FrontCounts counts_;
  std::int64_t breaks_ = 0;
};

}  // namespace

namespace {

FrontLoop points_of(const Ground& ground, const Polyline2& line) {
  FrontLoop points;
  for (const Vec2& p : line) {
    points.push_back(ground.at(detail::on_lattice(p), points.empty() ? -1 : points.back().triangle));
    points.back().live = points.back().touched;
  }
  return points;
}

/// A place of the first line from which a straight stretch of the last one is reached: every place of a front
/// is reached from the nearest one of the front before.
Vec2 seam_on_first(const Ground& ground, const std::vector<FrontPass>& lines) {
  const FrontLoop last = points_of(ground, lines.back().line);
  Vec2 place = plan(last[seam_of(last)].tip);
  for (auto line = lines.rbegin() + 1; line < lines.rend(); ++line)
    place = nearest_on_loop(line->line, place).at;
  return place;
}

/// From a place on it on, with points no farther apart than that.
Polyline2 begun_at(const Polyline2& line, const Vec2& place, double longest) {
  const NearestOnLoop nearest = nearest_on_loop(line, place);
  Polyline2 result{nearest.at};
  for (std::size_t k = 1; k <= line.size(); ++k) {
    const Vec2& p = line[(nearest.piece + k) % line.size()];
    if ((p - nearest.at).norm() > 10 * kRegionStep) result.push_back(p);
  }
  return detail::with_more_points(result, true, longest);
}

}  // namespace

FrontSpiral front_spiral(const TipSurface& surface, const std::vector<FrontPass>& lines, bool right,
                         const FrontOptions& options) {
  require(options.stepover_mm > 0, "stepover_mm", "must be above 0");
  require(!lines.empty(), "lines", "must be at least one");
  for (const FrontPass& line : lines) require(line.closed && line.line.size() > 2, "lines", "must be closed");
  const Ground ground(surface, std::nullopt);
  const FrontPass& first = lines.front();
  const FrontLoop points =
      points_of(ground, begun_at(first.line, seam_on_first(ground, lines), options.stepover_mm));
  FrontSpiral result;
  for (const FrontPoint& point : points)
    if (!point.touched) return result;
  const auto add = [&](const FrontLoop& points_of_turn, bool round) {
    const FrontLoop turn = detail::worth_keeping(points_of_turn, false, options.stepover_mm);
    Polyline2 line = round && options.round_corners ? detail::with_round_corners(turn, false, options)
                                                    : detail::in_plan(turn);
    if (!right) std::reverse(line.begin(), line.end());
    const bool joins = !result.line.empty() && (result.line.back() - line.front()).norm() < 1e-9;
    if (!result.line.empty()) result.joints.push_back(result.line.size() - 1);
    result.line.insert(result.line.end(), line.begin() + (joins ? 1 : 0), line.end());
  };
  FrontLoop whole = points;
  whole.push_back(points.front());
  add(whole, first.step > 0);
  const auto turns = static_cast<std::int32_t>(lines.size()) - 1;
  if (turns == 0) return result;
  SpiralMaker maker(ground, options, right, signed_area(first.line) < 0);
  maker.begin(points);
  add(maker.turn(), true);
  result.turns = 1;
  for (; result.turns < turns && maker.next(); ++result.turns) add(maker.turn(), true);
  result.breaks = maker.breaks();
  return result;
}

}  // namespace yardpass
