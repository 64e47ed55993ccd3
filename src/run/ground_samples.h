// The tip surface of a tool over an area, at places of a grid: what is foretold of passes goes by it.
#pragma once

#include <optional>
#include <vector>

#include "yardpass/contact/tool_surface.h"
#include "yardpass/geom/region.h"

namespace yardpass::detail {

class GroundSamples {
 public:
  /// About `wanted` places inside the area, on a square grid; on all cores. `touched`: only those where the
  /// tool touches the part inside of it. `floor_z`: there the tip is where it touches nothing.
  GroundSamples(const TipSurface& surface, const Region& area, const Region* touched = nullptr,
                std::optional<double> floor_z = {}, int wanted = 20000);

  [[nodiscard]] double cell_mm() const { return cell_; }
  [[nodiscard]] int columns() const { return columns_; }
  [[nodiscard]] int rows() const { return rows_; }
  [[nodiscard]] Vec2 at(int column, int row) const { return low_ + cell_ * Vec2(column + 0.5, row + 0.5); }
  [[nodiscard]] std::size_t index(int column, int row) const {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns_) +
           static_cast<std::size_t>(column);
  }
  /// Of the tip; NaN beside the area and where nothing lies below.
  [[nodiscard]] double height(int column, int row) const { return heights_[index(column, row)]; }
  [[nodiscard]] bool inside(int column, int row) const;

  /// What it rises by towards the next places in X and Y, as tangents; an upright wall is as steep as the
  /// grid can show. Zero where there is no next place.
  [[nodiscard]] Vec2 slope(int column, int row) const;
  /// How many places along a direction the area is wide, at most, times the grid.
  [[nodiscard]] double width_across(double angle_rad) const;
  /// The farthest that a place of the area is from its border, seen from above.
  [[nodiscard]] double depth_mm() const;

 private:
  double cell_ = 1;
  int columns_ = 0, rows_ = 0;
  Vec2 low_{0, 0};
  std::vector<double> heights_;
};

/// How many points a millimetre of lines over the area needs, by a few dozen pieces of lines across it, in
/// space. `angle_rad`: of the lines; nothing: every way.
double points_per_mm(const TipSurface& surface, const GroundSamples& ground, double tolerance_mm,
                     std::optional<double> angle_rad, bool level_lines);

}  // namespace yardpass::detail
