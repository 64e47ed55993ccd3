// Open edges of a mesh, put together to loops, and how near their sides come to each other.
#pragma once

#include "yardpass/part/diagnosis.h"

namespace yardpass::detail {

/// Open sides grouped by the corners they share, longest first. `shell_box`: of each shell. `most_gap_mm`:
/// loops whose corners all lie that near another open edge are cracks; 0: none is asked.
std::vector<OpenLoop> open_loops(const Mesh& mesh, const Joints& joints, const Shells& shells,
                                 const std::vector<Box3>& shell_box, double most_gap_mm);

}  // namespace yardpass::detail
