// Where each operation works.
#pragma once

#include "yardpass/run/inspect.h"

namespace yardpass::detail {

void draw_areas(const Inspection& inspection, const std::filesystem::path& file);

}  // namespace yardpass::detail
