/// Sharp edges of a part: where two triangles meet at more than a given angle.
#pragma once

#include <vector>

#include "yardpass/geom/joints.h"

namespace yardpass {

/// A run of sharp edges from corner to corner, as far as it neither branches nor changes from bulging to
/// hollow.
struct SharpEdge {
  std::vector<std::int32_t> corners;  ///< of the mesh, in order; the first again at the end if it is closed
  double length_mm = 0;
  double least_turn_deg = 0, greatest_turn_deg = 0;  ///< 0 would be smooth, 90 is the edge of a cube
  bool hollow = false;                               ///< an inner corner, which no ball reaches
  bool closed = false;
};

/// Longest first; of equal length the one that comes first in the mesh. `turned`: from turned_over().
[[nodiscard]] std::vector<SharpEdge> sharp_edges(const Mesh& mesh, const Joints& joints,
                                                 const std::vector<std::uint8_t>& turned,
                                                 double least_turn_deg);

/// On a scan noise makes sharp edges by the thousand, none longer than a few facets. The length below which
/// edges are such noise: ten times the median edge of the mesh where over 200 runs are there and half of them
/// are shorter than four median edges; else 0.
[[nodiscard]] double noise_length(const std::vector<SharpEdge>& edges, double median_edge_mm);

}  // namespace yardpass
