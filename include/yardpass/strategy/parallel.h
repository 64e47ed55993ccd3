/// Parallel finishing: straight passes in plan, side by side, drawn up onto the tip surface.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/site.h"

namespace yardpass {

struct ParallelOptions {
  double angle_deg = 0;  ///< of the passes, counter-clockwise from X
  /// In plan; the passes are spread evenly, so they lie this far apart or a little less. REQUIRES: above 0
  double stepover_mm = 0.5;
  bool zigzag = true;  ///< every second pass runs back; else all run the same way
};

/// `scallop_height`, `stepover` (each gives the other), `angle`, `direction`.
void keys_of(ParallelOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const ParallelOptions& options, const Tool& tool);

/// The cuts lie on or above the surface and come in the order of the passes. What lies above `top_z` or below
/// `bottom_z` of the site is left out. Runs on all cores; the result does not depend on their number. Throws
/// Error if an option breaks what it asks for.
[[nodiscard]] CutPlan cuts_of(const ParallelOptions& options, const Site& site,
                              const Progress& progress = {});

}  // namespace yardpass
