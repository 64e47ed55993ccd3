// A tool from the side.
#pragma once

#include <string>
#include <vector>

#include "yardpass/geom/vec.h"
#include "yardpass/tool/tool.h"

namespace yardpass::detail {

/// One part of it: the right half of its outline from the axis at its lower end to the axis at its upper end,
/// [r, z over the tip].
struct ToolPart {
  const char* name;  ///< "cutter", "neck", "shank", "holder"
  std::vector<Vec2> outline;
};

/// From the tip upwards. REQUIRES: completed. Arcs are in pieces.
[[nodiscard]] std::vector<ToolPart> tool_outline(const Tool& tool);

}  // namespace yardpass::detail
