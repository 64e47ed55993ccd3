/// Parallel finishing: straight passes in plan, side by side, drawn up onto the tip surface.
#pragma once

#include <limits>

#include "yardpass/contact/lift.h"
#include "yardpass/geom/region.h"
#include "yardpass/plan/cuts.h"

namespace yardpass {

struct ParallelOptions {
  double angle_deg = 0;  ///< of the passes, counter-clockwise from X
  double stepover_mm =
      0.5;  ///< in plan; the passes are spread evenly, so they lie this far apart or a little less
  double tolerance_mm = 0.01;                                  ///< see LiftOptions
  double top_z = std::numeric_limits<double>::infinity();      ///< what lies higher is left out
  double bottom_z = -std::numeric_limits<double>::infinity();  ///< what lies lower is left out
  bool zigzag = true;  ///< every second pass runs back; else all run the same way
};

/// `area` limits the tool's centre. The cuts lie on or above the surface (which carries the allowance) and
/// come in the order of the passes. Runs on all cores; the result does not depend on their number. REQUIRES:
/// stepover and tolerance above 0.
[[nodiscard]] std::vector<Cut> plan_parallel(const TipSurface& surface, const Region& area,
                                             const ParallelOptions& options, const Progress& progress = {});

}  // namespace yardpass
