// A piece of the stock in finer cells.
#pragma once

#include "yardpass/stock/stock.h"

namespace yardpass::detail {

/// As high as the cell each of the finer ones lies in.
[[nodiscard]] Stock finer(const Stock& stock, const Box2& box, double cell);

}  // namespace yardpass::detail
