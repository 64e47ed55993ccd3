// Where the tool's axis is while it touches the part within an area.
#pragma once

#include "yardpass/contact/tool_surface.h"
#include "yardpass/plan/touch_rule.h"

namespace yardpass::detail {

/// Of an area for the tool's axis, the places from which the tool touches what the rule allows. By touches on
/// a grid, an eighth of the radius apart; its border is found within 0.0001 mm on the lines of that grid, so
/// corners of it may be cut off by as much as a cell. Where facets make the border rough it is drawn in, by
/// up to 0.015 mm, until nearly all of it belongs: a pass along it is then whole.
[[nodiscard]] Region touched_area(const ToolSurface& surface, const Region& area, const TouchRule& rule);

}  // namespace yardpass::detail
