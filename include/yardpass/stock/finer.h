/// A piece of a stock in finer cells.
#pragma once

#include "yardpass/stock/stock.h"

namespace yardpass {

/// As high as the cell each of the finer ones lies in: what moves left between the old centres is not known,
/// so carve it from the start where that matters. REQUIRES: a box with a size
[[nodiscard]] Stock finer(const Stock& stock, const Box2& box, double cell_mm);

}  // namespace yardpass
