/// What a mesh is, at a glance.
#pragma once

#include "yardpass/geom/mesh.h"

namespace yardpass {

struct PartSummary {
  Box3 box;
  std::int64_t triangles = 0;
  std::int64_t points = 0;  ///< different corners after welding
  EdgeReport edges;
  double area_mm2 = 0;
  double volume_mm3 = 0;  ///< enclosed, by the facing of the triangles; meaningless for an open mesh
  double shortest_edge_mm = 0;
  double median_edge_mm = 0;
  double longest_edge_mm = 0;
  std::vector<Flat> flats;  ///< the largest ones by area, at most 12, highest first
};
[[nodiscard]] PartSummary summarize(const Mesh& mesh);

}  // namespace yardpass
