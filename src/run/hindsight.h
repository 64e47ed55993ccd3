// What a planned job shows that would save time: passes over what is done, retracts, openings without a lid.
#pragma once

#include "yardpass/run/run.h"

namespace yardpass::detail {

/// Notes for each operation, from all of them and from the time that the program takes.
std::vector<std::vector<Note>> hindsight(const RunResult& run);

}  // namespace yardpass::detail
