#include "yardpass/stock/between_cells.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>
#include <unordered_map>

#include "geom/parallel_for.h"
#include "stock/arc_chord.h"
#include "yardpass/tool/segment_touch.h"

namespace yardpass {

namespace {

std::array<Vec2, 4> corners_of(const Box2& box) {
  const Vec2 &low = box.min(), &high = box.max();
  return {low, Vec2(high.x(), low.y()), high, Vec2(low.x(), high.y())};
}

/// The highest of what a straight move leaves at the corners, and so anywhere between them.
double highest_at(const std::array<Vec2, 4>& corners, const Profile& cutter, const Vec3& from,
                  const Vec3& to) {
  double highest = -std::numeric_limits<double>::infinity();
  for (const Vec2& corner : corners) highest = std::max(highest, swept_height(cutter, corner, from, to));
  return highest;
}

template <typename Visit>
void each_centre(const Stock& stock, const HiddenSquare& square, const Visit& visit) {
  const Stock::CellRange centres = stock.centres_of(square);
  for (int row = centres.first_row; row < centres.last_row; ++row)
    for (int column = centres.first_column; column < centres.last_column; ++column)
      visit(stock.index(column, row));
}

double highest_centre(const Stock& stock, const HiddenSquare& square) {
  double highest = -std::numeric_limits<double>::infinity();
  each_centre(stock, square, [&](std::size_t cell) { highest = std::max(highest, stock.heights()[cell]); });
  return highest;
}

/// How often a square is split into quarters: to an eighth of a cell.
constexpr int kSplits = 3;

class Squares {
 public:
  Squares(const Stock& stock, std::span<const Profile> cutters, std::span<const SweptMove> moves,
          std::span<const std::int32_t> last_cut, std::int32_t from_move)
      : stock_(stock),
        cutters_(cutters),
        moves_(moves),
        last_cut_(last_cut),
        from_move_(from_move),
        threshold_(hidden_threshold(stock)) {
    for (std::size_t i = 0; i < moves.size(); ++i)
      if (moves[i].arc)
        chords_.emplace(static_cast<std::int32_t>(i), detail::overlapping_chords(*moves[i].arc));
  }

  void row(int row, int first_column, int last_column, std::vector<HiddenSquare>& hidden) const {
    for (int column = first_column; column < last_column; ++column) look_at(column, row, hidden);
  }

 private:
  void look_at(int column, int row, std::vector<HiddenSquare>& hidden) const {
    HiddenSquare square{column, row, stock_.block().max().z()};
    const double asked = highest_centre(stock_, square) + threshold_;
    if (square.top_z <= asked) return;
    std::array<std::int32_t, 4> moves{};  // that cut the centres last
    std::size_t count = 0;
    bool changed = false;
    each_centre(stock_, square, [&](std::size_t cell) {
      const std::int32_t move = last_cut_[cell];
      changed |= move >= from_move_;
      const auto end = moves.begin() + static_cast<std::ptrdiff_t>(count);
      if (move >= 0 && std::find(moves.begin(), end, move) == end) moves[count++] = move;
    });
    if (!changed) return;
    // No strip where the outermost centres lie on the edge.
    const Box2 box = stock_.box_of(square);
    if (!(box.sizes().minCoeff() > 0)) return;
    const double left = left_in(corners_of(box), std::span(moves).first(count), asked, kSplits);
    square.top_z = std::min(square.top_z, left);
    if (square.top_z > asked) hidden.push_back(square);
  }

  /// The highest that all the moves together may leave in the square; where no move alone is sure to leave
  /// no more than `asked`, its quarters are looked at.
  [[nodiscard]] double left_in(const std::array<Vec2, 4>& corners, std::span<const std::int32_t> moves,
                               double asked, int splits) const {
    double left = std::numeric_limits<double>::infinity();
    for (const std::int32_t move : moves) {
      left = std::min(left, highest_left(move, corners, asked));
      if (left <= asked) return left;
    }
    if (splits == 0 || moves.size() < 2) return left;
    const Vec2 middle = 0.5 * (corners[0] + corners[2]);
    double highest = -std::numeric_limits<double>::infinity();
    for (const Vec2& corner : corners) {
      const Box2 quarter(corner.cwiseMin(middle), corner.cwiseMax(middle));
      highest = std::max(highest, left_in(corners_of(quarter), moves, asked, splits - 1));
    }
    return std::min(left, highest);
  }

  /// The highest that the move leaves in the square, or something higher that is no more than `asked`.
  [[nodiscard]] double highest_left(std::int32_t number, const std::array<Vec2, 4>& corners,
                                    double asked) const {
    const SweptMove& move = moves_[static_cast<std::size_t>(number)];
    const Profile& cutter = cutters_[static_cast<std::size_t>(move.cutter)];
    if (!move.arc) return highest_at(corners, cutter, move.from, move.to);
    // What an arc sweeps is not convex; what a thinner cutter sweeps along a chord of it is. First the one
    // that goes lowest over the middle, of those that are as low the nearest.
    const Vec2 middle = 0.5 * (corners[0] + corners[2]);
    const std::vector<detail::ArcChord>& chords = chords_.at(number);
    const detail::ArcChord* best = &chords.front();
    constexpr double kFar = std::numeric_limits<double>::infinity();
    std::pair lowest(kFar, kFar);
    for (const detail::ArcChord& chord : chords) {
      const std::pair now(swept_height(cutter, middle, chord.from, chord.to) + chord.above_mm,
                          (0.5 * plan(chord.from + chord.to) - middle).squaredNorm());
      if (now < lowest) best = &chord, lowest = now;
    }
    double left = highest_along(*best, cutter, corners);
    for (const detail::ArcChord& chord : chords) {
      if (left <= asked) break;
      left = std::min(left, highest_along(chord, cutter, corners));
    }
    return left;
  }
  static double highest_along(const detail::ArcChord& chord, const Profile& cutter,
                              const std::array<Vec2, 4>& corners) {
    const Vec2 along = plan(chord.to) - plan(chord.from), across(-along.y(), along.x());
    std::array<Vec2, 4> farther = corners;
    if (across.norm() > 0)
      for (Vec2& corner : farther) {
        const double side = across.dot(corner - plan(chord.from));
        corner += std::copysign(chord.beside_mm, side) * across.normalized();
      }
    return highest_at(farther, cutter, chord.from, chord.to) + chord.above_mm;
  }

  const Stock& stock_;
  std::span<const Profile> cutters_;
  std::span<const SweptMove> moves_;
  std::span<const std::int32_t> last_cut_;
  std::int32_t from_move_;
  double threshold_;
  std::unordered_map<std::int32_t, std::vector<detail::ArcChord>> chords_;  // by move
};

}  // namespace

double hidden_threshold(const Stock& stock) { return std::max(0.05, 0.25 * stock.cell_mm()); }

std::vector<HiddenSquare> hidden_between(const Stock& stock, std::span<const Profile> cutters,
                                         std::span<const SweptMove> moves,
                                         std::span<const std::int32_t> last_cut, std::int32_t from_move,
                                         const std::optional<Box2>& within) {
  const Squares squares(stock, cutters, moves, last_cut, from_move);
  Stock::CellRange range{-1, stock.columns(), -1, stock.rows()};
  if (within) {
    const double cell = stock.cell_mm();
    range = stock.cells_between(within->min().array() - cell, within->max().array() + cell);
    if (range.empty()) return {};
    --range.first_column, --range.first_row;
  }
  std::vector<std::vector<HiddenSquare>> of_row(static_cast<std::size_t>(range.last_row - range.first_row));
  detail::parallel_for(of_row.size(), [&](std::size_t k) {
    squares.row(range.first_row + static_cast<int>(k), range.first_column, range.last_column, of_row[k]);
  });
  std::vector<HiddenSquare> result;
  for (const auto& row : of_row) result.insert(result.end(), row.begin(), row.end());
  return result;
}

std::vector<HiddenSquare> still_hidden(const std::vector<HiddenSquare>& hidden, const Stock& stock,
                                       std::span<const Profile> cutters, std::span<const SweptMove> moves) {
  constexpr int kSide = 32;  // cells a bucket
  std::map<std::pair<int, int>, std::vector<std::size_t>> buckets;
  std::vector<HiddenSquare> result = hidden;
  for (std::size_t k = 0; k < hidden.size(); ++k)
    buckets[{(hidden[k].row + 1) / kSide, (hidden[k].column + 1) / kSide}].push_back(k);
  const double side = kSide * stock.cell_mm();
  const auto bucket_of = [&](double place, double first, int cells) {
    const int last = cells / kSide + 1;
    return static_cast<int>(std::clamp((place - first) / side, 0.0, static_cast<double>(last)));
  };
  const Vec2 first = plan(stock.block().min());
  for (const SweptMove& move : moves) {
    if (move.arc || !move.cuts || buckets.empty()) continue;
    const Profile& cutter = cutters[static_cast<std::size_t>(move.cutter)];
    const double reach = cutter.radius() + 2 * stock.cell_mm();
    const Vec2 low = plan(move.from).cwiseMin(plan(move.to)).array() - reach,
               high = plan(move.from).cwiseMax(plan(move.to)).array() + reach;
    const int from = bucket_of(low.x(), first.x(), stock.columns()),
              to = bucket_of(high.x(), first.x(), stock.columns());
    for (int j = bucket_of(low.y(), first.y(), stock.rows());
         j <= bucket_of(high.y(), first.y(), stock.rows()); ++j)
      for (auto at = buckets.lower_bound({j, from}); at != buckets.end() && at->first <= std::pair(j, to);
           ++at)
        for (const std::size_t k : at->second)
          result[k].top_z = std::min(
              result[k].top_z, highest_at(corners_of(stock.box_of(result[k])), cutter, move.from, move.to));
  }
  std::erase_if(result, [&](const HiddenSquare& square) {
    return square.top_z <= highest_centre(stock, square) + hidden_threshold(stock);
  });
  return result;
}

}  // namespace yardpass
