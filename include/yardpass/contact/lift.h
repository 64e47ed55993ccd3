/// From curves in plan to toolpaths on the part.
#pragma once

#include <span>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/polyline.h"

namespace yardpass {

struct LiftOptions {
  double tolerance_mm = 0.01;      ///< see below; must be above 1e-6
  double floor_z = kNothingBelow;  ///< never lower than this [mm]; with it the curve is never split
};

/// Draws a curve in plan up onto the tip surface. Every point of the result, not only its corners, is on or
/// above the surface (within kTouchError in space), and no higher than `tolerance_mm` above the greatest
/// height within `tolerance_mm` along the curve. At a wall the line goes straight up or down. Where nothing
/// lies below (and there is no floor) the curve is split.
[[nodiscard]] std::vector<Polyline3> lift(const TipSurface& surface, std::span<const Vec2> curve,
                                          const LiftOptions& options);

}  // namespace yardpass
