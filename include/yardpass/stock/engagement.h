/// How much of a cutter meets material on its way, measured on the stock.
#pragma once

#include <cstdint>
#include <deque>
#include <functional>
#include <vector>

#include "yardpass/stock/stock.h"

namespace yardpass {

/// A short step of a cutter on its way.
struct EngagementStep {
  Vec3 from, to;
  /// Of the leading half turn about the axis, so much has material at the cutter's rim [degrees, up to 180];
  /// 0 for steps straight up or down.
  double angle_deg = 0;
  bool takes = false;  ///< material goes
};

/// Follows a cutter through its own copy of the stock. The rim is the widest ring of the cutter that meets
/// anything where it stands: of a flat end its edge, of a round one the ring at the top of the step. A
/// direction counts if there, within a cell of the rim, material stands higher than the cutter by more than
/// 0.01 of the radius. Material goes late, 0.12 of a radius or three cells behind the cutter, else what lies
/// beside it would be too thin to be seen; so in tight turns the angle is told too large (not at corners
/// above 45 degrees, where all of it goes). Less than 3 degrees is told as none. Steps are 0.03 of the
/// radius; angles are right to about half a cell over the radius [radians]. Not safe for use by two threads.
class EngagementMeter {
 public:
  EngagementMeter(Stock stock, const Profile& cutter);

  /// A straight move at feed.
  void go(const Vec3& from, const Vec3& to, const std::function<void(const EngagementStep&)>& visit);
  /// The cutter has left the material.
  void lift();

 private:
  /// Two circles just within a ring of the cutter, with its heights there.
  struct Ring {
    double outer, inner, outer_height, inner_height;
  };
  /// Tops of the stock in blocks of cells, so that rings above all of it need no look at the cells.
  class Tops {
   public:
    explicit Tops(const Stock& stock);
    void lowered(int column, int row) { changed_[index(column, row)] = 1; }
    /// No cell of the blocks that a rectangle of cells touches stands higher; minus infinity: it has no
    /// cells. `exactly`: the highest of them as they are now.
    [[nodiscard]] double highest(const Stock& stock, const Stock::CellRange& range, bool exactly);

   private:
    static constexpr int kSide = 8;  ///< cells
    [[nodiscard]] std::size_t index(int column, int row) const {
      return static_cast<std::size_t>(row / kSide) * static_cast<std::size_t>(columns_) +
             static_cast<std::size_t>(column / kSide);
    }
    void look(const Stock& stock, int block_column, int block_row);
    int columns_;
    std::vector<double> top_;
    std::vector<std::uint8_t> changed_;
  };
  [[nodiscard]] double angle_at(const Vec3& tip, const Vec2& heading);
  [[nodiscard]] bool stands(const Vec2& at, double z) const;
  [[nodiscard]] double height_at(double square) const;
  bool clear(const Vec3& tip, const Vec2& heading, double slack);

  Stock stock_;
  Tops tops_;
  double radius_, step_, skin_;
  std::size_t late_;   // steps
  std::size_t blind_;  // directions at each side that are not seen
  double flat_;
  std::vector<double> heights_;  // of the cutter, by the square of the distance from its axis
  std::vector<Ring> rings_;      // the widest first
  struct Behind {
    Vec3 tip;
    Vec2 heading;
    bool whole;
  };
  std::deque<Behind> behind_;
  bool taken_ = false;
};

}  // namespace yardpass
