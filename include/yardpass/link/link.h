/// From cuts to a toolpath: approach, links, retracts.
#pragma once

#include <span>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/link/toolpath.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/stock/stock.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

struct LinkOptions {
  double clearance_z = 0;  ///< rapids across run here [mm]; REQUIRES: above stock and part
  double approach_mm = 1;  ///< so far above the material rapid turns into feed
  double link_distance_mm =
      5;                      ///< up to this distance in plan the next cut is reached at feed, if proven free
  double ramp_angle_deg = 3;  ///< steepest way down into solid material; REQUIRES: above 0, at most 45
  double tolerance_mm = 0.01;    ///< of links drawn along the surface
  double plunge_slope_deg = 85;  ///< cutting moves steeper downwards than this run at plunge feed
};

/// Joins the cuts in their order. Between two cuts, the first of these that is proven free of the part (with
/// the surface's allowance) for all its points is taken: a straight line; a line along the surface; up to the
/// clearance plane, across, and down, at rapid to `approach_mm` above the material as it then is and on at
/// plunge feed or along a ramp. `stock` is carved along the way and afterwards is what this toolpath leaves.
/// Throws Error if the clearance plane is not above stock and part.
[[nodiscard]] Toolpath link_cuts(std::span<const Cut> cuts, const TipSurface& surface, const Tool& tool,
                                 Stock& stock, const LinkOptions& options, const Progress& progress = {});

}  // namespace yardpass
