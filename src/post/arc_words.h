// What the words of a G2 or G3 block say.
#pragma once

#include <array>
#include <optional>

#include "yardpass/geom/arc.h"

namespace yardpass::detail {

struct ArcWords {
  std::array<std::optional<double>, 3> offset;  ///< I, J, K from the start to the axis [mm]
  std::optional<double> radius;                 ///< R; below 0 for more than half a turn
};

/// Ends may lie off the circle by this [mm]: start, end and offsets are rounded.
inline constexpr double kArcMismatch = 0.005;

/// Throws Error, without the line, if the words do not make one arc.
Arc arc_of(const Vec3& start, const Vec3& end, ArcPlane plane, bool clockwise, const ArcWords& words);

}  // namespace yardpass::detail
