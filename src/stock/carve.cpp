// Carving tile by tile: each tile carries out all moves that can reach it, in their order, so tiles do not
// depend on each other and may run on any core.
#include <algorithm>
#include <limits>
#include <tuple>

#include "geom/parallel_for.h"
#include "stock/arc_pieces.h"

namespace yardpass {

namespace {

using detail::ArcPiece;
using detail::CarveBody;
using detail::kTileSide;
using detail::TileStep;

CarveBody body_of(const Profile& profile) {
  CarveBody body{&profile, profile.radius()};
  const auto pieces = profile.pieces();
  std::size_t i = 0;
  if (i < pieces.size() && pieces[i].arc == 0 && pieces[i].slope0 == 0 && pieces[i].slope1 == 0)
    body.disc = pieces[i++].r1;
  bool round = body.disc == profile.radius();
  if (i < pieces.size() && pieces[i].arc > 0 && pieces[i].slope0 == 0) {
    body.corner = pieces[i].arc;
    round = pieces[i].r1 == body.disc + body.corner;
    ++i;
  }
  const bool pieced = std::all_of(pieces.begin(), pieces.end(), [](const Profile::Piece& piece) {
    return piece.arc == 0 || piece.centre_r >= 0;
  });
  if (round && i == pieces.size())
    body.kind = CarveBody::Kind::round;
  else if (pieced)
    body.kind = CarveBody::Kind::pieced;
  return body;
}

/// Which tiles each move of a body can reach.
class Reach {
 public:
  Reach(const Stock& stock, std::vector<std::vector<TileStep>>& steps)
      : stock_(stock),
        steps_(steps),
        across_((stock.columns() + kTileSide - 1) / kTileSide),
        highest_(steps.size(), -std::numeric_limits<double>::infinity()) {
    for (int row = 0; row < stock.rows(); ++row)
      for (int column = 0; column < stock.columns(); ++column) {
        double& tile = highest_[tile_of(column / kTileSide, row / kTileSide)];
        tile = std::max(tile, stock.height(column, row));
      }
    for (const double z : highest_) top_ = std::max(top_, z);
  }

  void add(const Vec3& start, const Vec3& end, double beside, double radius, double lift,
           const TileStep& step) {
    const double low_z = std::min(start.z(), end.z()) + lift;
    if (low_z >= top_) return;
    radius += beside;
    const Vec2 from = plan(start), to = plan(end);
    const auto range =
        stock_.cells_between(from.cwiseMin(to).array() - radius, from.cwiseMax(to).array() + radius);
    if (range.empty()) return;
    const double side = kTileSide * stock_.cell_mm(), reach = radius + 0.7072 * side;
    const Vec2 along = to - from;
    const double square = along.squaredNorm();
    for (int ty = range.first_row / kTileSide; ty <= (range.last_row - 1) / kTileSide; ++ty)
      for (int tx = range.first_column / kTileSide; tx <= (range.last_column - 1) / kTileSide; ++tx) {
        if (low_z >= highest_[tile_of(tx, ty)]) continue;
        // Long slanted moves miss most tiles of their box.
        const Vec2 middle = plan(stock_.block().min()) + Vec2((tx + 0.5) * side, (ty + 0.5) * side);
        const double t = square > 0 ? std::clamp((middle - from).dot(along) / square, 0.0, 1.0) : 0.0;
        if ((from + t * along - middle).norm() > reach) continue;
        steps_[tile_of(tx, ty)].push_back(step);
      }
  }

 private:
  [[nodiscard]] std::size_t tile_of(int tx, int ty) const {
    return static_cast<std::size_t>(ty) * static_cast<std::size_t>(across_) + static_cast<std::size_t>(tx);
  }
  const Stock& stock_;
  std::vector<std::vector<TileStep>>& steps_;
  int across_;
  std::vector<double> highest_;  // of each tile, before anything is carved
  double top_ = -std::numeric_limits<double>::infinity();
};

/// One entry for each move and body, in their order: the deepest over all tiles, of equals that of the first.
void keep_deepest(std::vector<CarveLog::Meeting>& meetings) {
  std::stable_sort(meetings.begin(), meetings.end(),
                   [](const CarveLog::Meeting& a, const CarveLog::Meeting& b) {
                     return std::tie(a.move, a.body, b.depth_mm) < std::tie(b.move, b.body, a.depth_mm);
                   });
  meetings.erase(std::unique(meetings.begin(), meetings.end(),
                             [](const CarveLog::Meeting& a, const CarveLog::Meeting& b) {
                               return a.move == b.move && a.body == b.body;
                             }),
                 meetings.end());
}

}  // namespace

void carve(Stock& stock, std::span<const Profile> cutters, std::span<const SweptMove> moves, CarveLog* log,
           const Progress& progress, std::span<const TestedBody> tested) {
  const std::size_t cells =
      static_cast<std::size_t>(stock.columns()) * static_cast<std::size_t>(stock.rows());
  if (log) {
    log->removed.assign(moves.size(), 0);
    log->entered.assign(moves.size(), 0.0);
    log->entered_at.assign(moves.size(), Vec3::Zero());
    log->meetings.clear();
    if (log->last_cut.empty()) log->last_cut.assign(cells, -1);
  }
  const std::int32_t first_move = log ? log->first_move : 0;
  const int across = (stock.columns() + kTileSide - 1) / kTileSide,
            up = (stock.rows() + kTileSide - 1) / kTileSide;
  std::vector<std::vector<TileStep>> steps(static_cast<std::size_t>(across) * static_cast<std::size_t>(up));
  Reach reach(stock, steps);
  std::vector<CarveBody> bodies;
  std::vector<double> lift(cutters.size(), 0.0);
  for (const Profile& profile : cutters) bodies.push_back(body_of(profile));
  std::vector<ArcPiece> pieces;
  const auto add = [&](const SweptMove& move, TileStep step, std::size_t first_piece) {
    const auto body = static_cast<std::size_t>(step.body);
    if (!move.arc) reach.add(move.from, move.to, 0, bodies[body].radius, lift[body], step);
    for (std::size_t k = first_piece; move.arc && k < pieces.size(); ++k) {
      step.piece = static_cast<std::int32_t>(k);
      reach.add(pieces[k].from, pieces[k].to, pieces[k].bulge(), bodies[body].radius, lift[body], step);
    }
  };
  std::vector<std::vector<std::int32_t>> tested_of(cutters.size());
  for (const TestedBody& body : tested) {
    tested_of[static_cast<std::size_t>(body.cutter)].push_back(static_cast<std::int32_t>(bodies.size()));
    bodies.push_back(body_of(body.profile));
    lift.push_back(body.above_tip_mm);
  }
  for (std::size_t i = 0; i < moves.size(); ++i) {
    const SweptMove& move = moves[i];
    const auto number = static_cast<std::int32_t>(i) + first_move;
    const std::size_t first_piece = pieces.size();
    if (move.arc) detail::add_pieces(move, pieces);
    // Bodies above the cutter first: what counts is the material before the move.
    for (const std::int32_t b : tested_of[static_cast<std::size_t>(move.cutter)]) {
      const auto body = static_cast<std::size_t>(b);
      if (move.cuts || tested[body - cutters.size()].on_rapids)
        add(move, {number, b, -1, false}, first_piece);
    }
    add(move, {number, move.cutter, -1, move.cuts}, first_piece);
  }
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
    task.moves = moves, task.first_move = first_move, task.pieces = pieces, task.bodies = bodies,
    task.lift = lift, task.steps = steps[i];
    detail::carve_tile(task);
  });
  if (!log) return;
  for (const detail::TileTask& task : tasks) {
    for (const auto i : task.removers) log->removed[static_cast<std::size_t>(i - first_move)] = 1;
    for (const detail::TileMeeting& meeting : task.meetings) {
      const auto i = static_cast<std::size_t>(meeting.move - first_move);
      if (meeting.body >= static_cast<std::int32_t>(cutters.size())) {
        log->meetings.push_back({meeting.move, meeting.body - static_cast<std::int32_t>(cutters.size()),
                                 meeting.depth, meeting.at});
        continue;
      }
      if (meeting.depth > log->entered[i]) log->entered[i] = meeting.depth, log->entered_at[i] = meeting.at;
    }
  }
  keep_deepest(log->meetings);
}

}  // namespace yardpass
