/// Repairs that are asked for. Each leaves the shape as it is, or takes away what cannot be part of it.
#pragma once

#include <string>
#include <vector>

#include "yardpass/part/read_mesh.h"

namespace yardpass {

enum class Repair {
  not_finite,   ///< leave out triangles with impossible corners (done while reading: ReadOptions)
  zero_area,    ///< leave out triangles without area
  repeated,     ///< leave out triangles with the same corners as an earlier one
  tiny_shells,  ///< leave out shells with a box diagonal below 1 % of the part's
  facing,       ///< turn triangles so that neighbours agree and the outside is out
};
/// "not-finite", "zero-area", ...
[[nodiscard]] const char* name_of(Repair repair);
[[nodiscard]] const std::vector<Repair>& all_repairs();

/// What was done, in the order it was done.
struct RepairCount {
  Repair repair;
  std::int64_t triangles;  ///< left out or turned
};

/// Repairs the mesh and its groups in place, in the order of the enumeration. Throws Error, with the mesh as
/// it was, if nothing would be left.
std::vector<RepairCount> repair(MeshFile& file, const std::vector<Repair>& repairs);

}  // namespace yardpass
