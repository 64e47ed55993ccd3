// Rails along a chain of curves.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "yardpass/curve/curve.h"
#include "yardpass/keys/keys.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/rails.h"

namespace yardpass::detail {

/// Before what is wrong with the curves of an operation together, told at one of them.
inline constexpr const char* kDoNotGoTogether = "does not go together with the rest: ";
/// Where a key names more than one curve.
void refuse_several(Keys& keys, const char* key, const GivenCurves& given);
/// Appends curves as seen from above, within 0.001 mm (what is finer is no form, but can make passes fold),
/// each with a name: as it was called, else its own, else its role.
void add_named(std::vector<Curve>& curves, const GivenCurves& given, const char* role);

/// Straight rails from each curve to the next, relaxed where those fold. REQUIRES: two at least, all closed
/// or all open. Throws LoopError if two cross, or passes would fold.
[[nodiscard]] std::vector<Rails> rails_along(const std::vector<Curve>& curves,
                                             std::span<const MatchedPlaces> matched);

}  // namespace yardpass::detail
