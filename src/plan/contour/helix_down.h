// Down a closed wall in one line.
#pragma once

#include "plan/contour/wall_walk.h"
#include "yardpass/plan/contours.h"

namespace yardpass::detail {

/// See Contours::helix.
[[nodiscard]] std::optional<Polyline3> helix_down(const Tube& tube, double longest_step,
                                                  std::span<const Contours::Lap> laps, bool material_left);

}  // namespace yardpass::detail
