#include "plan/cell_outline.h"

#include <map>

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

Region outline_of_cells(const Stock& stock, const Mask& marked) {
  return outline_of_cells(CellGrid{plan(stock.block().min()), stock.cell_mm(), stock.columns(), stock.rows()},
                          marked);
}

Region outline_of_cells(const CellGrid& grid, const Mask& marked) {
  using Corner = std::pair<int, int>;
  std::multimap<Corner, Corner> sides;
  const auto is_marked = [&](int column, int row) {
    return column >= 0 && row >= 0 && column < grid.columns && row < grid.rows &&
           marked[grid.index(column, row)];
  };
  for (int row = 0; row < grid.rows; ++row)
    for (int column = 0; column < grid.columns; ++column) {
      if (!is_marked(column, row)) continue;
      if (!is_marked(column, row - 1)) sides.insert({{column, row}, {column + 1, row}});
      if (!is_marked(column + 1, row)) sides.insert({{column + 1, row}, {column + 1, row + 1}});
      if (!is_marked(column, row + 1)) sides.insert({{column + 1, row + 1}, {column, row + 1}});
      if (!is_marked(column - 1, row)) sides.insert({{column, row + 1}, {column, row}});
    }
  Region region;
  while (!sides.empty()) {
    Polyline2 loop;
    for (auto side = sides.begin(); side != sides.end();) {
      const Corner to = side->second;
      loop.push_back(grid.origin + grid.side * Vec2(side->first.first, side->first.second));
      sides.erase(side);
      side = sides.find(to);
    }
    region.loops.push_back(simplify_loop(loop, 0.75 * grid.side));
  }
  return region;
}

}  // namespace yardpass::detail
