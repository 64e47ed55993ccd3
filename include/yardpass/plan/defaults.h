/// Sound values for what an operation does not say, derived from its tool.
#pragma once

#include <string>

#include "yardpass/tool/tool.h"

namespace yardpass {

/// A value and the rule it comes from, in words for the user.
struct Derived {
  double value = 0;
  std::string rule;
};

struct RoughingDefaults {
  Derived stepdown_mm;   ///< a quarter of the diameter, never deeper than the flutes
  Derived stepover_mm;   ///< 0.45 of the diameter: below the radius, so no peg can stay between loops
  Derived allowance_mm;  ///< 0.03 of the diameter, at least 0.1
  Derived tolerance_mm;  ///< a sixth of the allowance, between 0.01 and 0.1
  Derived ramp_angle_deg;
};
[[nodiscard]] RoughingDefaults roughing_defaults(const Tool& tool);

struct ParallelDefaults {
  Derived scallop_mm;    ///< ridge height on flat ground from which the stepover follows
  Derived stepover_mm;   ///< from the scallop height, or a share of the flat width of the tip
  Derived allowance_mm;  ///< 0
  Derived tolerance_mm;  ///< 0.01
  Derived angle_deg;     ///< 0, along X
};
/// `scallop_mm` 0: its own default. A stepover follows from a scallop height c and a rounded tip of radius R
/// by s = 2 sqrt(2 R c - c^2).
[[nodiscard]] ParallelDefaults parallel_defaults(const Tool& tool, double scallop_mm = 0);

/// Height of the ridges that passes this far apart leave on flat ground: R - sqrt(R^2 - (stepover / 2)^2) of
/// a tip that is round to its middle; what is left of the stepover beyond a flat middle counts. 0 where
/// passes overlap within the flat; the corner radius where they do not overlap at all. For ball, bull, flat
/// and taper.
[[nodiscard]] double scallop_height(const Tool& tool, double stepover_mm);

}  // namespace yardpass
