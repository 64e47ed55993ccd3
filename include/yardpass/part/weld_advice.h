/// Which weld distance closes the cracks of a mesh: corners that should be one but are written a little
/// apart.
#pragma once

#include <optional>

#include "yardpass/geom/error.h"
#include "yardpass/geom/joints.h"

namespace yardpass {

/// A weld distance, and what comes of it when it is given to `weld`.
struct WeldAdvice {
  double weld_mm = 0;          ///< 1, 2 or 5 times a power of ten; no corner moves by more than that
  std::int64_t moved = 0;      ///< corners that move
  double farthest_mm = 0;      ///< by how much, at most
  std::int64_t vanishing = 0;  ///< triangles with area that lose it
  std::int64_t open_before = 0, open_after = 0;  ///< open edges
  bool closes = false;                           ///< every edge has two triangles then
};

/// The least of the distances 1, 2, 5 times 10^-6 ... 10^-1 mm (at most half the median edge at the cracks)
/// that leaves as few edges open as any of them, tried on the triangles at open edges and then on the whole
/// mesh. Nothing where there are no open edges, or where no distance closes at least half of them. REQUIRES:
/// `joints` are of this mesh.
[[nodiscard]] std::optional<WeldAdvice> weld_advice(const Mesh& mesh, const Joints& joints,
                                                    const Progress& progress = {});

}  // namespace yardpass
