// Places between two fronts that neither of them comes near.
#pragma once

#include "plan/front/front_runs.h"
#include "plan/front/front_state.h"

namespace yardpass::detail {

/// Outlines of what the step just done left farther from its lines, before and after, than half a stepover
/// and a bit: where fronts met, and in hollow corners. Only stretches whose heads were swallowed are looked
/// at, and only outlines that hold a place farther than FrontOptions::farthest are told.
[[nodiscard]] std::vector<FrontLoop> middles_of(const FrontState& state, const Ground& ground,
                                                const FrontRuns& runs, const FrontOptions& options,
                                                FrontCounts& counts);

}  // namespace yardpass::detail
