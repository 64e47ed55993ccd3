// Keys that strategies at levels share.
#pragma once

#include "yardpass/strategy/roughing.h"

namespace yardpass::detail {

/// `pattern`, `angle`, `direction`. `engagement_deg`: of a strategy that knows bounded engagement, with the
/// key `engagement`.
void pattern_keys(LevelPattern& pattern, double& angle_deg, LoopDirection& direction, Keys& keys,
                  double* engagement_deg = nullptr, double tool_limit_deg = 0);
/// `stepover`, below the tool's diameter.
void level_stepover_key(double& stepover_mm, const Derived& usual, const char* says, const char* usual_words,
                        const Tool& tool, Keys& keys);
/// `order`.
void order_key(LevelOrder& order, const char* because, const char* says, Keys& keys);
/// `ramp_angle`.
void ramp_angle_key(double& angle_deg, const Tool& tool, Keys& keys);

}  // namespace yardpass::detail
