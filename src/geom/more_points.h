// Lines with points near each other.
#pragma once

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

/// The same line with points no farther apart than `longest`; of a closed one the first is not repeated.
[[nodiscard]] Polyline2 with_more_points(const Polyline2& line, bool closed, double longest);

}  // namespace yardpass::detail
