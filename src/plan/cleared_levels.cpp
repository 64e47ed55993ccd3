#include "yardpass/plan/cleared_levels.h"

#include <algorithm>
#include <cmath>

#include "plan/distance_map.h"
#include "stock/cells_inside.h"
#include "yardpass/plan/level_area.h"

namespace yardpass {

void clear_level(Stock& stock, const Region& axis_area, double z, const Profile& cutter) {
  detail::Mask under(stock.heights().size(), 0);
  detail::for_cells_inside(stock, axis_area,
                           [&](int column, int row) { under[stock.index(column, row)] = 1; });
  const std::vector<float> squares = detail::squared_distances(stock.columns(), stock.rows(), under);
  const auto heights = stock.heights();
  for (std::size_t i = 0; i < heights.size(); ++i) {
    const double far = stock.cell_mm() * std::sqrt(static_cast<double>(squares[i]));
    if (far <= cutter.radius()) heights[i] = std::min(heights[i], z + cutter.height(far));
  }
  // From beside the block it reaches in too.
  const Box2 block(plan(stock.block().min()), plan(stock.block().max()));
  if (block.contains(axis_area.box())) return;
  const double rim = z + cutter.height(cutter.radius());
  detail::for_cells_inside(stock, offset(axis_area, cutter.radius(), 0.01), [&](int column, int row) {
    double& height = heights[stock.index(column, row)];
    height = std::min(height, rim);
  });
}

void clear_levels(Stock& stock, const TipSurface& surface, double stepdown_mm, double tolerance_mm,
                  const Progress& progress) {
  require(stepdown_mm > 0, "stepdown_mm", "must be above 0");
  require(tolerance_mm > 0, "tolerance_mm", "must be above 0");
  const double radius = surface.cutter().radius(), top = stock.block().max().z();
  const Box2 box(plan(stock.block().min()).array() - radius, plan(stock.block().max()).array() + radius);
  const LevelAreas areas(surface, box, {.tolerance_mm = tolerance_mm}, part_of(progress, 0, 0.5));
  const double lowest = std::max(areas.lowest(rectangle(box)), stock.bottom_z());
  for (int k = 1; top - k * stepdown_mm > lowest - tolerance_mm; ++k) {
    const double z = top - k * stepdown_mm;
    clear_level(stock, areas.at(z).area, z, surface.cutter());
    report(progress, 0.5 + 0.5 * std::min(1.0, (top - z) / std::max(1e-9, top - lowest)));
  }
}

}  // namespace yardpass
