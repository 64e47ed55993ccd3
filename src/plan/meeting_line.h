// Where the tool touches two areas of the part at once.
#pragma once

#include "yardpass/contact/tool_surface.h"
#include "yardpass/curve/curve.h"
#include "yardpass/geom/region.h"

namespace yardpass::detail {

/// The line of the tool's axis, in plan, along which the tool touches `strip` and is about to leave it for
/// `neighbour`: the longest one, closed if it runs all the way round. Areas are those of places of touch,
/// seen from above. Within 0.06 mm, and corners of it may be cut off by an eighth of the tool's radius.
/// Throws Error if it is shorter than the tool's radius.
[[nodiscard]] Curve meeting_line(const ToolSurface& surface, const Region& strip, const Region& neighbour,
                                 double tolerance_mm);

}  // namespace yardpass::detail
