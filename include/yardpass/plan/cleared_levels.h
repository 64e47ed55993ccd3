/// The material as level by level clearing leaves it, without any path.
#pragma once

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"
#include "yardpass/stock/stock.h"

namespace yardpass {

/// Lowers the stock to what a cutter leaves that has been everywhere in an area with its tip at a height.
void clear_level(Stock& stock, const Region& axis_area, double z, const Profile& cutter);

/// The same for all levels, a stepdown apart from the top of the stock down to the lowest that the surface
/// lets the tool reach, anywhere over the stock and beside it. Runs on all cores. Throws Error if the
/// stepdown or the tolerance is not above 0.
void clear_levels(Stock& stock, const TipSurface& surface, double stepdown_mm, double tolerance_mm,
                  const Progress& progress = {});

}  // namespace yardpass
