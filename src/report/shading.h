// The part from above in light greys, for whatever is drawn over it.
#pragma once

#include <cmath>

#include "report/canvas.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/stock/stock.h"
#include "yardpass/verify/left.h"

namespace yardpass::detail {

/// Heights of the part on a pixel grid, shaded from the upper left.
class Shading {
 public:
  Shading(const std::shared_ptr<const ContactPart>& part, const Box2& box, double pixel_mm)
      : grid_(Box3(with_z(box.min(), 0), with_z(box.max(), 1)), pixel_mm),
        heights_(part_heights(grid_, part)) {}

  [[nodiscard]] Colour at(const Vec2& p) const {
    const double c = grid_.cell_mm();
    const int i = static_cast<int>((p.x() - grid_.block().min().x()) / c),
              j = static_cast<int>((p.y() - grid_.block().min().y()) / c);
    const double here = height(i, j);
    if (here == kNothingBelow) return hex(0xffffff);
    const auto slope = [&](double before, double after) {
      if (before == kNothingBelow || after == kNothingBelow) return 0.0;
      return (after - before) / (2 * c);
    };
    const Vec3 normal =
        Vec3(-slope(height(i - 1, j), height(i + 1, j)), -slope(height(i, j - 1), height(i, j + 1)), 1)
            .normalized();
    const double light = normal.dot(Vec3(-0.45, 0.55, 0.70));
    const double grey = std::clamp(0.80 + 0.22 * light, 0.72, 0.985);  // light, so that strokes stand out
    return {grey, grey, std::min(1.0, grey * 1.015)};
  }

 private:
  [[nodiscard]] double height(int i, int j) const {
    return heights_[grid_.index(std::clamp(i, 0, grid_.columns() - 1), std::clamp(j, 0, grid_.rows() - 1))];
  }
  Stock grid_;
  std::vector<double> heights_;
};

}  // namespace yardpass::detail
