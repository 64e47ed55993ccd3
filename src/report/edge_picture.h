// Curves on pictures: sharp edges with their numbers, and loops that do not close.
#pragma once

#include <filesystem>

#include "yardpass/run/inspect.h"

namespace yardpass::detail {

/// The part from above and from a corner with its sharp edges, coloured and numbered.
void draw_sharp_edges(const Inspection& inspection, const std::filesystem::path& file);

}  // namespace yardpass::detail
