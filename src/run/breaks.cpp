#include "run/breaks.h"

#include <algorithm>

#include "yardpass/geom/posted.h"
#include "yardpass/verify/time.h"

namespace yardpass::detail {

namespace {

/// So much of a limit is filled: corners at a break cost a little more than what is foretold here.
constexpr double kFilled = 0.97;
/// A better place counts if it comes no sooner than so much of the limit.
constexpr double kNotBefore = 0.5;

std::vector<double> seconds_of(const Toolpath& path, const MachineMotion& motion) {
  Program program;
  program.arcs = path.arcs;
  program.operations.emplace_back();
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    program.moves.push_back({at, move.to, move.feed_mm_min, 0, path.tool.number, 0, move.arc});
    at = move.to;
  }
  return seconds_of_moves(program, motion);
}

class Breaks {
 public:
  Breaks(Toolpath& path, const LinkOptions& links, const MachineJob& machine)
      : path_(path),
        links_(links),
        machine_(machine),
        step_mm_(posted_form(machine.controller).step_mm),
        seconds_(seconds_of(path, machine.motion)) {}

  /// How many were made.
  std::int64_t make() {
    std::vector<std::size_t> behind;  // moves behind which the tool goes up
    std::size_t first = 0;            // of the stretch
    double s = 0, mm = 0;
    Vec3 at = path_.start;
    for (std::size_t i = 0; i < path_.moves.size(); ++i) {
      const Move& move = path_.moves[i];
      const double own_mm = length_of(i, at);
      if (i > first && (above(s + seconds_[i], 60 * machine_.file_minutes) ||
                        above(mm + own_mm, machine_.file_length_mm))) {
        behind.push_back(best_between(first, i));
        first = behind.back() + 1;
        s = down_again_s(path_.moves[behind.back()].to), mm = 0;
        Vec3 from = path_.moves[behind.back()].to;
        for (std::size_t k = first; k < i; ++k) {
          s += seconds_[k], mm += length_of(k, from);
          from = path_.moves[k].to;
        }
      }
      s += seconds_[i], mm += own_mm;
      at = move.to;
      if (move.kind == MoveKind::rapid && at.z() >= path_.start.z() - 1e-9) first = i + 1, s = mm = 0;
    }
    insert(behind);
    return static_cast<std::int64_t>(behind.size());
  }

 private:
  static bool above(double value, double most) { return most > 0 && value > kFilled * most; }

  [[nodiscard]] double length_of(std::size_t i, const Vec3& from) const {
    const Move& move = path_.moves[i];
    if (move.kind == MoveKind::rapid) return 0;
    const Arc* const arc = path_.arc_of(move);
    return arc ? arc->length() : (move.to - from).norm();
  }

  [[nodiscard]] double down_again_s(const Vec3& place) const {
    const double rise = std::max(0.0, path_.start.z() - place.z());
    return 60 * (rise / machine_.motion.rapid_mm_min.z() +
                 links_.feed_height_mm / std::max(path_.tool.plunge_feed_mm_min, 1e-9)) +
           1;
  }

  /// The move, of these but the last, behind which the tool had best go up.
  [[nodiscard]] std::size_t best_between(std::size_t first, std::size_t last) const {
    const auto rank = [&](std::size_t i) {
      const Move &move = path_.moves[i], &next = path_.moves[i + 1];
      if (move.kind == MoveKind::rapid && next.kind == MoveKind::rapid) return 3;
      if (move.kind == MoveKind::rapid || next.kind == MoveKind::rapid) return 0;
      return move.cut != next.cut ? 2 : 1;
    };
    double all = 0;
    for (std::size_t i = first; i < last; ++i) all += seconds_[i];
    std::size_t best = last - 1;
    int best_rank = rank(best);
    double s = all;
    for (std::size_t i = last - 1; i > first && s > kNotBefore * all; --i) {
      s -= seconds_[i];
      if (rank(i - 1) > best_rank) best = i - 1, best_rank = rank(best);
    }
    return best;
  }

  void insert(const std::vector<std::size_t>& behind) {
    std::vector<Move> moves;
    auto next = behind.begin();
    for (std::size_t i = 0; i < path_.moves.size(); ++i) {
      const Move& move = path_.moves[i];
      moves.push_back(move);
      if (next == behind.end() || *next != i) continue;
      ++next;
      const Vec3 up = with_z(plan(move.to), path_.start.z());
      moves.push_back({up, MoveKind::rapid, 0, move.cut});
      const Vec3 near = posted(move.to + Vec3(0, 0, links_.feed_height_mm), step_mm_);
      if (move.kind == MoveKind::rapid) {
        moves.push_back({move.to, MoveKind::rapid, 0, move.cut});
        continue;
      }
      if (near.z() < up.z()) moves.push_back({near, MoveKind::rapid, 0, move.cut});
      moves.push_back({move.to, MoveKind::plunge, path_.tool.plunge_feed_mm_min, move.cut});
    }
    path_.moves = std::move(moves);
  }

  Toolpath& path_;
  const LinkOptions& links_;
  const MachineJob& machine_;
  double step_mm_;
  std::vector<double> seconds_;
};

}  // namespace

void add_breaks(PlannedOperation& planned, const Settled& settled, const MachineJob& machine) {
  if (machine.file_minutes <= 0 && machine.file_length_mm <= 0) return;
  if (settled.tool.undercuts()) {
    planned.notes.push_back({"file",
                             "an undercut cutter is not lifted straight up within its cuts: a file of it "
                             "may be longer than the machine's limit"});
    return;
  }
  const std::int64_t count = Breaks(planned.path, settled.values.links, machine).make();
  if (count == 0) return;
  planned.facts.push_back(
      {"breaks", count_of(count), "ways up and down again, where a file of the program may end"});
  planned.measure();
}

}  // namespace yardpass::detail
