/// Edge break: every sharp outer edge to one size.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/broken_edges.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/site.h"

namespace yardpass {

struct EdgeBreakOptions {
  EdgeBreak edges = {};  ///< `along` and `not_along` come from the curves below too
  GivenCurves along = {}, leave_out_along = {};
  bool rounded = false;
  double ridge_mm = 0.01;  ///< of rounded edges, from which the number of passes follows; REQUIRES: above 0
};

/// `size`, `measured`, `form`, `passes`, `ridge`, `direction`, `edge_angle`, `least_edge`, `steepest`,
/// `edges`, `leave_out`, `along`, `leave_out_along`, `corners`, `flank_margin`.
void keys_of(EdgeBreakOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const EdgeBreakOptions& options, const Tool& tool);
/// Its cuts run so deep below where the tool would touch the part, on the ways of its edges alone, and take
/// nothing off the faces beyond the breaks. Without a part: how deep at most, about.
[[nodiscard]] IntendedCuts intended_of(const EdgeBreakOptions& options, const Tool& tool,
                                       const std::shared_ptr<const ContactPart>& part);

/// Along each edge (see broken_edges) one pass, or several for a rounding, one edge with all its passes
/// before the next; closed edges run on over their start. Pieces in which the tool would meet the part
/// anywhere but in the strips that a break takes are left out, with a note. Each piece is a pass. Runs on all
/// cores; the result does not depend on their number. Throws Error as broken_edges does.
[[nodiscard]] CutPlan cuts_of(const EdgeBreakOptions& options, const Site& site,
                              const Progress& progress = {});

}  // namespace yardpass
