// Keys of patterns that are also part of others, with usual values of their own there.
#pragma once

#include "yardpass/strategy/parallel.h"
#include "yardpass/strategy/scallop.h"
#include "yardpass/strategy/waterline.h"

namespace yardpass::detail {

/// `scallop_height` or `stepover`, each of which gives the other. True if the height is said.
bool stepover_keys(double& stepover_mm, const Tool& tool, Keys& keys, const char* says);
/// `spacing`: where the stepover holds unless a key says so.
void parallel_keys(ParallelOptions& options, const Tool& tool, Keys& keys, SpacingHolds spacing);
void scallop_keys(ScallopOptions& options, const Tool& tool, Keys& keys);
/// `least_slope`: in general words and as it is here.
void waterline_keys(WaterlineOptions& options, Keys& keys, const Derived& least_slope, const char* usual);

}  // namespace yardpass::detail
