// Straight lines side by side over an area.
#pragma once

#include <functional>
#include <utility>
#include <vector>

#include "strategy/frame.h"
#include "yardpass/geom/region.h"

namespace yardpass::detail {

/// A line across an area, in the pieces that lie inside, each along the frame's way.
struct Row {
  double place = 0;  ///< across
  std::vector<Polyline2> pieces = {};
  bool whole = true;  ///< no piece has gaps or ends that are there only because of the tolerance
};

/// Rows over an area. Pieces with a gap between them in which the row leaves the area by no more than the
/// tolerance are one, so along a border of facets a row is whole or absent.
class Rows {
 public:
  Rows(const Region& area, double angle_deg, double tolerance_mm);

  /// Places of the first and the last row, just inside the outermost lines; nothing between them if the area
  /// is empty.
  [[nodiscard]] double low() const { return low_; }
  [[nodiscard]] double high() const { return high_; }
  /// Draws them in to the outermost rows in which something counts, within 0.0002 mm, or to the next that are
  /// whole, within the tolerance; `step`: no gap between rows that count, at either end, is wider.
  struct Counts {
    bool something = false, whole = true;
  };
  void draw_in(double step, const std::function<Counts(const Row& row)>& counts);

  [[nodiscard]] Row at(double place) const;
  /// The same, or, if that row is not whole, the nearest whole one within the tolerance, if there is one.
  [[nodiscard]] Row near(double place) const;

  /// Evenly spread, no farther apart than the stepover: from the first to the last place, or half a step
  /// inside them.
  [[nodiscard]] std::vector<double> spread(double stepover, bool on_border) const;

 private:
  Region area_, loose_;
  Frame frame_;
  double low_ = 1e300, high_ = -1e300, left_ = 1e300, right_ = -1e300;
  double slack_;

  [[nodiscard]] double drawn_in(double from, double to, double step,
                                const std::function<Counts(const Row& row)>& counts) const;
};

}  // namespace yardpass::detail
