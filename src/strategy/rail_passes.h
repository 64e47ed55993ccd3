// What morph and flowline share: from rails to passes on the part.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/rails.h"
#include "yardpass/plan/site.h"
#include "yardpass/strategy/rail_options.h"

namespace yardpass::detail {

/// Rails no farther apart than this [mm], before the ground asks for more.
inline constexpr double kRailsApart = 2;

/// `scallop_height`, `stepover`, `pattern`, `direction` (with its usual value, and why), `begin`.
void rail_keys(RailOptions& options, const Tool& tool, Keys& keys, RailDirection direction,
               const char* because, const char* usual);
[[nodiscard]] Usual rail_usual(const RailOptions& options, const Tool& tool);

/// Rails that fold are relaxed; returns whether any were. Throws LoopError, with both curves and the place of
/// the worst cell, where that does not do: `names` of curves, one more than there are rails.
bool unfold(std::vector<Rails>& rails, const std::vector<std::string>& names);

/// First and last pass as they are going to be cut, and those between; `ends`: also where passes start and
/// end.
[[nodiscard]] std::vector<CurveRole> roles_along(const RailOptions& options, const std::vector<Rails>& rails,
                                                 bool ends);

/// Passes over chained rails, the last points of each being the first of the next, in one group.
[[nodiscard]] CutPlan rail_cuts(const RailOptions& options, std::vector<Rails> rails, const Site& site,
                                const Progress& progress);

}  // namespace yardpass::detail
