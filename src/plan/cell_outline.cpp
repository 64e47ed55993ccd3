#include "plan/cell_outline.h"

#include <cmath>
#include <map>
#include <optional>

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

Region outline_of_cells(const Stock& stock, const Mask& marked) {
  return outline_of_cells(CellGrid{plan(stock.block().min()), stock.cell_mm(), stock.columns(), stock.rows()},
                          marked);
}

Region outline_of_cells(const CellGrid& grid, const Mask& marked, double within) {
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
    region.loops.push_back(within > 0 ? simplify_loop(loop, within * grid.side) : std::move(loop));
  }
  return region;
}

Region outline_between_cells(const CellGrid& grid, const Mask& marked,
                             const std::function<double(std::size_t, std::size_t)>& share, double within) {
  Region region = outline_of_cells(grid, marked, 0);
  for (Polyline2& loop : region.loops) {
    Polyline2 places;
    for (std::size_t i = 0; i < loop.size(); ++i) {
      const Vec2 way = loop[(i + 1) % loop.size()] - loop[i], middle = loop[i] + 0.5 * way;
      const Vec2 left(-way.y(), way.x());  // the marked cell lies there
      const auto cell = [&](const Vec2& p) -> std::optional<std::size_t> {
        const Vec2 at = (p - grid.origin) / grid.side;
        const int column = static_cast<int>(std::floor(at.x())), row = static_cast<int>(std::floor(at.y()));
        if (column < 0 || row < 0 || column >= grid.columns || row >= grid.rows) return std::nullopt;
        return grid.index(column, row);
      };
      const auto in = cell(middle + 0.5 * left), out = cell(middle - 0.5 * left);
      places.push_back(middle + (0.5 - (in && out ? share(*in, *out) : 0.5)) * left);
    }
    loop = simplify_loop(places, within * grid.side);
  }
  return region;
}

}  // namespace yardpass::detail
