// What a job says by names and places of the part, found once the part is there.
#pragma once

#include "yardpass/job/run.h"

namespace yardpass::detail {

/// Splits the part, finds the named regions, and gives operations that name one its outline.
void find_regions(JobWorld& world, const Mesh& mesh, const Joints& joints, const Progress& progress);

/// Measures what is to be measured.
void fill_in_measured(JobWorld& world);

}  // namespace yardpass::detail
