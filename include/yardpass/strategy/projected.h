/// Projected curves: any curve, dropped straight down onto the part.
#pragma once

#include "yardpass/strategy/drawn_curves.h"

namespace yardpass {

struct ProjectedOptions {
  DrawnCurves drawn = {};
};

/// `curves`, `order`, `last_first`, `turned`, `own_heights`.
void keys_of(ProjectedOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const ProjectedOptions& options, const Tool& tool);
/// Its curves in the order in which they are cut.
[[nodiscard]] std::vector<CurveRole> roles_of(const ProjectedOptions& options, const Region& area);
/// With heights of their own curves may go below the surface.
[[nodiscard]] IntendedCuts intended_of(const ProjectedOptions& options);

/// The tool touches the part (with its allowance) straight below or above each place of each curve; with
/// heights of their own it stands so much higher, or so much deeper in it, straight up and down. One group;
/// a pass is a curve, or several that are joined. What lies outside the site's area is left out, with a note.
/// Runs on all cores; the result does not depend on their number. Throws Error if there is no curve.
[[nodiscard]] CutPlan cuts_of(const ProjectedOptions& options, const Site& site,
                              const Progress& progress = {});

}  // namespace yardpass
