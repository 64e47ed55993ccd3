// Rails along a chain of curves.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "yardpass/curve/curve.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/rails.h"

namespace yardpass::detail {

/// Appends curves, each with a name: as it was called, else its own, else its role.
void add_named(std::vector<Curve>& curves, const GivenCurves& given, const char* role);

/// Straight rails from each curve to the next, relaxed where those fold. Each curve is followed within 0.001
/// mm. REQUIRES: two at least, all closed or all open. Throws LoopError if two cross, or passes would fold.
[[nodiscard]] std::vector<Rails> rails_along(const std::vector<Curve>& curves,
                                             std::span<const MatchedPlaces> matched);

}  // namespace yardpass::detail
