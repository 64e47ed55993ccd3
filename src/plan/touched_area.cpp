#include "plan/touched_area.h"

#include <algorithm>
#include <cmath>

#include "geom/bands.h"
#include "geom/more_points.h"
#include "geom/parallel_for.h"
#include "plan/cell_outline.h"

namespace yardpass::detail {

namespace {

constexpr double kMostCells = 1e6;
constexpr double kPrecision = 1e-4;  // mm
constexpr double kMostOff = 0.002;

CellGrid grid_over(const Box2& box, double radius) {
  const double side = std::max(0.125 * radius, std::sqrt(box.volume() / kMostCells));
  // Nothing of a part lies on its lines by design.
  return {box.min() - Vec2::Constant(1.37 * side), side, static_cast<int>(box.sizes().x() / side) + 4,
          static_cast<int>(box.sizes().y() / side) + 4};
}

/// Of places along the border.
template <typename Holds>
double share_off(const Region& region, const Holds& holds) {
  constexpr double kApart = 0.1;  // mm
  std::int64_t count = 0, off = 0;
  for (const Polyline2& loop : region.loops) {
    std::int32_t near = -1;
    for (const Vec2& place : with_more_points(loop, true, kApart)) {
      ++count;
      off += holds(place, near) ? 0 : 1;
    }
  }
  return count > 0 ? static_cast<double>(off) / static_cast<double>(count) : 0;
}

}  // namespace

Region touched_area(const ToolSurface& surface, const Region& area, const TouchRule& rule) {
  if (area.empty()) return {};
  const CellGrid grid = grid_over(area.box(), surface.cutter().radius());
  const Bands bands(area);
  const auto belongs = [&](const Vec2& place, std::int32_t& near) {
    if (!bands.contains(place)) return false;
    const std::optional<Touch> touch = surface.touch(place, near);
    if (!touch) return false;
    near = touch->triangle;
    return rule(surface.part(), *touch) >= TouchRule::Belongs::yes;
  };
  Mask marked(static_cast<std::size_t>(grid.columns) * static_cast<std::size_t>(grid.rows), 0);
  parallel_for(grid.rows, [&](int row) {
    std::int32_t near = -1;
    for (int column = 0; column < grid.columns; ++column)
      marked[grid.index(column, row)] = belongs(grid.middle(column, row), near) ? 1 : 0;
  });
  const auto middle = [&](std::size_t cell) {
    const auto columns = static_cast<std::size_t>(grid.columns);
    return grid.middle(static_cast<int>(cell % columns), static_cast<int>(cell / columns));
  };
  const auto share = [&](std::size_t in, std::size_t out) {
    double low = 0, high = 1;
    std::int32_t near = -1;
    while ((high - low) * grid.side > kPrecision) {
      const double between = 0.5 * (low + high);
      (belongs(middle(in) + between * (middle(out) - middle(in)), near) ? low : high) = between;
    }
    return low;
  };
  const Region touched = intersect(outline_between_cells(grid, marked, share, kPrecision / grid.side), area);
  // Short of what the rule itself forgives.
  const auto holds = [&](const Vec2& place, std::int32_t& near) {
    const std::optional<Touch> touch = surface.touch(place, near);
    if (!touch) return false;
    near = touch->triangle;
    return rule(surface.part(), *touch) >= TouchRule::Belongs::nearly;
  };
  Region result = touched;
  for (const double in : {0.001, 0.004, 0.015}) {
    if (share_off(result, holds) < kMostOff) break;
    result = offset(touched, -in);
  }
  return result;
}

}  // namespace yardpass::detail
