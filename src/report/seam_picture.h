// Steep and shallow areas of an operation.
#pragma once

#include "yardpass/run/inspect.h"

namespace yardpass::detail {

void draw_seam(const Inspection& inspection, const SlopeSeam& seam, const std::filesystem::path& file);

}  // namespace yardpass::detail
