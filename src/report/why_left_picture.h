// Why material is left, as a map.
#pragma once

#include <filesystem>

#include "yardpass/report/report.h"

namespace yardpass::detail {

/// Seen from above: thin, left on purpose, out of reach, missed, with the ten thickest places numbered.
void draw_why_left(const Report& report, const Box2& box, const std::filesystem::path& file);

}  // namespace yardpass::detail
