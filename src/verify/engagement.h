// Follows the moves of an operation with an EngagementMeter.
#pragma once

#include "verify/part_proof.h"
#include "yardpass/geom/error.h"
#include "yardpass/stock/engagement.h"
#include "yardpass/verify/engagement.h"

namespace yardpass::detail {

/// Of the moves [first, last) of a program, with one tool, on the stock before them. What is above the tool's
/// limit is added to `troubles`: each move with its greatest angle.
[[nodiscard]] Engagement engagement_of(const Program& program, std::size_t first, std::size_t last,
                                       const Tool& tool, Stock before, std::vector<Trouble>& troubles,
                                       const Progress& progress = {});

}  // namespace yardpass::detail
