// The outline of some of the stock's cells.
#pragma once

#include "plan/distance_map.h"
#include "yardpass/geom/region.h"
#include "yardpass/stock/stock.h"

namespace yardpass::detail {

/// Along the sides of the marked cells, within three quarters of a cell; the inside on the left.
[[nodiscard]] Region outline_of_cells(const Stock& stock, const Mask& marked);

}  // namespace yardpass::detail
