// Grooves that fill outlines, by a cutter that gets wider upwards.
#pragma once

#include "yardpass/plan/cuts.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/site.h"

namespace yardpass::detail {

/// What closed curves hold: odd depth is inside. Open ones are left out.
[[nodiscard]] Region inside_of(const GivenCurves& curves);

/// Lines through the middle of an area, each as deep as its sides allow, no deeper than `deepest_mm`; where
/// that does not reach from side to side, along the sides. CutPlan::sunk holds the depths.
[[nodiscard]] CutPlan groove_cuts(const Region& area, double deepest_mm, const Site& site,
                                  const Progress& progress);

}  // namespace yardpass::detail
