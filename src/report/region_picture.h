// The numbered picture of a part's regions.
#pragma once

#include <filesystem>

#include "yardpass/run/inspect.h"

namespace yardpass::detail {

/// One colour a region, neighbours in different ones; numbers inside the regions or, where they do not fit,
/// beside them on a line, none on top of another.
void draw_regions(const Inspection& inspection, const std::filesystem::path& file);

}  // namespace yardpass::detail
