/// From cuts to a toolpath: approach, links, retracts.
#pragma once

#include "yardpass/contact/tool_surface.h"
#include "yardpass/keys/keys.h"
#include "yardpass/path/toolpath.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/site.h"
#include "yardpass/stock/stock.h"

namespace yardpass {

struct LinkOptions {
  double plane_z = 0;         ///< rapids across run here [mm]; REQUIRES: above stock and part
  double feed_height_mm = 1;  ///< so far above the material rapid turns into feed; REQUIRES: above 0
  /// Up to this distance in plan the next cut is reached at feed, if proven free; REQUIRES: at least 0
  double link_distance_mm = 5;
  double ramp_angle_deg = 3;     ///< steepest way down into solid material; REQUIRES: above 0, at most 45
  double tolerance_mm = 0.01;    ///< of links drawn along the surface; REQUIRES: above 0
  double plunge_slope_deg = 85;  ///< cutting moves steeper downwards than this run at plunge feed
  /// Links at feed only rise, or only fall, within the tolerance.
  HeightWays ways = HeightWays::any;
  Region keep_out = {};  ///< links at feed do not lead the tool's axis over it
  double bottom_z = -std::numeric_limits<double>::infinity();  ///< nor its tip below this
};

/// `feed_height`, `link_distance`: a distance of two and a half spacings by default.
void keys_of(LinkOptions& options, const Usual& usual, Keys& keys);

struct LinkedCuts {
  Toolpath path;
  Stock stock;                   ///< what the toolpath leaves
  std::vector<Note> notes = {};  ///< what the user should know
};

/// Joins the cuts, group by group, in their order. Between two cuts, the first of these that is proven free
/// of the part (with the surface's allowance) for all its points is taken: a straight line; a line along the
/// surface; up to the clearance plane, across, and down, at rapid to `feed_height_mm` above the material as
/// it then is and on at plunge feed or along a ramp. `before` is the material before this toolpath; if the
/// work is stopped or refused, nothing half carved is left. Throws Error if an option breaks what it asks
/// for, the clearance plane is not above stock and part, the tool lacks a feed, or a group is to come after
/// one that is not before it.
[[nodiscard]] LinkedCuts link_cuts(const CutPlan& plan, const ToolSurface& surface, Stock before,
                                   const LinkOptions& options, const Progress& progress = {});

}  // namespace yardpass
