// The places of a grid's row that lie inside an area.
#pragma once

#include <algorithm>
#include <cmath>

#include "yardpass/geom/region.h"

namespace yardpass::detail {

/// Calls work(column) for those of `columns` places, `cell_mm` apart along X from `first`, that lie inside.
template <typename Work>
void for_each_inside(const Region& area, const Vec2& first, double cell_mm, int columns, const Work& work) {
  const Vec2 from(first.x() - cell_mm, first.y()), to(first.x() + cell_mm * columns, first.y());
  for (const Interval& piece : inside(area, from, to)) {
    const double steps = columns + 1;  // from `from` to `to`
    for (int column = std::max(0, static_cast<int>(std::ceil(piece.from * steps)) - 1);
         column < columns && column + 1 <= piece.to * steps; ++column)
      work(column);
  }
}

}  // namespace yardpass::detail
