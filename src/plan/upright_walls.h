// Where the tip surface stands upright.
#pragma once

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"

namespace yardpass::detail {

/// Strips, two to three cells wide, about all places of an area over which the tip surface jumps by more than
/// `least_mm`: upright walls, of which nothing is seen from above. On all cores.
[[nodiscard]] Region upright_walls(const TipSurface& surface, const Region& area, double cell_mm,
                                   double least_mm);

}  // namespace yardpass::detail
