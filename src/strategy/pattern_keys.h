// Keys of patterns that are also part of others, with usual values of their own there.
#pragma once

#include "yardpass/strategy/parallel.h"
#include "yardpass/strategy/waterline.h"

namespace yardpass::detail {

/// `spacing`: where the stepover holds unless a key says so.
void parallel_keys(ParallelOptions& options, const Tool& tool, Keys& keys, SpacingHolds spacing);
/// `least_slope`: in general words and as it is here.
void waterline_keys(WaterlineOptions& options, Keys& keys, const Derived& least_slope, const char* usual);

}  // namespace yardpass::detail
