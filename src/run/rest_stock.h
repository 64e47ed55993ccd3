// The material before an operation, in cells as fine as its tool needs.
#pragma once

#include <optional>

#include "yardpass/run/plan.h"

namespace yardpass::detail {

/// Carved anew from the first stock by all earlier paths; nothing where the cells are fine enough for the
/// tool, or where there would be too many.
[[nodiscard]] std::optional<Stock> stock_for(const Tool& tool, const Stock& first, const Stock& now,
                                             const std::vector<PlannedOperation>& earlier);

}  // namespace yardpass::detail
