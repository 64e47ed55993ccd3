// What a toolpath takes from a stock.
#pragma once

#include "yardpass/path/toolpath.h"
#include "yardpass/stock/stock.h"

namespace yardpass::detail {

/// All but the rapids.
void carve_path(Stock& stock, const Toolpath& path);

}  // namespace yardpass::detail
