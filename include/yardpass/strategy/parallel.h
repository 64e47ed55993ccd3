/// Parallel finishing: straight passes in plan, side by side, drawn up onto the tip surface.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/site.h"

namespace yardpass {

/// Which way passes are cut. One way: as the angle says. Climb and conventional: one way, with what is still
/// to be cut on the right or on the left (a spindle that turns clockwise then climbs or not). Up-hill and
/// down-hill: each pass falls into pieces that only rise, or fall, but for what the tolerance allows.
enum class PassDirection : std::uint8_t { zigzag, one_way, climb, conventional, up_hill, down_hill };

/// Where the first pass lies: at the side from which the angle counts (a pass along X begins at low Y), at
/// the other one, or where the surface is lower or higher.
enum class FirstPass : std::uint8_t { near_side, far_side, low_side, high_side };

/// Where the stepover holds.
enum class SpacingHolds : std::uint8_t {
  in_plan,    ///< passes are spread evenly, so they lie this far apart or a little less
  on_surface  ///< and nearer to each other where the surface slopes across them, or is hollow
};

struct ParallelOptions {
  double angle_deg = 0;      ///< of the passes, counter-clockwise from X
  double stepover_mm = 0.5;  ///< REQUIRES: above 0
  SpacingHolds spacing = SpacingHolds::in_plan;
  PassDirection direction = PassDirection::zigzag;
  FirstPass first = FirstPass::near_side;
  /// The first and the last pass lie on the border, within 0.001 mm, of the area, or, where the limit is by
  /// contact, of what is touched; else half a stepover inside it.
  bool on_border = true;
};

/// `scallop_height`, `stepover` (each gives the other), `spacing`, `angle`, `direction`, `first_pass`,
/// `on_border`.
void keys_of(ParallelOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const ParallelOptions& options, const Tool& tool);

/// On the surface: the plan distance to the next pass is the stepover over sqrt(1 + rise^2) and, for rounded
/// tips of radius R, over sqrt(1 + R k), the least of that along the pass, where rise is that of the tip
/// surface across the pass and k its curvature there, if it is hollow; no less than a quarter of the
/// stepover, and without what is steeper than 75 degrees. So ridges are as high as on flat ground.
///
/// Along a border that is straight within the tolerance a pass is whole, or absent: gaps in which it leaves
/// the area by less are closed. The cuts lie on or above the surface and come in the order of the passes.
/// What lies above `top_z` or below `bottom_z` of the site is left out. Runs on all cores; the result does
/// not depend on their number. Throws Error if an option breaks what it asks for.
[[nodiscard]] CutPlan cuts_of(const ParallelOptions& options, const Site& site,
                              const Progress& progress = {});

}  // namespace yardpass
