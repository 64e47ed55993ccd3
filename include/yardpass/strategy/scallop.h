/// Scallop finishing: passes equally far apart on the surface itself, whatever its form.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/fronts.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/site.h"

namespace yardpass {

/// How passes follow each other.
enum class FrontPattern : std::uint8_t {
  zigzag,  ///< those that the border cuts run to and fro, closed ones all the same way
  loops,   ///< all run the same way
  spiral   ///< closed ones as one unbroken line, those that the border cuts to and fro
};

struct ScallopOptions {
  double stepover_mm = 0.5;  ///< REQUIRES: above 0
  FrontMeasure measure = FrontMeasure::tip;
  GivenCurves start = {};  ///< the first pass, in plan; none: the outline of the area
  /// Where passes go from closed curves; nothing: from the outline inwards, from curves to both sides. Open
  /// curves have no inside: passes go to both of their sides.
  std::optional<FrontSide> side = {};
  FrontPattern pattern = FrontPattern::zigzag;
  bool climb = true;  ///< what is still to be cut lies on the right; else on the left
  bool middle_passes = true;
  bool round_corners = true;
};

/// `scallop_height`, `stepover` (each gives the other), `measured`, `start`, `side`, `pattern`, `direction`,
/// `middle_passes`, `round_corners`.
void keys_of(ScallopOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const ScallopOptions& options, const Tool& tool);

/// Passes are fronts, see plan/fronts.h, drawn up onto the tip surface: on or above it, within the site's
/// tolerance. Where the limit is by contact, the outline is that of the places from which the tool touches
/// what is inside.
///
/// A group is a branch of passes each of which comes from the one before alone: it begins where fronts part,
/// meet, or are cut in two by the border, after those that it comes from. The middle passes of a branch are a
/// group after it. A spiral begins with the first of a branch's closed passes and ends with the last, both
/// whole. Where fronts went over an upright wall, on which no pass lies, a note names the place. Runs on all
/// cores; the result does not depend on their number. Throws Error if an option breaks what it asks for, or
/// if an open curve is told to go inward or outward.
[[nodiscard]] CutPlan cuts_of(const ScallopOptions& options, const Site& site, const Progress& progress = {});

}  // namespace yardpass
