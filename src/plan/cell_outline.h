// The outline of some of the cells of a grid.
#pragma once

#include <functional>

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
/// `within`: in cells.
[[nodiscard]] Region outline_of_cells(const CellGrid& grid, const Mask& marked, double within = 0.75);
/// The same without the cells' steps: between a marked cell and its neighbour the outline passes `share` of
/// the way from middle to middle, which is asked for both, by index. `within`: of that line, in cells.
[[nodiscard]] Region outline_between_cells(const CellGrid& grid, const Mask& marked,
                                           const std::function<double(std::size_t, std::size_t)>& share,
                                           double within = 0.25);
[[nodiscard]] Region outline_of_cells(const Stock& stock, const Mask& marked);

}  // namespace yardpass::detail
