/// Engraving: strokes at a depth below the surface, and grooves that fill an outline.
#pragma once

#include <vector>

#include "yardpass/strategy/drawn_curves.h"

namespace yardpass {

enum class EngravingForm : std::uint8_t {
  stroke,  ///< along the curves
  groove   ///< the cutter fills what closed curves hold: as deep as their sides are apart
};

struct EngravingOptions {
  DrawnCurves drawn = {};
  EngravingForm form = EngravingForm::stroke;
  /// Of the tip below the surface, straight down [mm]: everywhere; or at so many places evenly spread along
  /// each curve, linear in between (both ends included; of a closed curve the last runs back to the first). A
  /// groove is no deeper than `depth_mm`.
  double depth_mm = 0.2;
  std::vector<double> depths_mm = {};
};

/// `form`, `depth`, `depths`, and those of the curves: `curves`, `order`, `last_first`, `turned`,
/// `own_heights`.
void keys_of(EngravingOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const EngravingOptions& options, const Tool& tool);
/// Its curves in the order in which they are cut.
[[nodiscard]] std::vector<CurveRole> roles_of(const EngravingOptions& options, const Region& area);
/// Its strokes with their depths: the cut is meant, and nothing beside it or below it.
[[nodiscard]] IntendedCuts intended_of(const EngravingOptions& options);

/// A groove: the tip runs through the middle of what the curves hold (odd depth is inside), into every
/// corner, so deep that the cutter's flanks touch the outline where it lies on the part; on slopes a little
/// off the middle, so that they touch both sides. Where that would be deeper than the depth, along the sides,
/// and a note tells what stays between.
///
/// A stroke: along each curve the tip runs so far below where the tool would touch the part (with its
/// allowance), straight down: on even ground, and on slopes that the tool can lie on, the groove is exactly
/// so deep, measured straight down; in hollows that are narrower than the tool it is less. One group; a pass
/// is a curve, or several that are joined. The tool goes straight down into each and straight up again. What
/// lies outside the site's area is left out, with a note. Runs on all cores; the result does not depend on
/// their number. Throws Error if there is no curve, or a depth is negative.
[[nodiscard]] CutPlan cuts_of(const EngravingOptions& options, const Site& site,
                              const Progress& progress = {});

}  // namespace yardpass
