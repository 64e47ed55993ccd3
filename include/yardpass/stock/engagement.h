/// How much of a cutter meets material on its way, measured on the stock.
#pragma once

#include <cstdint>
#include <deque>
#include <functional>
#include <vector>

#include "yardpass/stock/stock.h"
#include "yardpass/tool/profile.h"

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
  /// Its copy, as it is by now.
  [[nodiscard]] const Stock& stock() const { return stock_; }

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
  /// Where the cutter was, and how it got there.
  struct Behind {
    Vec3 tip;
    Vec2 heading;
    double fall, rise;  ///< least and greatest slope of the ways to it and on [over 1]; infinite: upright
    double turn;        ///< from the heading before [radians]
  };
  /// Of the cells under a cutter those that lie so far ahead of its middle or behind it.
  struct Strip {
    double from, to;
  };
  void turn_to(const Vec2& heading);
  [[nodiscard]] double angle_at(const Vec3& tip);
  template <bool checked>
  [[nodiscard]] double met_by(const Ring& ring, const Vec2& at, double z) const;
  [[nodiscard]] double height_at(double square) const;
  [[nodiscard]] Strip strip_of(const Behind& behind) const;
  bool clear(const Behind& behind, const Strip& strip);

  Stock stock_;
  Tops tops_;
  double radius_, step_, skin_;
  std::size_t late_;   // steps
  std::size_t blind_;  // directions at each side that are not seen
  double flat_;
  Profile cutter_;
  std::vector<double> heights_;  // of the cutter, by the square of the distance from its axis
  std::vector<Ring> rings_;      // the widest first
  std::vector<Vec2> ahead_;      // unit vectors over the leading half of the present heading
  std::deque<Behind> behind_;
  bool taken_ = false;
};

}  // namespace yardpass
