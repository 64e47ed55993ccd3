// Engagements that go from run to run with their toolpaths.
#pragma once

#include <map>

#include "yardpass/run/run.h"

namespace yardpass::detail {

/// Of the operations whose toolpaths have one, with its line in this program.
std::map<std::int32_t, Engagement> known_engagements(const std::vector<Settled>& operations,
                                                     const std::vector<PlannedOperation>& planned,
                                                     const PostedProgram& posted);

/// Notes what was measured beside the toolpaths of tools without a limit.
void keep_engagements(RunResult& run);

}  // namespace yardpass::detail
