/// Flowline finishing: passes that flow from one side of a patch to the opposite one.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/site.h"
#include "yardpass/strategy/rail_options.h"

namespace yardpass {

struct FlowlineOptions {
  RailOptions rails = {.direction = RailDirection::forward};
  /// One curve each; with all four sides passes run from `start` to `end`. First and last alone: closed ones.
  /// None: the border of the area, cut at its corners.
  GivenCurves first = {}, last = {}, start = {}, end = {};
  GivenCurves between = {};        ///< curves from start to end, in any order; each is a pass of its own
  std::vector<Vec2> corners = {};  ///< four places of the border; none: its clearest
  double reach_mm = 1;             ///< so far may ends of sides be from each other; REQUIRES: not negative
  bool across = false;             ///< the roles are changed: passes run from first to last
};

/// `first`, `last`, `start`, `end`, `between`, `corners`, `reach`, `across`, `scallop_height`, `stepover`,
/// `pattern`, `direction`, `begin`.
void keys_of(FlowlineOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const FlowlineOptions& options, const Tool& tool);
/// What its curves are for. Throws LoopError (with curves and places, for a picture) or Error as `cuts_of`.
[[nodiscard]] std::vector<CurveRole> roles_of(const FlowlineOptions& options, const Region& area);

/// The sides are brought together, see plan/four_sides.h; between each two neighbouring guides passes are
/// those of one patch, divided by their length on the tip surface, see plan/rails.h. It does not matter what
/// the part's triangles look like. One group, pass after pass; what lies outside the site's area is left out,
/// with a note. Kinks of guides that passes would copy are told, with place and number of passes. Runs on all
/// cores; the result does not depend on their number. Throws Error if an option breaks what it asks for, if
/// curves are missing or several, or if a border has no clear corners; LoopError if sides do not go together
/// or passes would fold.
[[nodiscard]] CutPlan cuts_of(const FlowlineOptions& options, const Site& site,
                              const Progress& progress = {});

}  // namespace yardpass
