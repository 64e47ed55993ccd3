/// Passes square to a curve, evenly spread along it.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/site.h"

namespace yardpass {

struct SquareOptions {
  GivenCurves curves = {};             ///< seen from above; REQUIRES: at least one
  double left_mm = 10, right_mm = 10;  ///< how far to each side; REQUIRES: not negative, not both 0
  double stepover_mm = 0.5;            ///< at most, along the curve in plan; REQUIRES: above 0
  bool zigzag = true;                  ///< else all from the left to the right
};

/// `curves`, `left`, `right`, `scallop_height`, `stepover`, `pattern`.
void keys_of(SquareOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const SquareOptions& options, const Tool& tool);
/// The curves themselves.
[[nodiscard]] std::vector<CurveRole> roles_of(const SquareOptions& options, const Region& area);

/// The passes in plan, before they are lifted: each from the left of the curve to its right. On the inner
/// side of bends a pass ends where another place of the curve is as near: so no two cross, however long they
/// are to be. Round the outer side of a sharp corner more passes fan out.
[[nodiscard]] std::vector<Polyline2> square_passes(const SquareOptions& options);

/// The passes on the tip surface, within the site's area: one group, curve by curve. Runs on all cores; the
/// result does not depend on their number. Throws Error if an option breaks what it asks for.
[[nodiscard]] CutPlan cuts_of(const SquareOptions& options, const Site& site, const Progress& progress = {});

}  // namespace yardpass
