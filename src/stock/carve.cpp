// Carving tile by tile: each tile carries out all moves that can reach it, in their order, so tiles do not
// depend on each other and may run on any core.
#include <algorithm>

#include "geom/parallel_for.h"
#include "stock/carve_tile.h"

namespace yardpass {

namespace {

using detail::CarveBody;
using detail::kTileSide;
using detail::TileStep;

CarveBody body_of(const Profile& profile) {
  CarveBody body{&profile, profile.radius(), 0, 0, false};
  const auto pieces = profile.pieces();
  std::size_t i = 0;
  if (i < pieces.size() && pieces[i].arc == 0 && pieces[i].slope0 == 0 && pieces[i].slope1 == 0)
    body.disc = pieces[i++].r1;
  if (i < pieces.size() && pieces[i].arc > 0 && pieces[i].slope0 == 0) {
    body.corner = pieces[i].arc;
    body.is_round = pieces[i].r1 == body.disc + body.corner;
    ++i;
  } else {
    body.is_round = body.disc == profile.radius();
  }
  body.is_round = body.is_round && i == pieces.size();
  return body;
}

/// Which tiles each move of a body can reach.
class Reach {
 public:
  Reach(const Stock& stock, std::vector<std::vector<TileStep>>& steps)
      : stock_(stock), steps_(steps), across_((stock.columns() + kTileSide - 1) / kTileSide) {}

  void add(const SweptMove& move, double radius, const TileStep& step) {
    const Vec2 from = plan(move.from), to = plan(move.to);
    const auto range =
        stock_.cells_between(from.cwiseMin(to).array() - radius, from.cwiseMax(to).array() + radius);
    if (range.empty()) return;
    const double side = kTileSide * stock_.cell_mm(), reach = radius + 0.7072 * side;
    const Vec2 along = to - from;
    const double square = along.squaredNorm();
    for (int ty = range.first_row / kTileSide; ty <= (range.last_row - 1) / kTileSide; ++ty)
      for (int tx = range.first_column / kTileSide; tx <= (range.last_column - 1) / kTileSide; ++tx) {
        // Long slanted moves miss most tiles of their box.
        const Vec2 middle = plan(stock_.block().min()) + Vec2((tx + 0.5) * side, (ty + 0.5) * side);
        const double t = square > 0 ? std::clamp((middle - from).dot(along) / square, 0.0, 1.0) : 0.0;
        if ((from + t * along - middle).norm() > reach) continue;
        steps_[static_cast<std::size_t>(ty) * static_cast<std::size_t>(across_) +
               static_cast<std::size_t>(tx)]
            .push_back(step);
      }
  }

 private:
  const Stock& stock_;
  std::vector<std::vector<TileStep>>& steps_;
  int across_;
};

}  // namespace

void carve(Stock& stock, std::span<const Profile> cutters, std::span<const SweptMove> moves, CarveLog* log,
           const Progress& progress) {
  const std::size_t cells =
      static_cast<std::size_t>(stock.columns()) * static_cast<std::size_t>(stock.rows());
  if (log) {
    log->removed.assign(moves.size(), 0);
    log->entered.assign(moves.size(), 0.0);
    log->entered_at.assign(moves.size(), Vec3::Zero());
    if (log->last_cut.empty()) log->last_cut.assign(cells, -1);
  }
  const int across = (stock.columns() + kTileSide - 1) / kTileSide,
            up = (stock.rows() + kTileSide - 1) / kTileSide;
  std::vector<std::vector<TileStep>> steps(static_cast<std::size_t>(across) * static_cast<std::size_t>(up));
  Reach reach(stock, steps);
  for (std::size_t i = 0; i < moves.size(); ++i) {
    const SweptMove& move = moves[i];
    reach.add(move, cutters[static_cast<std::size_t>(move.cutter)].radius(),
              {static_cast<std::int32_t>(i), move.cutter, move.cuts});
  }
  std::vector<CarveBody> bodies;
  for (const Profile& profile : cutters) bodies.push_back(body_of(profile));
  const std::vector<double> lift(bodies.size(), 0.0);
  std::vector<detail::TileTask> tasks(steps.size());
  detail::parallel_for(steps.size(), progress, [&](std::size_t i) {
    if (steps[i].empty()) return;
    const int column = kTileSide * (static_cast<int>(i) % across),
              row = kTileSide * (static_cast<int>(i) / across);
    detail::TileTask& task = tasks[i];
    task.first = stock.centre(column, row);
    task.cell = stock.cell_mm();
    task.bottom = stock.bottom_z();
    task.columns = std::min(kTileSide, stock.columns() - column);
    task.rows = std::min(kTileSide, stock.rows() - row);
    task.stride = static_cast<std::size_t>(stock.columns());
    task.heights = stock.heights().data() + stock.index(column, row);
    task.last_cut = log ? log->last_cut.data() + stock.index(column, row) : nullptr;
    task.moves = moves, task.bodies = bodies, task.lift = lift, task.steps = steps[i];
    detail::carve_tile(task);
  });
  if (!log) return;
  for (const detail::TileTask& task : tasks) {
    for (const auto i : task.removers) log->removed[static_cast<std::size_t>(i)] = 1;
    for (const detail::TileMeeting& meeting : task.meetings) {
      const auto i = static_cast<std::size_t>(meeting.move);
      if (meeting.depth > log->entered[i]) log->entered[i] = meeting.depth, log->entered_at[i] = meeting.at;
    }
  }
}

}  // namespace yardpass
