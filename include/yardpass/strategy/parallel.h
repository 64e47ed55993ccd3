/// Parallel finishing: straight passes in plan, side by side, drawn up onto the tip surface.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/site.h"

namespace yardpass {

/// Which way passes are cut. Up-hill and down-hill: each pass falls into pieces that only rise, or fall, but
/// for what the tolerance allows.
enum class PassDirection : std::uint8_t { zigzag, one_way, up_hill, down_hill };

/// Where the first pass lies: at the side from which the angle counts (a pass along X begins at low Y), at
/// the other one, or where the surface is lower or higher.
enum class FirstPass : std::uint8_t { near_side, far_side, low_side, high_side };

struct ParallelOptions {
  double angle_deg = 0;  ///< of the passes, counter-clockwise from X
  /// In plan; the passes are spread evenly, so they lie this far apart or a little less. REQUIRES: above 0
  double stepover_mm = 0.5;
  PassDirection direction = PassDirection::zigzag;
  FirstPass first = FirstPass::near_side;
};

/// `scallop_height`, `stepover` (each gives the other), `angle`, `direction`, `first_pass`.
void keys_of(ParallelOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const ParallelOptions& options, const Tool& tool);

/// The cuts lie on or above the surface and come in the order of the passes. What lies above `top_z` or below
/// `bottom_z` of the site is left out. Runs on all cores; the result does not depend on their number. Throws
/// Error if an option breaks what it asks for.
[[nodiscard]] CutPlan cuts_of(const ParallelOptions& options, const Site& site,
                              const Progress& progress = {});

}  // namespace yardpass
