// The outline of some of the cells of a grid.
#pragma once

#include "plan/distance_map.h"
#include "yardpass/geom/region.h"
#include "yardpass/stock/stock.h"

namespace yardpass::detail {

/// Square cells; a mask holds them row by row.
struct CellGrid {
  Vec2 origin;  // lowest corner
  double side;
  int columns, rows;
  [[nodiscard]] std::size_t index(int column, int row) const {
    return static_cast<std::size_t>(row) * static_cast<std::size_t>(columns) +
           static_cast<std::size_t>(column);
  }
  [[nodiscard]] Vec2 middle(int column, int row) const {
    return origin + side * Vec2(column + 0.5, row + 0.5);
  }
};

/// Along the sides of the marked cells, within three quarters of a cell; the inside on the left.
[[nodiscard]] Region outline_of_cells(const CellGrid& grid, const Mask& marked);
[[nodiscard]] Region outline_of_cells(const Stock& stock, const Mask& marked);

}  // namespace yardpass::detail
