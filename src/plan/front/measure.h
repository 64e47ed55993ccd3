// How far a front advances between tip positions, so that it is right where it is measured.
#pragma once

#include "plan/front/rays.h"
#include "yardpass/plan/fronts.h"

namespace yardpass::detail {

/// By point of the chain; empty: a stepover each.
[[nodiscard]] std::vector<double> steps_of(const Ground& ground, const FrontChain& chain,
                                           const FrontOptions& options, FrontCounts& counts);

}  // namespace yardpass::detail
