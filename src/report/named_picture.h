// The picture of what a job names: regions, boundaries, lids, run_outs, keep_away.
#pragma once

#include <filesystem>

#include "yardpass/run/inspect.h"

namespace yardpass::detail {

/// Whether the job names anything that can be drawn.
bool has_named(const JobSetup& setup);
/// From above and from a corner, each name in a colour of its own; boundaries as lines.
void draw_named(const Inspection& inspection, const std::filesystem::path& file);

}  // namespace yardpass::detail
