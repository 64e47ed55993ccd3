#include "verify/engagement.h"

#include <algorithm>
#include <cmath>
#include <mutex>
#include <utility>

#include "geom/parallel_for.h"
#include "yardpass/geom/polyline.h"

namespace yardpass {

std::array<double, 18> Engagement::shares_by_ten() const {
  std::array<double, 18> shares{};
  for (std::size_t k = 0; k < mm_by_degree.size(); ++k) shares[k / 10] += mm_by_degree[k] / length_mm;
  return shares;
}

double Engagement::angle_on(double share) const {
  const double wanted = share * (length_mm - takes_nothing_mm);
  double sum = -takes_nothing_mm;
  for (std::size_t k = 0; k < mm_by_degree.size(); ++k) {
    const double here = mm_by_degree[k];
    if (sum + here >= wanted && here > 0)
      return std::min(greatest_deg, static_cast<double>(k) + std::clamp((wanted - sum) / here, 0.0, 1.0));
    sum += here;
  }
  return greatest_deg;
}

namespace detail {

namespace {

/// The way down after a rapid, and what goes over it again.
class EntryWatch {
 public:
  void rapid() { entering_ = true, line_.clear(); }
  /// Whether a straight move belongs to an entry.
  bool enters(const Vec3& from, const Vec3& to) {
    if (!entering_) return false;
    constexpr double kSame = 0.02, kLevel = 1e-6;  // mm
    if (to.z() < from.z() - kLevel) {
      line_.emplace_back(plan(from), plan(to));
      return true;
    }
    const auto on_line = [&](const Vec2& p) {
      return std::any_of(line_.begin(), line_.end(), [&](const auto& piece) {
        return distance_to_segment(p, piece.first, piece.second) <= kSame;
      });
    };
    entering_ = on_line(plan(to)) && on_line(0.5 * (plan(from) + plan(to)));
    return entering_;
  }

 private:
  bool entering_ = true;
  std::vector<std::pair<Vec2, Vec2>> line_;
};

}  // namespace

namespace {

/// Of the moves [first, last), which begin at rest over the work or after a rapid.
struct Piece {
  std::size_t first, last;
  Engagement engagement;
  std::vector<Trouble> troubles;
};

void measure(const Program& program, const Tool& tool, Stock before, Piece& piece, const Progress& progress) {
  Engagement& result = piece.engagement;
  EngagementMeter meter(std::move(before), profile_of(tool));
  EntryWatch entries;
  const double limit = tool.widest_engagement_deg;
  const auto count = static_cast<double>(piece.last - piece.first);
  for (std::size_t i = piece.first; i < piece.last; ++i) {
    const ProgramMove& move = program.moves[i];
    if (i % 256 == 0) report(progress, static_cast<double>(i - piece.first) / count);
    if (move.rapid()) {
      meter.lift();
      entries.rapid();
      continue;
    }
    double greatest = 0;
    Vec3 greatest_at = move.to;
    const std::vector<Vec3> points = program.points_of(move, 0.001);
    for (std::size_t k = 1; k < points.size(); ++k) {
      const bool enters = entries.enters(points[k - 1], points[k]);
      meter.go(points[k - 1], points[k], [&](const EngagementStep& step) {
        if (enters) return;
        const double length = (step.to - step.from).norm();
        result.length_mm += length;
        result.mm_by_degree[static_cast<std::size_t>(std::min(179.0, step.angle_deg))] += length;
        if (!step.takes) result.takes_nothing_mm += length;
        if (limit > 0 && step.angle_deg > limit) result.above_limit_mm += length;
        if (step.angle_deg > greatest) greatest = step.angle_deg, greatest_at = step.to;
      });
    }
    if (greatest > result.greatest_deg)
      result.greatest_deg = greatest, result.greatest_line = move.line, result.greatest_at = greatest_at;
    if (limit > 0 && greatest > limit)
      piece.troubles.push_back({FindingKind::too_engaged, i, greatest, greatest_at});
  }
}

/// Pieces of about the same length that can be measured side by side; as many as there is memory for,
/// whatever the number of cores.
std::vector<Piece> pieces_of(const Program& program, std::size_t first, std::size_t last,
                             const Stock& stock) {
  constexpr double kMemory = 2.5e8, kMost = 16;  // bytes; pieces
  const double bytes = static_cast<double>(stock.heights().size()) * sizeof(double);
  const double wanted = std::floor(std::clamp(kMemory / bytes, 1.0, kMost));
  double whole = 0;
  const auto length_of = [&](std::size_t i) {
    return program.moves[i].rapid() ? 0 : program.length_of(program.moves[i]);
  };
  for (std::size_t i = first; i < last; ++i) whole += length_of(i);
  std::vector<Piece> pieces{{first, last, {}, {}}};
  double length = 0;
  for (std::size_t i = first; i < last; ++i) {
    if (program.moves[i].rapid() && length >= whole / wanted) {
      pieces.back().last = i;
      pieces.push_back({i, last, {}, {}});
      length = 0;
    }
    length += length_of(i);
  }
  return pieces;
}

void add(Engagement& all, const Engagement& one) {
  all.length_mm += one.length_mm;
  all.takes_nothing_mm += one.takes_nothing_mm;
  all.above_limit_mm += one.above_limit_mm;
  for (std::size_t k = 0; k < all.mm_by_degree.size(); ++k) all.mm_by_degree[k] += one.mm_by_degree[k];
  if (one.greatest_deg > all.greatest_deg)
    all.greatest_deg = one.greatest_deg, all.greatest_line = one.greatest_line,
    all.greatest_at = one.greatest_at;
}

}  // namespace

Engagement engagement_of(const Program& program, std::size_t first, std::size_t last, const Tool& tool,
                         Stock before, std::vector<Trouble>& troubles, const Progress& progress) {
  Engagement result;
  result.cell_mm = before.cell_mm();
  const Profile cutter = profile_of(tool);
  if (!(cutter.radius() > 0)) return result;
  std::vector<Piece> pieces = pieces_of(program, first, last, before);
  std::vector<Stock> stocks;
  for (const Piece& piece : pieces) {
    stocks.push_back(before);
    if (&piece == &pieces.back()) break;
    std::vector<SweptMove> swept;
    for (std::size_t i = piece.first; i < piece.last; ++i) {
      const ProgramMove& move = program.moves[i];
      if (!move.rapid()) swept.push_back({move.from, move.to, 0, true, program.arc_of(move)});
    }
    carve(before, std::span(&cutter, 1), swept);
  }
  // Told and stopped in the middle of a piece too.
  std::mutex lock;
  std::vector<double> done(pieces.size(), 0.0);
  double sum = 0;
  parallel_for(pieces.size(), [&](std::size_t k) {
    measure(program, tool, std::move(stocks[k]), pieces[k], [&, k](double share) {
      const std::scoped_lock locked(lock);
      sum += share - std::exchange(done[k], share);
      return !progress || progress(sum / static_cast<double>(pieces.size()));
    });
  });
  for (const Piece& piece : pieces) {
    add(result, piece.engagement);
    troubles.insert(troubles.end(), piece.troubles.begin(), piece.troubles.end());
  }
  return result;
}

}  // namespace detail

}  // namespace yardpass
