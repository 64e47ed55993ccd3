// Figures that go from run to run with their toolpaths.
#pragma once

#include "yardpass/run/run.h"

namespace yardpass::detail {

/// Of the operations whose toolpaths have some, with their lines in this program.
MeasuredBefore measured_before(const std::vector<Settled>& operations,
                               const std::vector<PlannedOperation>& planned, const PostedProgram& posted);

/// Notes what was measured beside the toolpaths; engagement only of tools without a limit.
void keep_figures(RunResult& run);

}  // namespace yardpass::detail
