/// Proof along arcs.
#pragma once

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/arc.h"

namespace yardpass {

/// The least room along the arc of a tip: never above the true one, and below it by no more than the sagitta
/// allows. The arc is cut into chords whose greatest distance from it is `sagitta_mm`, and each chord is
/// proven for a cutter thicker by that: taking the sagitta off Z would not be safe beside walls. `share` and
/// `tip` name the place on the arc.
[[nodiscard]] Clearance clearance(const TipSurface& surface, const Arc& arc, double sagitta_mm = 1e-4,
                                  double up_to = std::numeric_limits<double>::infinity());

/// The same for many arcs: `thicker` is `surface.with_more_allowance(sagitta_mm)`, made once.
[[nodiscard]] Clearance clearance_by_thicker(const TipSurface& thicker, const Arc& arc, double sagitta_mm,
                                             double up_to = std::numeric_limits<double>::infinity());

}  // namespace yardpass
