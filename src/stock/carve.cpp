// Carving tile by tile: each tile carries out all moves that can reach it, in their order, so tiles do not
// depend on each other and may run on any core.
#include <algorithm>

#include "geom/parallel_for.h"
#include "yardpass/stock/stock.h"
#include "yardpass/tool/segment_touch.h"

namespace yardpass {

namespace {

constexpr int kTile = 64;           // cells on a side
constexpr double kTouching = 1e-6;  // a rapid may pass this deep: it touches what was cut just here

struct Entry {
  std::int32_t move;
  double depth;
  Vec3 at;
};

class TileCarver {
 public:
  TileCarver(Stock& stock, std::span<const Profile> cutters, std::span<const SweptMove> moves, CarveLog* log)
      : stock_(stock), cutters_(cutters), moves_(moves), log_(log) {}

  void run(const Stock::CellRange& tile, std::span<const std::int32_t> list) {
    double highest = -std::numeric_limits<double>::infinity();
    for (int row = tile.first_row; row < tile.last_row; ++row)
      for (int column = tile.first_column; column < tile.last_column; ++column)
        highest = std::max(highest, stock_.height(column, row));
    for (const std::int32_t i : list) {
      const SweptMove& move = moves_[static_cast<std::size_t>(i)];
      if (std::min(move.from.z(), move.to.z()) >= highest) continue;
      step(tile, i, move);
    }
  }

  std::vector<Entry> entries;
  std::vector<std::int32_t> removers;

 private:
  void step(const Stock::CellRange& tile, std::int32_t number, const SweptMove& move) {
    const Profile& cutter = cutters_[static_cast<std::size_t>(move.cutter)];
    const double radius = cutter.radius(), low_z = std::min(move.from.z(), move.to.z());
    const Vec2 low = plan(move.from).cwiseMin(plan(move.to)).array() - radius;
    const Vec2 high = plan(move.from).cwiseMax(plan(move.to)).array() + radius;
    Stock::CellRange range = stock_.cells_between(low, high);
    range.first_column = std::max(range.first_column, tile.first_column);
    range.last_column = std::min(range.last_column, tile.last_column);
    range.first_row = std::max(range.first_row, tile.first_row);
    range.last_row = std::min(range.last_row, tile.last_row);
    bool removed = false;
    Entry worst{number, kTouching, Vec3::Zero()};
    for (int row = range.first_row; row < range.last_row; ++row) {
      for (int column = range.first_column; column < range.last_column; ++column) {
        const double before = stock_.height(column, row);
        if (before <= low_z) continue;
        const double swept = swept_height(cutter, stock_.centre(column, row), move.from, move.to);
        if (swept >= before) continue;
        if (!move.cuts) {
          if (before - swept > worst.depth)
            worst = {number, before - swept,
                     with_z(stock_.centre(column, row), std::max(swept, stock_.bottom_z()))};
          continue;
        }
        removed = true;
        stock_.set_height(column, row, std::max(swept, stock_.bottom_z()));
        if (log_) log_->last_cut[stock_.index(column, row)] = number;
      }
    }
    if (removed) removers.push_back(number);
    if (worst.depth > kTouching) entries.push_back(worst);
  }

  Stock& stock_;
  std::span<const Profile> cutters_;
  std::span<const SweptMove> moves_;
  CarveLog* log_;
};

}  // namespace

void carve(Stock& stock, std::span<const Profile> cutters, std::span<const SweptMove> moves, CarveLog* log,
           const Progress& progress) {
  if (log) {
    log->removed.assign(moves.size(), 0);
    log->entered.assign(moves.size(), 0.0);
    log->entered_at.assign(moves.size(), Vec3::Zero());
    if (log->last_cut.empty())
      log->last_cut.assign(static_cast<std::size_t>(stock.columns()) * static_cast<std::size_t>(stock.rows()),
                           -1);
  }
  const int across = (stock.columns() + kTile - 1) / kTile, up = (stock.rows() + kTile - 1) / kTile;
  std::vector<std::vector<std::int32_t>> lists(static_cast<std::size_t>(across) *
                                               static_cast<std::size_t>(up));
  for (std::size_t i = 0; i < moves.size(); ++i) {
    const SweptMove& move = moves[i];
    const double radius = cutters[static_cast<std::size_t>(move.cutter)].radius();
    const auto range = stock.cells_between(plan(move.from).cwiseMin(plan(move.to)).array() - radius,
                                           plan(move.from).cwiseMax(plan(move.to)).array() + radius);
    if (range.empty()) continue;
    const double side = kTile * stock.cell_mm(), reach = radius + 0.7072 * side;
    for (int ty = range.first_row / kTile; ty <= (range.last_row - 1) / kTile; ++ty) {
      for (int tx = range.first_column / kTile; tx <= (range.last_column - 1) / kTile; ++tx) {
        // Long slanted moves miss most tiles of their box.
        const Vec2 middle = plan(stock.block().min()) + Vec2((tx + 0.5) * side, (ty + 0.5) * side);
        const Vec2 along = plan(move.to) - plan(move.from);
        const double square = along.squaredNorm();
        const double t =
            square > 0 ? std::clamp((middle - plan(move.from)).dot(along) / square, 0.0, 1.0) : 0.0;
        if ((plan(move.from) + t * along - middle).norm() > reach) continue;
        lists[static_cast<std::size_t>(ty) * static_cast<std::size_t>(across) + static_cast<std::size_t>(tx)]
            .push_back(static_cast<std::int32_t>(i));
      }
    }
  }

  std::vector<TileCarver> tiles(lists.size(), TileCarver(stock, cutters, moves, log));
  detail::parallel_for(lists.size(), progress, [&](std::size_t i) {
    const int tx = static_cast<int>(i) % across, ty = static_cast<int>(i) / across;
    const Stock::CellRange tile{tx * kTile, std::min((tx + 1) * kTile, stock.columns()), ty * kTile,
                                std::min((ty + 1) * kTile, stock.rows())};
    if (!lists[i].empty()) tiles[i].run(tile, lists[i]);
  });
  if (!log) return;
  for (const TileCarver& tile : tiles) {
    for (const auto i : tile.removers) log->removed[static_cast<std::size_t>(i)] = 1;
    for (const Entry& entry : tile.entries) {
      const auto i = static_cast<std::size_t>(entry.move);
      if (entry.depth > log->entered[i]) log->entered[i] = entry.depth, log->entered_at[i] = entry.at;
    }
  }
}

}  // namespace yardpass
