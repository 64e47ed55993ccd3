#include "yardpass/verify/why_left.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "geom/parallel_for.h"
#include "stock/cells_inside.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass {

const char* name_of(LeftBecause why) {
  switch (why) {
    case LeftBecause::thin:
      return "thin";
    case LeftBecause::no_part:
      return "no part";
    case LeftBecause::on_purpose:
      return "on purpose";
    case LeftBecause::out_of_reach:
      return "out of reach";
    case LeftBecause::not_asked:
      return "not explained";
    case LeftBecause::missed:
      return "missed";
  }
  return "";
}

namespace {

std::vector<std::uint8_t> cells_inside(const Stock& stock, const Region& region) {
  std::vector<std::uint8_t> marks(stock.heights().size(), 0);
  detail::for_cells_inside(stock, region, [&](int column, int row) { marks[stock.index(column, row)] = 1; });
  return marks;
}

/// From the nearest point of the part to a place above it; about a thousandth of a millimetre long.
Vec3 away_from(const ContactPart& part, const Vec3& place, double left_mm) {
  constexpr double step = 1e-3;
  Vec3 away;
  for (int k = 0; k < 3; ++k)
    away[k] = part.distance(place + step * Vec3::Unit(k), left_mm + 2 * step) - left_mm;
  return away;
}

/// How little a cutter can leave at a cell without cutting the part, measured as what is left is.
class BestOfTool {
 public:
  /// `most_samples`: coarser ones are taken where there were more.
  BestOfTool(const Stock& stock, const std::shared_ptr<const ContactPart>& part, const Profile& cutter,
             double most_samples)
      : stock_(stock),
        part_(*part),
        surface_(part, cutter),
        cutter_(cutter),
        stride_(std::max(
            {1, static_cast<int>(cutter.radius() / 15 / stock.cell_mm()),
             static_cast<int>(std::sqrt(static_cast<double>(stock.heights().size()) / most_samples))})) {
    columns_ = (stock.columns() + stride_ - 1) / stride_;
    rows_ = (stock.rows() + stride_ - 1) / stride_;
    reach_ = static_cast<int>(cutter.radius() / (stride_ * stock.cell_mm())) + 1;
    std::vector<Vec2> places;
    places.reserve(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_));
    for (int j = 0; j < rows_; ++j)
      for (int i = 0; i < columns_; ++i) places.push_back(stock.centre(i * stride_, j * stride_));
    tips_ = heights(surface_, places);
  }
  /// What was found at a place, to begin with at the next.
  struct Hint {
    Vec2 to_axis{0, 0};
    std::int32_t triangle = -1;
    std::int64_t work = 0;  ///< how often the part was asked
  };
  /// Whether it can leave less than `wanted_mm` at the cell, which has more on it. `hint`: from a place to
  /// the axis, where it was last found to; often it is the same at the next cell.
  [[nodiscard]] bool leaves_less(int column, int row, double wanted_mm, double left_mm, Hint& hint) const {
    const Vec2 p = stock_.centre(column, row);
    const double radius = cutter_.radius() * (1 - 1e-12);
    Place best;
    const auto try_at = [&](const Vec2& wanted) {
      const Vec2 from = wanted - p;
      const double far = std::min(from.norm(), radius);
      const Vec2 axis = from.norm() > radius ? Vec2(p + from * (radius / from.norm())) : wanted;
      const std::optional<Touch> touch = surface_.touch(axis, hint.triangle);
      ++hint.work;
      if (touch) hint.triangle = touch->triangle;
      const double z = (touch ? touch->height : kNothingBelow) + cutter_.height(far);
      if (z < best.z) best = {axis, z};
    };
    const auto enough = [&] {
      if (left_of(p, best, wanted_mm) >= wanted_mm) return false;
      hint.to_axis = best.axis - p;
      return true;
    };
    try_at(p + hint.to_axis);
    if (enough()) return true;
    // The place for a touch that is as steep as the material's top lies over the part is the best one, unless
    // the part is in the way elsewhere.
    try_at(p + touching_offset(with_z(p, stock_.height(column, row)), left_mm));
    if (enough()) return true;
    // Samples are coarse, and on a wall a little aside is a lot: from the best of all downhill.
    if (const Place sample = sampled(column, row); sample.z < best.z) best = sample;
    if (enough()) return true;
    for (double step = 0.15 * radius; step > kNearest; step /= 2) {
      // All steps to come lead no farther than this, and what is left changes by no more than the way there.
      if (left_of(p, best, wanted_mm + kRounds * 2 * step) >= wanted_mm + kRounds * 2 * step) return false;
      for (int round = 0; round < kRounds; ++round) {
        const Vec2 before = best.axis;
        for (const Vec2& way : {Vec2(1, 0), Vec2(-1, 0), Vec2(0, 1), Vec2(0, -1), Vec2(0.7, 0.7),
                                Vec2(-0.7, -0.7), Vec2(0.7, -0.7), Vec2(-0.7, 0.7)})
          try_at(best.axis + step * way);
        if (best.axis == before) break;
      }
      if (enough()) return true;
    }
    return false;
  }

 private:
  static constexpr double kNearest = 1e-3;  // mm
  static constexpr int kRounds = 3;
  struct Place {
    Vec2 axis{0, 0};
    double z = std::numeric_limits<double>::infinity();  // of what it leaves
  };
  /// From a place above the part to the axis of the cutter that touches it there, as steep as the way from
  /// the nearest point of the part.
  [[nodiscard]] Vec2 touching_offset(const Vec3& place, double left_mm) const {
    const Vec3 away = away_from(part_, place, left_mm);
    const double level = plan(away).norm();
    if (!(level > 0)) return {0, 0};
    const double slope = away.z() > 0 ? level / away.z() : std::numeric_limits<double>::infinity();
    return plan(away) * (cutter_.radius_at_slope(std::min(slope, 1e12)) / level);
  }
  [[nodiscard]] double left_of(const Vec2& p, const Place& left, double up_to) const {
    if (!std::isfinite(left.z)) return left.z < 0 ? 0 : up_to;
    return part_.distance(with_z(p, left.z), up_to);
  }
  [[nodiscard]] Place sampled(int column, int row) const {
    Place best;
    const Vec2 p = stock_.centre(column, row);
    const int ci = column / stride_, cj = row / stride_;
    for (int j = std::max(0, cj - reach_); j <= std::min(rows_ - 1, cj + reach_); ++j)
      for (int i = std::max(0, ci - reach_); i <= std::min(columns_ - 1, ci + reach_); ++i) {
        const double far = (stock_.centre(i * stride_, j * stride_) - p).norm();
        if (far > cutter_.radius()) continue;
        const double tip = tips_[static_cast<std::size_t>(j) * static_cast<std::size_t>(columns_) +
                                 static_cast<std::size_t>(i)];
        const double z = tip + cutter_.height(far);
        if (z < best.z) best = {stock_.centre(i * stride_, j * stride_), z};
      }
    return best;
  }

  const Stock& stock_;
  const ContactPart& part_;
  TipSurface surface_;
  const Profile& cutter_;
  int stride_, columns_ = 0, rows_ = 0, reach_ = 0;
  std::vector<double> tips_;
};

void find_thickest(const Stock& stock, const LeftMap& map, const std::vector<std::int32_t>& last_cut,
                   WhyLeft& left) {
  std::vector<std::size_t> order;
  for (std::size_t i = 0; i < left.why.size(); ++i)
    if (left.why[i] != LeftBecause::thin && left.why[i] != LeftBecause::no_part) order.push_back(i);
  // What somebody should look at comes first: missed, then out of reach, then what is left on purpose.
  std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
    if (left.why[a] != left.why[b]) return left.why[a] > left.why[b];
    return map.left_mm[a] != map.left_mm[b] ? map.left_mm[a] > map.left_mm[b] : a < b;
  });
  const double apart = std::max(10 * stock.cell_mm(), plan(stock.block()).diagonal().norm() / 40);
  for (const std::size_t i : order) {
    if (left.thickest.size() == 10) break;
    const auto columns = static_cast<std::size_t>(stock.columns());
    const Vec2 p = stock.centre(static_cast<int>(i % columns), static_cast<int>(i / columns));
    if (std::any_of(left.thickest.begin(), left.thickest.end(),
                    [&](const ThickPlace& known) { return (plan(known.at) - p).norm() < apart; }))
      continue;
    left.thickest.push_back({with_z(p, stock.heights()[i]), static_cast<double>(map.left_mm[i]), left.why[i],
                             last_cut.empty() ? -1 : last_cut[i]});
  }
}

/// Asks of each cell, operation by operation, why so much is left.
class Asker {
 public:
  Asker(const Stock& stock, const LeftMap& map, const std::shared_ptr<const ContactPart>& part,
        const WhyLeftOptions& options, WhyLeft& left)
      : stock_(stock), map_(map), part_(part), options_(options), left_(left) {
    left_.why.assign(map.left_mm.size(), LeftBecause::thin);
    for (std::size_t i = 0; i < map.left_mm.size(); ++i) {
      if (std::isnan(map.left_mm[i])) left_.why[i] = LeftBecause::no_part;
      if (left_at(i) > options.limit_mm)
        left_.why[i] = LeftBecause::on_purpose;  // until an operation wanted less here
    }
  }

  void ask(const std::vector<LeftByOperation>& operations, const Progress& progress) {
    std::vector<std::vector<std::size_t>> wanted;
    std::size_t all = 0;
    for (const LeftByOperation& operation : operations) {
      wanted.push_back(more_than_wanted(operation));
      all += wanted.back().size();
    }
    left_.asked_every = all == 0 || options_.most_work > 0 ? 1 : 0;
    const auto count = static_cast<double>(operations.size()),
               cells = static_cast<double>(std::max<std::size_t>(all, 1));
    for (std::size_t k = 0; k < operations.size(); ++k)
      ask(operations[k], wanted[k], options_.most_work * static_cast<double>(wanted[k].size()) / cells,
          part_of(progress, static_cast<double>(k) / count, static_cast<double>(k + 1) / count));
  }

 private:
  [[nodiscard]] double left_at(std::size_t cell) const { return static_cast<double>(map_.left_mm[cell]); }
  [[nodiscard]] int column_of(std::size_t cell) const {
    return static_cast<int>(cell % static_cast<std::size_t>(stock_.columns()));
  }
  [[nodiscard]] int row_of(std::size_t cell) const {
    return static_cast<int>(cell / static_cast<std::size_t>(stock_.columns()));
  }

  /// What the operation means to leave at a cell.
  [[nodiscard]] double allowance_at(const LeftByOperation& operation, std::size_t cell) const {
    double allowance = std::max(0.0, operation.allowance_mm);
    if (operation.wall_extra_mm == 0 && operation.floor_extra_mm == 0) return allowance;
    const Vec3 top = with_z(stock_.centre(column_of(cell), row_of(cell)), stock_.heights()[cell]);
    const Vec3 away = away_from(*part_, top, left_at(cell)).normalized();
    return allowance + operation.wall_extra_mm * plan(away).norm() +
           operation.floor_extra_mm * std::max(0.0, away.z());
  }

  [[nodiscard]] std::vector<std::size_t> more_than_wanted(const LeftByOperation& operation) const {
    const std::vector<std::uint8_t> area = cells_inside(stock_, operation.area),
                                    lids = cells_inside(stock_, operation.lids);
    std::vector<std::size_t> wanted;
    const double least = std::max(0.0, operation.allowance_mm) + options_.limit_mm;
    for (std::size_t i = 0; i < area.size(); ++i)
      if (area[i] && !lids[i] && left_.why[i] == LeftBecause::on_purpose && left_at(i) > least &&
          left_at(i) > allowance_at(operation, i) + options_.limit_mm)
        wanted.push_back(i);
    return wanted;
  }

  void ask(const LeftByOperation& operation, const std::vector<std::size_t>& wanted, double most_work,
           const Progress& progress) {
    if (wanted.empty()) return;
    if (left_.asked_every == 0 || !operation.tool) {
      for (const std::size_t i : wanted) left_.why[i] = LeftBecause::not_asked;
      return;
    }
    const Profile cutter = profile_of(*operation.tool);
    constexpr double kFewest = 1e5;
    const BestOfTool best(stock_, part_, cutter, std::max(kFewest, most_work / 3));
    // What it takes is seen by some cells, evenly spread.
    constexpr std::size_t kTried = 1000;
    std::vector<std::vector<std::size_t>> some;
    for (std::size_t i = 0; i < wanted.size(); i += std::max<std::size_t>(1, wanted.size() / kTried))
      some.push_back({wanted[i]});
    const double work = static_cast<double>(ask(operation, best, some, {})) *
                        static_cast<double>(wanted.size()) / static_cast<double>(some.size());
    const int side = static_cast<int>(std::ceil(std::sqrt(std::max(1.0, work / most_work))));
    left_.asked_every = std::max(left_.asked_every, side);
    (void)ask(operation, best, squares_of(wanted, side), progress);
  }

  /// Of each square of cells the first. Returns how often the part was asked.
  std::int64_t ask(const LeftByOperation& operation, const BestOfTool& best,
                   const std::vector<std::vector<std::size_t>>& squares, const Progress& progress) {
    constexpr std::size_t chunk = 256;
    std::vector<std::int64_t> work((squares.size() + chunk - 1) / chunk);
    detail::parallel_for(work.size(), progress, [&](std::size_t c) {
      BestOfTool::Hint hint;
      for (std::size_t k = c * chunk; k < std::min(squares.size(), (c + 1) * chunk); ++k) {
        const std::size_t asked = squares[k].front();
        const double more = left_at(asked) - allowance_at(operation, asked) - options_.limit_mm / 2;
        const bool can = left_.why[asked] == LeftBecause::missed ||
                         best.leaves_less(column_of(asked), row_of(asked), more, left_at(asked), hint);
        for (const std::size_t i : squares[k])
          if (left_.why[i] != LeftBecause::missed)
            left_.why[i] = can ? LeftBecause::missed : LeftBecause::out_of_reach;
      }
      work[c] = hint.work;
    });
    return std::accumulate(work.begin(), work.end(), std::int64_t{0});
  }

  /// The cells by the squares that they lie in, the thickest of each first.
  [[nodiscard]] std::vector<std::vector<std::size_t>> squares_of(const std::vector<std::size_t>& cells,
                                                                 int side) const {
    std::map<std::pair<int, int>, std::vector<std::size_t>> squares;
    for (const std::size_t i : cells) {
      std::vector<std::size_t>& square = squares[{row_of(i) / side, column_of(i) / side}];
      square.push_back(i);
      if (left_at(i) > left_at(square.front())) std::swap(square.front(), square.back());
    }
    std::vector<std::vector<std::size_t>> result;
    for (auto& [place, square] : squares) result.push_back(std::move(square));
    return result;
  }

  const Stock& stock_;
  const LeftMap& map_;
  const std::shared_ptr<const ContactPart>& part_;
  const WhyLeftOptions& options_;
  WhyLeft& left_;
};

}  // namespace

WhyLeft explain_left(const Stock& stock, const LeftMap& map, const std::shared_ptr<const ContactPart>& part,
                     const std::vector<LeftByOperation>& operations,
                     const std::vector<std::int32_t>& last_cut, const WhyLeftOptions& options,
                     const Progress& progress) {
  require(options.limit_mm > 0, "limit_mm", "must be above 0");
  require(options.most_work >= 0, "most_work", "must be at least 0");
  WhyLeft left;
  left.limit_mm = options.limit_mm;
  Asker(stock, map, part, options, left).ask(operations, progress);
  const double cell = stock.cell_mm() * stock.cell_mm();
  for (const LeftBecause why : left.why) {
    if (why == LeftBecause::on_purpose) left.on_purpose_mm2 += cell;
    if (why == LeftBecause::out_of_reach) left.out_of_reach_mm2 += cell;
    if (why == LeftBecause::not_asked) left.not_asked_mm2 += cell;
    if (why == LeftBecause::missed) left.missed_mm2 += cell;
  }
  find_thickest(stock, map, last_cut, left);
  return left;
}

double area_because(const WhyLeft& left, const Stock& stock, const Region& region, LeftBecause why) {
  std::int64_t count = 0;
  detail::for_cells_inside(stock, region,
                           [&](int column, int row) { count += left.why[stock.index(column, row)] == why; });
  return static_cast<double>(count) * stock.cell_mm() * stock.cell_mm();
}

}  // namespace yardpass
