// Plans of several patterns as one.
#pragma once

#include <algorithm>

#include "yardpass/plan/cuts.h"

namespace yardpass::detail {

/// After all groups of a plan those of another.
void append_plan(CutPlan& plan, CutPlan more);
/// A part of a plan may be empty.
[[nodiscard]] CutPlan without_nothing(CutPlan plan);
/// In a plan of several, order is told by `after` alone.
[[nodiscard]] CutPlan order_by_after(CutPlan plan);

}  // namespace yardpass::detail
