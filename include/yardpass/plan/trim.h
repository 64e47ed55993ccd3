/// The tail that all strategies share: from an area and a rule at its boundary to the cuts that stay.
#pragma once

#include <functional>

#include "yardpass/plan/cuts.h"
#include "yardpass/plan/limits.h"
#include "yardpass/plan/site.h"

namespace yardpass {

/// Where cuts may lie.
struct Bounds {
  Region boundary;  ///< the area itself; the rule says what of the tool it holds back
  LimitRule rule = {};
  std::vector<LimitException> exceptions = {};
  bool drawn = true;  ///< somebody drew the boundary: walls that passes ride beside it are looked for
  bool avoid_riding_up = false;
  double top_z = std::numeric_limits<double>::infinity();
  double bottom_z = -std::numeric_limits<double>::infinity();
  std::optional<SlopeLimits> slope = {};  ///< of the part where it is touched; not of levels
  SteepnessLimits steepness = {};         ///< with its overlap; not of levels
  /// Only where the material before, inside the boundary, is thicker than this above what the cutter touches;
  /// not of levels.
  std::optional<double> only_where_left_mm = {};
  /// The cuts clear levels instead of following the surface: then only scraps are taken out.
  bool at_levels = false;
  std::vector<Vec2> drilled = {};  ///< see Site
  bool touches_twice = false;      ///< see Usual: the rule of touch at the boundary is the strategy's
};

/// A strategy, ready to be asked for its cuts.
using CutsOf = std::function<CutPlan(const Site& site, const Progress& progress)>;

struct BoundedCuts {
  CutPlan plan;
  Region area;  ///< where the tool's axis may be
};

/// Asks a strategy for cuts within bounds, on the surface and the material given, and takes out what does not
/// belong: what lies above the top or below the bottom; by the rule of touch (but not of levels), what
/// touches outside the boundary; what touches outside the slopes; what meets too little material (a piece
/// reaches a quarter of the tool's diameter beyond); ends that only go down an upright wall; bits that are
/// there only because of the tolerance: shorter than five of them, or, however long, in places that vanish
/// when the area is drawn in by one. Where passes ride up a wall outside a drawn boundary, or down over an
/// outer edge, a note says so (with the place, the height and the margin that would stop it), or, if asked
/// for, the margin is made so much smaller that none rides up, and the strategy asked again. Notes of what
/// was done come after the strategy's own. Runs on all cores; the result does not depend on their number.
/// Throws Error as `centre_area` does.
[[nodiscard]] BoundedCuts cuts_within(const Bounds& bounds, const ToolSurface& surface, const Stock* before,
                                      double tolerance_mm, const CutsOf& strategy,
                                      const Progress& progress = {});

/// Every cut of a plan becomes what is made of it, in its place; on all cores.
void replace_cuts(CutPlan& plan, const std::function<std::vector<Cut>(const Cut&)>& make);

/// What of cuts touches the part as a rule says. Along a wall (Cut::part left or right) it is the wall that
/// is touched, not the ground at its foot. Any number of threads may ask.
class TouchedCuts {
 public:
  /// `surface` must outlive it.
  TouchedCuts(const ToolSurface& surface, TouchRule rule, double tolerance_mm);
  struct Kept {
    std::vector<Cut> cuts;
    std::int64_t scraps = 0;  ///< left out: they are there only because of the tolerance
  };
  [[nodiscard]] Kept of(const Cut& cut) const;

 private:
  const ToolSurface& surface_;
  TouchRule rule_;
  TipSurface thicker_;
  double step_, floats_;
};

/// The pieces of a cut that `split` makes of its line; a closed cut that stays whole stays closed, and one
/// that is cut elsewhere than at its start has no cut there.
[[nodiscard]] std::vector<Cut> pieces_of(
    const Cut& cut, const std::function<std::vector<Polyline3>(const Polyline3&)>& split);

}  // namespace yardpass
