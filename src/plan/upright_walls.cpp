#include "plan/upright_walls.h"

#include <algorithm>
#include <atomic>
#include <cmath>

#include "geom/bands.h"
#include "geom/parallel_for.h"
#include "plan/cell_outline.h"

namespace yardpass::detail {

namespace {

/// Halves the way to where most of the rise is, down to no width.
bool jumps(const TipSurface& surface, Vec2 a, double low, Vec2 b, double high, double least_mm) {
  constexpr double kNoWidth = 1e-4;  // mm
  while ((b - a).norm() > kNoWidth) {
    if (std::abs(high - low) < least_mm) return false;
    const Vec2 middle = 0.5 * (a + b);
    const double here = surface.height(middle);
    if (!(here > kNothingBelow)) return false;
    if (std::abs(here - low) > std::abs(high - here))
      b = middle, high = here;
    else
      a = middle, low = here;
  }
  return std::abs(high - low) >= least_mm;
}

}  // namespace

Region upright_walls(const TipSurface& surface, const Region& area, double cell_mm, double least_mm) {
  if (area.empty()) return {};
  const Box2 box = area.box();
  const CellGrid grid{box.min() - Vec2(2.37, 2.41) * cell_mm, cell_mm,
                      static_cast<int>(box.sizes().x() / cell_mm) + 6,
                      static_cast<int>(box.sizes().y() / cell_mm) + 6};
  const Bands near(offset(area, 1.5 * cell_mm));
  std::vector<double> heights(static_cast<std::size_t>(grid.columns) * static_cast<std::size_t>(grid.rows),
                              kNothingBelow);
  parallel_for(grid.rows, [&](int row) {
    for (int column = 0; column < grid.columns; ++column)
      if (const Vec2 place = grid.middle(column, row); near.contains(place))
        heights[grid.index(column, row)] = surface.height(place);
  });
  std::vector<std::atomic<std::uint8_t>> hit(heights.size());
  parallel_for(grid.rows, [&](int row) {
    for (int column = 0; column < grid.columns; ++column)
      for (int up = 0; up < 2; ++up) {
        const int c = column + 1 - up, r = row + up;
        if (c >= grid.columns || r >= grid.rows) continue;
        const std::size_t a = grid.index(column, row), b = grid.index(c, r);
        if (!(heights[a] > kNothingBelow) || !(heights[b] > kNothingBelow)) continue;
        if (!jumps(surface, grid.middle(column, row), heights[a], grid.middle(c, r), heights[b], least_mm))
          continue;
        hit[a] = 1, hit[b] = 1;
      }
  });
  Mask marked(hit.size(), 0);
  for (std::size_t i = 0; i < hit.size(); ++i) marked[i] = hit[i];
  return intersect(outline_of_cells(grid, marked), offset(area, cell_mm));
}

}  // namespace yardpass::detail
