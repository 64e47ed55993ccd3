/// How far apart passes lie, and what ridges that leaves.
#pragma once

#include "yardpass/keys/quantity.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

/// Height of the ridges that passes this far apart leave on flat ground: R - sqrt(R^2 - (stepover / 2)^2) of
/// a tip that is round to its middle; what is left of the stepover beyond a flat middle counts. 0 where
/// passes overlap within the flat; the corner radius where they do not overlap at all. For ball, bull, flat
/// and taper.
[[nodiscard]] double scallop_height(const Tool& tool, double stepover_mm);

/// Radius of the rounding of the tip: of a ball half its diameter, of a bull its corner; 0 if it has none.
[[nodiscard]] double tip_radius(const Tool& tool);

/// Whether `scallop_height` says something: not of chamfers and free profiles.
[[nodiscard]] bool leaves_scallops(const Tool& tool);

/// Whether a stepover follows from a scallop height: of tips round nearly to their middle.
[[nodiscard]] bool spaced_by_scallop(const Tool& tool);

/// A sound stepover: from the scallop height c by s = 2 sqrt(2 R c - c^2) of a rounded tip of radius R; half
/// the flat width of a tip that has one; a share of the diameter of a pointed one. `asked`: whether somebody
/// asked for that height.
[[nodiscard]] Derived stepover_for(const Tool& tool, double scallop_mm, bool asked = false);

}  // namespace yardpass
