// Cells of the stock that lie in a region.
#pragma once

#include "yardpass/geom/region.h"
#include "yardpass/stock/stock.h"

namespace yardpass::detail {

/// Calls visit(column, row) for each cell whose centre lies in the region, row by row: by the region's
/// crossings with the line of the row, instead of a test of every cell against every edge.
template <typename Visit>
void for_cells_inside(const Stock& stock, const Region& region, const Visit& visit) {
  if (region.empty()) return;
  for (int row = 0; row < stock.rows(); ++row) {
    const Vec2 from(stock.block().min().x() - 1, stock.centre(0, row).y()),
        to(stock.block().max().x() + 1, from.y());
    const double length = to.x() - from.x();
    for (const Interval& part : inside(region, from, to)) {
      const auto range = stock.cells_between({from.x() + part.from * length, from.y()},
                                             {from.x() + part.to * length, from.y()});
      for (int column = range.first_column; column < range.last_column; ++column) visit(column, row);
    }
  }
}

}  // namespace yardpass::detail
