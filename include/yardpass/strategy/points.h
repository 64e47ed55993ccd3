/// A way through given points and nothing else: for what one knows better by hand.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/site.h"

namespace yardpass {

struct PointsOptions {
  Polyline3 points;    ///< of the tip, in their order; REQUIRES: at least two that differ
  bool rapid = false;  ///< from the first on at rapid: nothing may be in the way
};

/// `points`, `at`.
void keys_of(PointsOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const PointsOptions& options, const Tool& tool);

/// One cut straight from point to point, as given: neither boundary nor heights change it. Throws Error with
/// the place if the way between two points is not free of the part, with the surface's allowance, by the
/// tool as a whole.
[[nodiscard]] CutPlan cuts_of(const PointsOptions& options, const Site& site, const Progress& progress = {});

}  // namespace yardpass
