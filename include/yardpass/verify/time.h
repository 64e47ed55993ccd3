/// How long moves take, before anything is simulated.
#pragma once

#include "yardpass/post/read_program.h"

namespace yardpass {

/// Seconds of a move as length over feed; no acceleration, so short blocks come out too fast.
[[nodiscard]] double seconds_of(const ProgramMove& move, double rapid_mm_min);

}  // namespace yardpass
