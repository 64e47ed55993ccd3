/// Level faces of the part, each finished at its exact height.
#pragma once

#include "yardpass/strategy/roughing.h"

namespace yardpass {

struct FlatsOptions {
  double stepover_mm = 4;  ///< between loops or lines; REQUIRES: above 0, below the tool's diameter
  LevelPattern pattern = LevelPattern::loops;
  double angle_deg = 0;  ///< of lines, from X
  LoopDirection direction = LoopDirection::climb;
  double ramp_angle_deg = 3;  ///< of helices and ramps, from level
  /// Flats that have less of it are left to other operations; REQUIRES: at least 0
  double least_area_mm2 = 1;
};

/// `stepover`, `pattern`, `angle`, `direction`, `ramp_angle`, `least_area`. Refuses tools without a flat end.
void keys_of(FlatsOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const FlatsOptions& options, const Tool& tool);

/// A level piece of the part's surface, seen from above.
struct LevelFace {
  double z = 0;      ///< of the part [mm]
  double tip_z = 0;  ///< of a tip that leaves the floor allowance on it
  Region outline;    ///< in plan
};
/// All flats of a part, highest first: triangles whose corners differ in Z by no more than 0.001 mm and that
/// nothing stands over, those at one height and with one allowance taken together.
[[nodiscard]] std::vector<LevelFace> flats_of(const TipSurface& surface);

/// Of each flat, where the tool can stand on it within the site's area and with its wall allowance (which the
/// surface carries): loops from its outline inwards, or lines and once along the outline, so that no place
/// under the flat of the tool stays; over open edges the tool stands out by no more than it needs. The tip
/// runs on the first step of the program's decimals at or above the flat (with the floor allowance), so
/// rounding moves nothing. A group is one connected piece of a flat, highest first; each loop or line is a
/// pass. What the tool cannot reach is told. Runs on all cores; the result does not depend on their
/// number. Throws Error if an option breaks what it asks for or the tool has no flat end.
[[nodiscard]] CutPlan cuts_of(const FlatsOptions& options, const Site& site, const Progress& progress = {});

}  // namespace yardpass
