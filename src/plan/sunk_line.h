// The line of a cut, lowered into the surface that it runs along.
#pragma once

#include "yardpass/geom/depth_lines.h"

namespace yardpass::detail {

/// Straight down by the depths of the line in plan that the cut runs along, in whichever direction, whole or
/// a piece of it; with a point where the depth bends.
[[nodiscard]] Polyline3 sunk_line(const Polyline3& line, const DepthLine& depths);

}  // namespace yardpass::detail
