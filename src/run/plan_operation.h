// One operation, from its settled values to its toolpath.
#pragma once

#include "setup/guided_parts.h"
#include "yardpass/run/plan.h"

namespace yardpass::detail {

/// All its layers. `seen`: the same material before, in finer cells, if that is needed. Throws Error that
/// names the operation.
PlannedOperation plan_operation(const Settled& settled, const GuidedPart& guided,
                                const Controller& controller, const std::vector<Vec2>& drilled, Stock stock,
                                const Stock* seen, const StageProgress& progress);

}  // namespace yardpass::detail
