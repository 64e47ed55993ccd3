// The curves that an operation runs along, by what they are for.
#pragma once

#include "yardpass/run/inspect.h"

namespace yardpass::detail {

void draw_roles(const Inspection& inspection, const OperationCurves& curves,
                const std::filesystem::path& file);

}  // namespace yardpass::detail
