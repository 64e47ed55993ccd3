#include "yardpass/link/smooth.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "geom/parallel_for.h"
#include "link/smooth_points.h"
#include "yardpass/geom/polyline.h"

namespace yardpass {

namespace {

using detail::Block;
using detail::SmoothPoint;

constexpr double kPlay = 0.42;  // of the tolerance: half of it is on either side of the middle

/// Moves of one cut at one feed, [first, last).
struct Run {
  std::size_t first, last;
  Polyline3 line;
};

std::vector<Run> runs_of(const Toolpath& path) {
  std::vector<Run> runs;
  Vec3 at = path.start;
  for (std::size_t i = 0; i < path.moves.size(); ++i) {
    const Move& move = path.moves[i];
    if (move.kind == MoveKind::cut && move.arc < 0) {
      const Move* const before = i > 0 ? &path.moves[i - 1] : nullptr;
      const bool goes_on = before && !runs.empty() && runs.back().last == i && before->cut == move.cut &&
                           before->feed_mm_min == move.feed_mm_min;
      if (!goes_on) runs.push_back({i, i, {at}});
      runs.back().last = i + 1;
      runs.back().line.push_back(move.to);
    }
    at = move.to;
  }
  return runs;
}

/// One run, from its first point to its last.
class RunSmoother {
 public:
  RunSmoother(const Tube& tube, double tolerance, const SmoothOptions& options, const Region& keep_out)
      : tube_(tube), source_(tube), play_(kPlay * tolerance), options_(options), keep_out_(keep_out) {}

  /// Nothing if it has to stay as it is: for want of a proof, or since it would have no fewer blocks.
  std::optional<std::vector<Block>> run(const Polyline3& line) {
    // No steeper down than it was planned, but for a hair.
    steepest_ = std::sin(options_.steepest_deg * std::numbers::pi / 180);
    for (std::size_t i = 0; i + 1 < line.size(); ++i)
      steepest_ =
          std::max(steepest_, (line[i].z() - line[i + 1].z()) / (line[i + 1] - line[i]).norm() + 1e-3);
    points_ = source_.points(line);
    blocks_.clear(), ends_.clear();
    from_ = posted(points_.front().at, options_.posted.step_mm);
    for (std::size_t i = 0; i + 1 < points_.size();) {
      const auto next = go_on(i);
      if (!next) {
        unproven_ = true;
        return std::nullopt;
      }
      i = *next;
    }
    even_out();
    std::erase_if(blocks_, [](const Block& block) { return !block.arc && block.from == block.to; });
    if (blocks_.size() >= line.size()) return std::nullopt;
    return blocks_;
  }

  [[nodiscard]] bool unproven() const { return unproven_; }

 private:
  [[nodiscard]] Vec3 said(std::size_t i) const { return posted(points_[i].at, options_.posted.step_mm); }

  [[nodiscard]] std::optional<Block> fit(const Vec3& from, std::size_t i, std::size_t j) const {
    const std::span<const SmoothPoint> between(points_.data() + i + 1, j - i - 1);
    return detail::fit_block(from, said(j), between, play_, options_.planes, options_.posted);
  }

  /// As far as one curvature goes: by doubling, halving, and a look a little farther.
  [[nodiscard]] std::size_t farthest(std::size_t i) const {
    const std::size_t last = points_.size() - 1;
    std::size_t good = i + 1, bad = last + 1;
    for (std::size_t step = 2; good < last; step *= 2) {
      const std::size_t j = std::min(last, i + step);
      if (fit(from_, i, j)) {
        good = j;
        continue;
      }
      bad = j;
      if (step > 8) break;
    }
    while (bad > good + 1 && bad <= last) {
      const std::size_t j = (good + bad) / 2;
      (fit(from_, i, j) ? good : bad) = j;
    }
    constexpr std::size_t kFarther = 10;
    for (std::size_t j = std::min(last, good + kFarther); j > good + 1; --j)
      if (fit(from_, i, j)) return j;
    return good;
  }

  /// The next block, which ends at the point that is told; nothing if none can be proven.
  std::optional<std::size_t> go_on(std::size_t i) {
    for (std::size_t j = farthest(i); j > i + 1;) {
      if (const auto block = fit(from_, i, j); block && is_proven(*block, i, j)) return take(*block, j);
      j = std::max(i + 1, i + (j - i) * 3 / 4);
    }
    for (int more = 0; more < 40; ++more) {
      const Block block{from_, said(i + 1)};
      if (block.from == block.to || is_proven(block, i, i + 1)) return take(block, i + 1);
      const auto half_way = source_.between(points_[i], points_[i + 1]);
      if (!half_way) {
        const bool as_planned = points_[i].planned && points_[i + 1].planned && !points_[i].more_to_next;
        if (as_planned) return take(block, i + 1);
        return std::nullopt;
      }
      points_.insert(points_.begin() + static_cast<std::ptrdiff_t>(i) + 1, *half_way);
    }
    return std::nullopt;
  }

  std::size_t take(const Block& block, std::size_t j) {
    blocks_.push_back(block);
    ends_.push_back(j);
    from_ = block.to;
    return j;
  }

  [[nodiscard]] bool is_proven(const Block& block, std::size_t i, std::size_t j) const {
    const Arc* const arc = block.arc ? &*block.arc : nullptr;
    if (too_steep(block) || !within_limits(block)) return false;
    if (!(arc ? tube_.is_free(*arc) : tube_.is_free(block.from, block.to))) return false;
    const bool rests = std::all_of(points_.begin() + static_cast<std::ptrdiff_t>(i),
                                   points_.begin() + static_cast<std::ptrdiff_t>(j) + 1,
                                   [](const SmoothPoint& point) { return point.rests; });
    if (!rests) return is_near(block, i, j);
    return arc ? tube_.cover(*arc).whole : tube_.cover(block.from, block.to).whole;
  }

  /// Along an arc its own bulge from the chords of the line counts too.
  [[nodiscard]] bool is_near(const Block& block, std::size_t i, std::size_t j) const {
    if (!block.arc) return true;  // the fit has seen to it
    const std::vector<Vec3> chords = chord_points(*block.arc, 0.1 * play_);
    return std::all_of(chords.begin(), chords.end(), [&](const Vec3& p) {
      for (std::size_t k = i; k < j; ++k)
        if (distance_to_segment(p, points_[k].at, points_[k + 1].at) <= play_) return true;
      return false;
    });
  }

  [[nodiscard]] bool too_steep(const Block& block) const {
    if (!block.arc) {
      const Vec3 way = block.to - block.from;
      return -way.z() > steepest_ * way.norm() && -way.z() > 10 * options_.posted.step_mm;
    }
    if (block.arc->plane == ArcPlane::xy && block.arc->rise() >= 0) return false;
    return -block.arc->direction(0).z() > steepest_ || -block.arc->direction(1).z() > steepest_;
  }

  [[nodiscard]] bool within_limits(const Block& block) const {
    const bool deep = options_.bottom_z > -1e100;
    if (!deep && keep_out_.empty()) return true;
    const std::vector<Vec3> chords =
        block.arc ? chord_points(*block.arc, 0.1 * play_) : std::vector<Vec3>{block.from, block.to};
    for (std::size_t k = 0; k < chords.size(); ++k) {
      if (chords[k].z() < options_.bottom_z - options_.posted.step_mm) return false;
      if (k == 0 || keep_out_.empty()) continue;
      for (const Interval& piece : inside(keep_out_, plan(chords[k - 1]), plan(chords[k])))
        if (piece.to > piece.from) return false;
    }
    return true;
  }

  /// A short block behind or before a long one: their joint is moved to the middle of both, if that holds.
  void even_out() {
    constexpr double kShort = 0.25;  // of its neighbour
    for (std::size_t b = 0; b + 1 < blocks_.size(); ++b) {
      const double one = blocks_[b].length(), other = blocks_[b + 1].length();
      if (std::min(one, other) > kShort * std::max(one, other)) continue;
      const std::size_t i = b == 0 ? 0 : ends_[b - 1], k = ends_[b + 1];
      const auto middle = half_way(i, k);
      if (middle <= i || middle >= k) continue;
      const Vec3 from = blocks_[b].from;
      const auto first = fit(from, i, middle);
      if (!first || !is_proven(*first, i, middle)) continue;
      const auto second = fit(first->to, middle, k);
      if (!second || !is_proven(*second, middle, k)) continue;
      blocks_[b] = *first, blocks_[b + 1] = *second;
      ends_[b] = middle;
    }
  }

  [[nodiscard]] std::size_t half_way(std::size_t i, std::size_t k) const {
    double whole = 0, sum = 0;
    for (std::size_t m = i; m < k; ++m) whole += (points_[m + 1].at - points_[m].at).norm();
    std::size_t m = i;
    while (m < k && sum < 0.5 * whole) sum += (points_[m + 1].at - points_[m].at).norm(), ++m;
    return m;
  }

  const Tube& tube_;
  detail::PointSource source_;
  double play_, steepest_ = 1;
  const SmoothOptions& options_;
  const Region& keep_out_;
  std::vector<SmoothPoint> points_;
  Vec3 from_ = Vec3::Zero();
  bool unproven_ = false;
  std::vector<Block> blocks_;
  std::vector<std::size_t> ends_;  // index of the point where each block ends
};

/// Where cuts begin and end they are taken off the part into the middle of the tolerance, so that the blocks
/// there are no shorter than others. What leads there, or away, must stay free.
class Ends {
 public:
  Ends(Toolpath& path, const Tube& tube, double step_mm)
      : path_(path), tube_(tube), source_(tube), step_(step_mm) {}

  void raise(const std::vector<Run>& runs) {
    for (const Run& run : runs) {
      const Polyline3& line = run.line;
      move_end(run.last - 1, line.back() - line[line.size() - 2]);
      if (run.first > 0) move_end(run.first - 1, line[1] - line[0]);
    }
  }

 private:
  void move_end(std::size_t move, const Vec3& along) {
    constexpr double kLevel = 1e-9;
    Vec3& end = path_.moves[move].to;
    const Vec3 as_it_was = end;
    const Vec3 before = move == 0 ? path_.start : path_.moves[move - 1].to;
    end = posted(end, step_);
    if (std::abs(along.z()) < kLevel) return;
    const Vec3 raised = posted(source_.raised(as_it_was, along), step_);
    if (!tube_.is_free(before, raised)) return;
    if (move + 1 < path_.moves.size() && !tube_.is_free(raised, path_.moves[move + 1].to)) return;
    end = raised;
  }

  Toolpath& path_;
  const Tube& tube_;
  detail::PointSource source_;
  double step_;
};

void check(const SmoothOptions& options) {
  require(options.tolerance_mm > 0, "tolerance_mm", "must be above 0");
  require(options.posted.step_mm > 0, "step_mm", "must be above 0");
}

}  // namespace

SmoothedPath smooth(const Toolpath& given, const ToolSurface& exact, const SmoothOptions& options,
                    const Progress& progress) {
  check(options);
  // The path was planned with room for rounding on both sides; so its middle is that of the tolerance.
  const double reserve = given.rounding_reserve_mm.value_or(0);
  const double tolerance = std::max(options.tolerance_mm, 4 * options.posted.step_mm);
  // Of the chords that arcs are proven by: coarser is quicker, but takes room off the tolerance.
  const double sagitta = std::clamp(0.05 * tolerance, 1e-4, 1e-3);
  const Tube tube(exact, tolerance + 2 * reserve, sagitta);
  const Region keep_out =
      options.keep_out.empty() ? Region{} : offset(options.keep_out, -0.4 * options.posted.step_mm);
  SmoothedPath result;
  Toolpath path = given;
  Ends(path, tube, options.posted.step_mm).raise(runs_of(path));
  std::vector<Run> runs = runs_of(path);
  std::vector<std::optional<std::vector<Block>>> smoothed(runs.size());
  std::vector<std::uint8_t> unproven(runs.size(), 0);
  detail::parallel_for(runs.size(), progress, [&](std::size_t k) {
    RunSmoother smoother(tube, options.tolerance_mm, options, keep_out);
    smoothed[k] = smoother.run(runs[k].line);
    unproven[k] = smoother.unproven();
  });
  std::vector<Move> moves;
  std::size_t next = 0;
  for (std::size_t i = 0; i < path.moves.size(); ++i) {
    if (next == runs.size() || i != runs[next].first) {
      moves.push_back(path.moves[i]);
      continue;
    }
    const Run& run = runs[next];
    result.kept_runs += unproven[next];
    const auto& blocks = smoothed[next++];
    i = run.last - 1;
    if (!blocks) {
      moves.insert(moves.end(), path.moves.begin() + static_cast<std::ptrdiff_t>(run.first),
                   path.moves.begin() + static_cast<std::ptrdiff_t>(run.last));
      continue;
    }
    for (const Block& block : *blocks) {
      Move move = path.moves[run.first];
      move.to = block.to;
      move.arc = -1;
      if (block.arc) {
        move.arc = static_cast<std::int32_t>(path.arcs.size());
        path.arcs.push_back(*block.arc);
      }
      moves.push_back(move);
    }
  }
  path.moves = std::move(moves);
  result.path = std::move(path);
  return result;
}

}  // namespace yardpass
