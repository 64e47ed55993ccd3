/// Z-level roughing: level by level from the top of the stock, loops inside each area where the tool has
/// room.
#pragma once

#include <limits>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"
#include "yardpass/plan/cuts.h"

namespace yardpass {

struct RoughingOptions {
  double top_z = 0;  ///< top of the stock, or of what is to be cut [mm]
  double bottom_z = -std::numeric_limits<double>::infinity();  ///< no level lies below; one lies on it
  double stepdown_mm = 2;                                      ///< between levels
  double stepover_mm =
      3;  ///< between loops; up to the tool's radius no peg can stay, above it pegs are looked for
  double tolerance_mm = 0.05;  ///< the loops keep this far from walls at most, beyond the allowance
};

struct RoughingPlan {
  std::vector<Cut> cuts;         ///< level by level; in each area from the inside outwards, climb milling
  std::vector<double> levels_z;  ///< cut, highest first
  std::int64_t pegs = 0;         ///< places left between loops of a wide stepover, cut on their own
};

/// `area` limits the tool's centre; the surface carries the allowance to leave. Levels lie a stepdown apart,
/// and one on each flat of the part. No level goes below the lowest touch in the area. No peg stays: every
/// place of an area is within a stepover of a loop, since a loop is drawn at every stepover from its outline
/// until nothing is left; so with a stepover up to the tool's radius everything is passed. Above it what
/// stays is computed and cut. REQUIRES: stepdown, stepover and tolerance above 0; stepover below the tool's
/// diameter.
[[nodiscard]] RoughingPlan plan_roughing(const TipSurface& surface, const Region& area,
                                         const RoughingOptions& options, const Progress& progress = {});

}  // namespace yardpass
