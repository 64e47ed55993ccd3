// The sharp outer edges of a part that are to be broken, run by run.
#pragma once

#include <functional>

#include "yardpass/plan/broken_edges.h"

namespace yardpass::detail {

/// Segments of edges, end to end.
struct EdgeRun {
  Polyline3 points;  ///< of a closed run the first is not repeated
  bool closed = false;
  std::vector<EdgeSection> sections;  ///< in the middle of each segment, between its very faces
  std::vector<std::int64_t> numbers;  ///< of the edge that each segment belongs to
  /// Normals of the faces that the first and the last point end at, other than those beside the run.
  std::vector<Vec3> first_caps, last_caps;
  [[nodiscard]] const Vec3& end_of(std::size_t segment) const {
    return points[(segment + 1) % points.size()];
  }
};

struct OuterEdges {
  std::vector<EdgeRun> runs;
  std::vector<LeftEdge> left;
  std::vector<std::int64_t> unknown;
};

/// `has_place`: whether the cutter has a place beside a section.
OuterEdges outer_edges(const Mesh& mesh, const EdgeBreak& wanted,
                       const std::function<bool(const EdgeSection&)>& has_place);

}  // namespace yardpass::detail
