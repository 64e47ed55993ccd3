// What the points of a job add up to.
#pragma once

#include "yardpass/contact/tool_surface.h"
#include "yardpass/run/estimate.h"

namespace yardpass::detail {

/// Of each operation the toolpath that is kept; nothing where there is none.
std::vector<const PlannedOperation*> known_of(const JobSetup& setup, const std::vector<Settled>& operations,
                                              const KeptPaths* kept);

/// An operation whose toolpath is kept.
OperationEstimate as_planned(const Settled& settled, const PlannedOperation& planned);

/// How long a touch takes on this part and machine, on one core.
double seconds_per_touch(const ToolSurface& surface, const Box3& box);

/// Cells, bytes, seconds, and what is odd, from the operations.
void sum_up(const JobSetup& setup, const std::vector<Settled>& operations, double touch_s, bool judged,
            Estimate& estimate);

}  // namespace yardpass::detail
