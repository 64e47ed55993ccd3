/// Places and arcs as a program can say them: in whole steps of its last decimal.
#pragma once

#include <optional>

#include "yardpass/geom/arc.h"

namespace yardpass {

/// How a program writes coordinates and arcs.
struct PostedForm {
  double step_mm = 0.001;       ///< of the last decimal; REQUIRES: above 0
  bool arcs_by_radius = false;  ///< R; else the offsets I, J, K from the start to the axis
};

/// The place that the program says: each coordinate a whole number of steps.
[[nodiscard]] Vec3 posted(const Vec3& place, double step_mm);

/// The arc that whoever reads the program runs: both ends, and the offsets or the radius, in whole steps.
/// What is proven of it holds for the program itself. Nothing where rounding makes another arc of it: if it
/// is shorter than ten steps, or if half-way it would lie more than two steps from the given one, or more
/// than half a turn is to be said by a radius.
[[nodiscard]] std::optional<Arc> posted(const Arc& arc, const PostedForm& form);

}  // namespace yardpass
