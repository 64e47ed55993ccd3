/// Morph finishing: passes that blend from one curve into another.
#pragma once

#include <string>
#include <vector>

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/limits.h"
#include "yardpass/plan/rails.h"
#include "yardpass/plan/site.h"
#include "yardpass/strategy/rail_options.h"

namespace yardpass {

struct MorphOptions {
  RailOptions rails = {};
  GivenCurves first = {}, last = {};  ///< one curve each, both open or both closed; in plan
  /// Or areas beside the one it works in: the pass runs where the tool touches both.
  GivenArea beside_first = {}, beside_last = {};
  GivenCurves between = {};               ///< curves on the way, in order; each is a pass of its own
  std::vector<MatchedPlaces> match = {};  ///< of first and last; only if there is none between
};

/// `first` or `beside_first`, `last` or `beside_last`, `between`, `match`, `scallop_height`, `stepover`,
/// `pattern`, `direction`, `begin`.
void keys_of(MorphOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const MorphOptions& options, const Tool& tool);
/// What its curves are for; nothing if areas stand for some, for those lines follow from the tool. Throws
/// LoopError (with curves and places, for a picture) or Error as `cuts_of`.
[[nodiscard]] std::vector<CurveRole> roles_of(const MorphOptions& options, const Region& area);

/// Rails run straight from curve to curve at equal shares of their lengths, and are divided by their length
/// on the tip surface, see plan/rails.h. Where straight ones would fold they are relaxed. One group, pass
/// after pass; what lies outside the site's area is left out, with a note. Where the longest rail makes the
/// rest much denser than asked a note says so. Runs on all cores; the result does not depend on their number.
/// A line beside an area is found within 0.06 mm, its corners may be cut off by an eighth of the tool's
/// radius. Throws Error if an option breaks what it asks for, if the tool touches two areas at once nowhere,
/// if curves are missing, several, or partly closed; LoopError if curves cross or passes would fold.
[[nodiscard]] CutPlan cuts_of(const MorphOptions& options, const Site& site, const Progress& progress = {});

}  // namespace yardpass
