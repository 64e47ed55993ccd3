/// Passes that ride a wall outside their boundary.
#pragma once

#include <span>
#include <vector>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/polyline.h"
#include "yardpass/geom/region.h"

namespace yardpass {

/// A place where a pass beside a boundary rides a wall that lies outside it: up one that stands there, or,
/// over an outer edge, down one that falls off there.
struct WallRide {
  Vec3 at{0, 0, 0};      ///< tip position where the ride is farthest up or down
  double height_mm = 0;  ///< from the part just inside the boundary; negative: down
  /// How far inside the area for its axis the tip is where the ride begins: shrunk by more than this, the
  /// area has no such ride.
  double inside_mm = 0;
};

struct WallRideOptions {
  double step_mm = 0.05;  ///< along the path; REQUIRES: above 0
  /// From the part just inside the boundary to the place of touch; down, a cutter stands off the wall's foot.
  double steep_up_deg = 70, steep_down_deg = 45;
  double least_mm = 0.1;  ///< in height
};

/// Looks for rides: tips whose point of touch lies outside the boundary or on it, higher or lower than the
/// part just inside by more than the least, and as steep from there. (A ball that turns around an edge, or
/// goes on over a slope, makes none.) `axis_area`: where the axis may be. At most one up and one down for
/// each path: those up first, then in the order of their heights, the greatest first.
[[nodiscard]] std::vector<WallRide> wall_rides(const TipSurface& surface, std::span<const Polyline3> paths,
                                               const Region& boundary, const Region& axis_area,
                                               const WallRideOptions& options = {});

}  // namespace yardpass
