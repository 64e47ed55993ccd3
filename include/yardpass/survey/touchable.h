/// How much of a surface a tool can touch.
#pragma once

#include <span>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/part/pick.h"

namespace yardpass {

/// The share of the area of some triangles of the surface's part, 0 to 1, that the tool can touch from above:
/// where, standing against the place as its slope wants, it is free of all the part but for the tolerance.
/// The allowance of the surface should be 0. By `samples` places spread evenly over the area; runs on all
/// cores, the result does not depend on their number.
[[nodiscard]] double touchable_share(const TipSurface& surface, const TriangleSet& triangles,
                                     double tolerance_mm = 0.02, std::size_t samples = 4000);

}  // namespace yardpass
