/// What a strategy hands on: where to cut, in order, without any moves through the air.
#pragma once

#include <vector>

#include "yardpass/geom/polyline.h"

namespace yardpass {

/// How the cutter gets down to the start of a cut.
enum class Entry {
  straight,  ///< feed straight down: finishing, where little material is left
  ramp,      ///< down along the cut itself at a shallow angle: never straight into solid material
};

/// One unbroken piece of cutting. Every point of the line is proven free of the part with its allowance.
struct Cut {
  Polyline3 points;     ///< tip positions [mm]; of a closed cut the first point is not repeated
  bool closed = false;  ///< runs back to its first point; may be entered at any of its points
  Entry entry = Entry::straight;
};

}  // namespace yardpass
