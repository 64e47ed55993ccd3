// Which piece of a path is shown larger.
#pragma once

#include <optional>

#include "report/strokes.h"

namespace yardpass::detail {

/// A piece of the path large enough to see single passes: around a link, or around the middle cut.
std::optional<Box2> place_of_detail(const std::vector<Stroke>& strokes, bool in_levels, const Box2& whole,
                                    Units units);

}  // namespace yardpass::detail
