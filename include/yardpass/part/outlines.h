/// Closed curves of a part in plan: its silhouette, and slices at a height.
#pragma once

#include "yardpass/geom/joints.h"
#include "yardpass/geom/region.h"

namespace yardpass {

/// The shadow of the whole part, seen from above. Facing is settled first (see turned_over).
[[nodiscard]] Region silhouette(const Mesh& mesh);

/// Where the part is solid at a height: what a level plane cuts from it, odd depth of loops is inside.
/// Triangles that lie in the plane do not count, so at the height of a flat the slice is that just above it.
/// Cuts of open meshes that do not close are left out.
[[nodiscard]] Region slice_at(const Mesh& mesh, double z);

}  // namespace yardpass
