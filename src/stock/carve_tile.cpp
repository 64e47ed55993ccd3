#include "stock/carve_tile.h"

#include <cmath>
#include <limits>

#include "yardpass/tool/segment_touch.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "stock/carve_tile.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, which includes this file once for each instruction set.
#include <hwy/highway.h>

#include "stock/swept_height-inl.h"

HWY_BEFORE_NAMESPACE();
namespace yardpass::detail::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

constexpr int kBlockCells = kBlockSide * kBlockSide;
class Tile {
 public:
  explicit Tile(TileTask& task) : task_(task) {
    half_ = 0.5 * (kBlockSide - 1) * task.cell;
    for (int i = 0; i < kTileSide; ++i) {
      xs_[i] = task.first.x() + i * task.cell;
      ys_[i] = task.first.y() + i * task.cell;
    }
    for (int k = 0; k < kBlocks; ++k) {
      block_x_[k] = xs_[kBlockSide * k] + half_;
      block_y_[k] = ys_[kBlockSide * k] + half_;
    }
    copy_in();
    for (int b = 0; b < kBlocks * kBlocks; ++b) refit(b);
  }

  void run() {
    for (const TileStep& step : task_.steps) {
      if (highest_ < -kFar) find_highest();
      do_step(step);
    }
    copy_out();
  }

 private:
  static int cell_at(int column, int row) {
    return ((row / kBlockSide) * kBlocks + column / kBlockSide) * kBlockCells +
           (row % kBlockSide) * kBlockSide + column % kBlockSide;
  }
  void copy_in() {
    for (int row = 0; row < kTileSide; ++row)
      for (int column = 0; column < kTileSide; ++column) {
        const bool belongs = row < task_.rows && column < task_.columns;
        const std::size_t from =
            static_cast<std::size_t>(row) * task_.stride + static_cast<std::size_t>(column);
        heights_[cell_at(column, row)] = belongs ? task_.heights[from] : -kFar;
        last_[cell_at(column, row)] = belongs && task_.last_cut ? task_.last_cut[from] : -1;
      }
  }
  void copy_out() {
    for (int row = 0; row < task_.rows; ++row)
      for (int column = 0; column < task_.columns; ++column) {
        const std::size_t to =
            static_cast<std::size_t>(row) * task_.stride + static_cast<std::size_t>(column);
        task_.heights[to] = heights_[cell_at(column, row)];
        if (task_.last_cut) task_.last_cut[to] = last_[cell_at(column, row)];
      }
  }

  /// A plane on or above all cells of a block: slope from its two halves each way, height from its cells.
  void refit(int b) {
    const double* h = heights_ + b * kBlockCells;
    double left = 0, right = 0, lower = 0, upper = 0;
    for (int j = 0; j < kBlockSide; ++j)
      for (int i = 0; i < kBlockSide; ++i) {
        const double z = h[j * kBlockSide + i];
        (i < kBlockSide / 2 ? left : right) += z;
        (j < kBlockSide / 2 ? lower : upper) += z;
      }
    const double share = 1.0 / (kBlockCells / 2 * (kBlockSide / 2) * task_.cell);
    double gx = (right - left) * share, gy = (upper - lower) * share;
    if (!(std::abs(gx) < 100 && std::abs(gy) < 100)) gx = gy = 0;  // over a wall, or beyond the stock
    double top = -kFar;
    for (int j = 0; j < kBlockSide; ++j)
      for (int i = 0; i < kBlockSide; ++i)
        top = std::max(top,
                       h[j * kBlockSide + i] - gx * (i * task_.cell - half_) - gy * (j * task_.cell - half_));
    slope_x_[b] = gx, slope_y_[b] = gy, top_[b] = top;
  }
  void find_highest() {
    highest_ = -kFar;
    for (int b = 0; b < kBlocks * kBlocks; ++b)
      highest_ = std::max(highest_, top_[b] + (std::abs(slope_x_[b]) + std::abs(slope_y_[b])) * half_);
    since_ = 0;
  }

  void do_step(const TileStep& step) {
    const CarveBody& body = task_.bodies[static_cast<std::size_t>(step.body)];
    const Vec3 up(0, 0, task_.lift[static_cast<std::size_t>(step.body)]);
    const SweptMove& move = task_.moves[static_cast<std::size_t>(step.move - task_.first_move)];
    const ArcPiece* piece = step.piece < 0 ? nullptr : &task_.pieces[static_cast<std::size_t>(step.piece)];
    const Vec3 a = (piece ? piece->from : move.from) + up, b = (piece ? piece->to : move.to) + up;
    if (std::min(a.z(), b.z()) >= highest_) return;
    if (piece && piece->radius > 0)
      do_bow(step, body, *piece, a, b);
    else
      do_line(step, body, a, b);
  }

  static Line line_of(const CarveBody& body, const Vec3& a, const Vec3& b) {
    Line line;
    line.low_z = std::min(a.z(), b.z());
    const double dx = b.x() - a.x(), dy = b.y() - a.y();
    line.length = std::sqrt(dx * dx + dy * dy);
    line.x = a.x(), line.y = a.y(), line.z = a.z();
    if (line.length < 1e-12) {  // straight up or down: its lower end
      line.ux = 1, line.uy = 0, line.length = 0, line.slope = 0, line.z = line.low_z;
    } else {
      line.ux = dx / line.length, line.uy = dy / line.length;
      line.slope = (b.z() - a.z()) / line.length;
    }
    line.radius = body.radius, line.radius2 = body.radius * body.radius;
    return line;
  }
  static RoundShape round_of(const CarveBody& body, const Line& line) {
    RoundShape shape;
    shape.disc = body.disc, shape.corner = body.corner, shape.corner2 = body.corner * body.corner;
    shape.radius2 = line.radius2;
    shape.ball = body.disc == 0;
    shape.lean = line.slope / std::sqrt(1 + line.slope * line.slope);
    if (body.corner == 0 && line.slope != 0) shape.lean = line.slope > 0 ? 1 : -1;
    shape.searched = line.slope != 0 && body.corner > 0 && body.disc > 0;
    return shape;
  }

  void do_line(const TileStep& step, const CarveBody& body, const Vec3& a, const Vec3& b) {
    const Line line = line_of(body, a, b);
    if (body.kind == CarveBody::Kind::round)
      sweep(step, line, round_of(body, line), a, b);
    else if (body.kind == CarveBody::Kind::pieced)
      sweep(step, line, PiecedShape{body.profile->pieces()}, a, b);
    else
      sweep_slowly(step, line, *body.profile, a, b);
  }
  template <typename Shape>
  void sweep(const TileStep& step, const Line& line, const Shape& shape, const Vec3& a, const Vec3& b) {
    each_block(
        step, a, b, line.radius, [&](int row) HWY_ATTR { return open_blocks(line, shape, row); },
        [&](int block, TileMeeting& worst) HWY_ATTR {
          return visit([&](Vec px, Vec py) HWY_ATTR { return SweptHeight(line, shape, px, py).z; }, block,
                       step, worst);
        });
  }
  void sweep_slowly(const TileStep& step, const Line& line, const Profile& profile, const Vec3& a,
                    const Vec3& b) {
    const auto distance = [&](const Vec2& place) {
      const double rx = place.x() - line.x, ry = place.y() - line.y;
      const double t = std::clamp(rx * line.ux + ry * line.uy, 0.0, line.length);
      return std::hypot(rx - t * line.ux, ry - t * line.uy);
    };
    each_block(
        step, a, b, line.radius,
        [&](int row) { return open_blocks_by_distance(profile, line.low_z, distance, row); },
        [&](int block, TileMeeting& worst) {
          return visit_slowly([&](const Vec2& place) { return swept_height(profile, place, a, b); },
                              line.low_z, block, step, worst);
        });
  }

  void do_bow(const TileStep& step, const CarveBody& body, const ArcPiece& piece, const Vec3& a,
              const Vec3& b) {
    const Line line = line_of(body, a, b);
    if (body.kind == CarveBody::Kind::round)
      sweep_bow(step, line, round_of(body, line), *body.profile, piece, a, b);
    else
      sweep_bow(step, line, PiecedShape{body.profile->pieces()}, *body.profile, piece, a, b);
  }
  template <typename Shape>
  void sweep_bow(const TileStep& step, const Line& line, const Shape& shape, const Profile& profile,
                 const ArcPiece& piece, const Vec3& a, const Vec3& b) {
    const Vec2 from = plan(a) - piece.centre, to = plan(b) - piece.centre;
    const Bow bow{piece.centre.x(), piece.centre.y(), piece.radius, from.x(),
                  from.y(),         to.x(),           to.y(),       piece.counter_clockwise ? 1.0 : -1.0};
    const auto distance = [&](const Vec2& place) { return piece.distance(place); };
    each_block(
        step, a, b, line.radius + piece.bulge(),
        [&](int row) { return open_blocks_by_distance(profile, line.low_z, distance, row); },
        [&](int block, TileMeeting& worst) HWY_ATTR {
          return visit([&](Vec px, Vec py) HWY_ATTR { return BowHeight(line, shape, bow, px, py); }, block,
                       step, worst);
        });
  }

  /// Asks `open` which blocks of each row within reach may be met, and lets `visit_block` do those.
  template <typename Open, typename VisitBlock>
  HWY_INLINE void each_block(const TileStep& step, const Vec3& a, const Vec3& b, double reach,
                             const Open& open, const VisitBlock& visit_block) {
    const int first_column = block_of(std::min(a.x(), b.x()) - reach, task_.first.x()),
              last_column = block_of(std::max(a.x(), b.x()) + reach, task_.first.x()),
              first_row = block_of(std::min(a.y(), b.y()) - reach, task_.first.y()),
              last_row = block_of(std::max(a.y(), b.y()) + reach, task_.first.y());
    bool removed = false;
    TileMeeting worst{step.move, step.body, kTouching, Vec3::Zero()};
    for (int row = first_row; row <= last_row; ++row) {
      const unsigned opened = open(row);
      for (int column = first_column; column <= last_column; ++column) {
        if (!(opened >> column & 1)) continue;
        const int block = row * kBlocks + column;
        if (visit_block(block, worst) && step.cuts) {
          removed = true;
          refit(block);
        }
      }
    }
    if (removed) {
      task_.removers.push_back(step.move);
      if (++since_ >= 32) highest_ = -2 * kFar;  // to be found again: it has fallen
    }
    if (worst.depth > kTouching) task_.meetings.push_back(worst);
  }
  [[nodiscard]] int block_of(double place, double first) const {
    return std::clamp(static_cast<int>(std::floor((place - first) / (kBlockSide * task_.cell))), 0,
                      kBlocks - 1);
  }

  /// Bits of the blocks of a row that the body may lower. The swept body is convex, so it lies above its
  /// tangent plane at the block's middle, and above what its lowest tip leaves at the block's nearest place.
  template <typename Shape>
  HWY_INLINE unsigned open_blocks(const Line& line, const Shape& shape, int row) const {
    const Lanes8 d;
    unsigned open = 0;
    for (std::size_t i = 0; i < kBlocks; i += hn::Lanes(d)) {
      const std::size_t b = static_cast<std::size_t>(row) * kBlocks + i;
      const auto px = hn::Load(d, block_x_ + i), py = hn::Set(d, block_y_[row]);
      const auto gx = hn::Load(d, slope_x_ + b), gy = hn::Load(d, slope_y_ + b), top = hn::Load(d, top_ + b);
      const auto half = hn::Set(d, half_), zero = hn::Zero(d);
      const Swept at = SweptHeight(line, shape, px, py);
      const auto per_far = hn::Div(at.slope, hn::Max(at.far, hn::Set(d, 1e-12)));
      const auto vx = hn::Mul(at.dx, per_far), vy = hn::Mul(at.dy, per_far);
      const auto fall = hn::Mul(hn::Add(hn::Abs(hn::Sub(vx, gx)), hn::Abs(hn::Sub(vy, gy))), half);
      const auto by_tangent = hn::Sub(hn::Sub(at.z, top), fall);
      const auto passes = hn::Lt(at.z, hn::Set(d, kFar));
      // The nearest place of the block can be half a diagonal nearer to the move than its middle.
      const auto rx = hn::Sub(px, hn::Set(d, line.x)), ry = hn::Sub(py, hn::Set(d, line.y));
      const auto s = hn::Add(hn::Mul(rx, hn::Set(d, line.ux)), hn::Mul(ry, hn::Set(d, line.uy)));
      const auto t = hn::Min(hn::Max(s, zero), hn::Set(d, line.length));
      const auto ax = hn::Sub(rx, hn::Mul(t, hn::Set(d, line.ux))),
                 ay = hn::Sub(ry, hn::Mul(t, hn::Set(d, line.uy)));
      const auto near = hn::Max(
          hn::Sub(hn::Sqrt(hn::Add(hn::Mul(ax, ax), hn::Mul(ay, ay))), hn::Set(d, 1.415 * half_)), zero);
      const auto reached = hn::Le(near, hn::Set(d, line.radius));
      const auto lowest = hn::Add(hn::Set(d, line.low_z), RiseOf(shape, near, hn::Mul(near, near)).height);
      const auto highest = hn::Add(top, hn::Mul(hn::Add(hn::Abs(gx), hn::Abs(gy)), half));
      const auto by_nearest = hn::Sub(lowest, highest);
      const auto clear = hn::Or(hn::Or(hn::Not(reached), hn::Ge(by_nearest, hn::Set(d, -kSlack))),
                                hn::And(passes, hn::Ge(by_tangent, hn::Set(d, -kSlack))));
      std::uint8_t bits[8] = {};
      hn::StoreMaskBits(d, hn::Not(clear), bits);
      open |= (static_cast<unsigned>(bits[0]) & ((1U << hn::Lanes(d)) - 1)) << i;
    }
    return open;
  }
  template <typename Distance>
  [[nodiscard]] unsigned open_blocks_by_distance(const Profile& profile, double low_z,
                                                 const Distance& distance, int row) const {
    unsigned open = 0;
    for (int column = 0; column < kBlocks; ++column) {
      const int b = row * kBlocks + column;
      const double near = std::max(0.0, distance(Vec2(block_x_[column], block_y_[row])) - 1.415 * half_);
      const double highest = top_[b] + (std::abs(slope_x_[b]) + std::abs(slope_y_[b])) * half_;
      if (near <= profile.radius() && low_z + profile.height(near) < highest - kSlack) open |= 1U << column;
    }
    return open;
  }

  /// Compares or lowers the cells of a block by the height of the swept body at eight places; true if the
  /// body met material.
  template <typename Height>
  HWY_INLINE bool visit(const Height& height_at, int block, const TileStep& step, TileMeeting& worst) {
    const Lanes8 d;
    const auto bottom = hn::Set(d, task_.bottom);
    double* heights = heights_ + block * kBlockCells;
    std::int32_t* last = last_ + block * kBlockCells;
    const int column = kBlockSide * (block % kBlocks), row = kBlockSide * (block / kBlocks);
    bool met = false;
    for (int j = 0; j < kBlockSide; ++j) {
      const auto py = hn::Set(d, ys_[row + j]);
      for (std::size_t i = 0; i < kBlockSide; i += hn::Lanes(d)) {
        const auto px = hn::Load(d, xs_ + static_cast<std::size_t>(column) + i);
        double* cells = heights + static_cast<std::size_t>(j * kBlockSide) + i;
        const auto before = hn::Load(d, cells);
        // Below the bottom there is no material to meet or to take.
        const auto swept = hn::Max(height_at(px, py), bottom);
        const auto lower = hn::Lt(swept, before);
        if (hn::AllFalse(d, lower)) continue;
        met = true;
        std::uint8_t bits[8] = {};
        hn::StoreMaskBits(d, lower, bits);
        if (step.cuts) {
          hn::Store(hn::IfThenElse(lower, swept, before), d, cells);
          for (std::size_t k = 0; k < hn::Lanes(d); ++k)
            if (bits[0] >> k & 1) last[static_cast<std::size_t>(j * kBlockSide) + i + k] = step.move;
          continue;
        }
        HWY_ALIGN double z[8];
        hn::Store(swept, d, z);
        for (std::size_t k = 0; k < hn::Lanes(d); ++k)
          if (bits[0] >> k & 1) meet(z[k], cells[k], column + static_cast<int>(i + k), row + j, worst);
      }
    }
    return met;
  }
  template <typename Height>
  bool visit_slowly(const Height& height_at, double low_z, int block, const TileStep& step,
                    TileMeeting& worst) {
    const int column = kBlockSide * (block % kBlocks), row = kBlockSide * (block / kBlocks);
    bool met = false;
    for (int k = 0; k < kBlockCells; ++k) {
      double& height = heights_[block * kBlockCells + k];
      if (height <= low_z) continue;
      const int i = column + k % kBlockSide, j = row + k / kBlockSide;
      const double swept = std::max(height_at(Vec2(xs_[i], ys_[j])), task_.bottom);
      if (swept >= height) continue;
      met = true;
      if (!step.cuts) {
        meet(swept, height, i, j, worst);
        continue;
      }
      height = swept;
      last_[block * kBlockCells + k] = step.move;
    }
    return met;
  }
  void meet(double swept, double height, int column, int row, TileMeeting& worst) const {
    if (!(height - swept > worst.depth)) return;
    worst.depth = height - swept;
    worst.at = Vec3(xs_[column], ys_[row], swept);
  }

  /// Blocks that stand higher by less than this are passed over.
  static constexpr double kSlack = 1e-10;

  TileTask& task_;
  double half_;  // from a block's middle to its outer cells
  double highest_ = -2 * kFar;
  int since_ = 0;
  alignas(64) double xs_[kTileSide], ys_[kTileSide];
  alignas(64) double block_x_[kBlocks], block_y_[kBlocks];
  alignas(64) double slope_x_[kBlocks * kBlocks], slope_y_[kBlocks * kBlocks], top_[kBlocks * kBlocks];
  alignas(64) double heights_[kTileSide * kTileSide];
  std::int32_t last_[kTileSide * kTileSide];
};

void CarveTile(TileTask& task) { Tile(task).run(); }

}  // namespace yardpass::detail::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE

namespace yardpass::detail {

HWY_EXPORT(CarveTile);

void carve_tile(TileTask& task) { HWY_DYNAMIC_DISPATCH(CarveTile)(task); }

}  // namespace yardpass::detail

#endif
