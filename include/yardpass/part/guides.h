/// Surfaces that guide an operation without belonging to the part: lids over holes and notches, run_outs of
/// a region beyond its edge. A tool planned on part and guides together runs straight over openings and out
/// in line with the surface; the proof is against the true part alone.
#pragma once

#include <functional>
#include <optional>
#include <utility>
#include <vector>

#include "yardpass/geom/polyline.h"
#include "yardpass/geom/region.h"
#include "yardpass/part/pick.h"

namespace yardpass {

/// A closed border of a piece of surface: corners in order, the surface on the left, seen from its outer
/// side.
struct Rim {
  Polyline3 points;                        ///< the first not repeated
  bool is_hole = false;                    ///< runs clockwise seen from above: the surface lies around it
  [[nodiscard]] double widest_mm() const;  ///< diagonal of its rectangle in plan
};
/// All closed borders of a set of triangles, longest first. Borders that end or branch are left out.
[[nodiscard]] std::vector<Rim> rims_of(const Mesh& mesh, const Joints& joints, const TriangleSet& set);

/// A lid that spans a rim as it runs, by triangles between the rim's own corners: level where the rim is.
[[nodiscard]] Mesh flat_lid(const Rim& rim);

/// A lid that continues the surface of `around` smoothly into an area: over a hole, or over a notch that is
/// open to the side. A thin plate on a grid: the sum of squared second differences is least, heights are
/// those of the surface where there is one. Throws Error if there is no surface around the area, or if the
/// grid would have more than 4 million places. Source: thin-plate energy as in G. Wahba, "Spline Models for
/// Observational Data", 1990.
[[nodiscard]] Mesh smooth_lid(const Mesh& mesh, const TriangleSet& around, const Region& area,
                              double spacing_mm);

struct RunOutOptions {
  double length_mm = 0;
  /// On the circle that fits the surface along that direction (by a quadratic through the corners within
  /// three sides of the edge; after a quarter turn it goes on straight); else straight on in line with the
  /// surface.
  bool curved = false;
  /// Only the stretch of one edge between the corners nearest to two places, the shorter way.
  std::optional<std::pair<Vec3, Vec3>> between = {};
  /// Only where the edge runs along one of these lines, within a distance.
  std::vector<Polyline3> along = {};
  double along_within_mm = 0.1;
  /// Whether something stands in the way at a place: the run-out ends before it.
  std::function<bool(const Vec3& place)> blocked = {};
};

/// Runs the outer edges of a piece of surface on. Gaps at outer corners of the edge are filled in an arc.
/// Holes in the piece stay. Empty if there is no such edge, or if none can run on. Throws Error if the two
/// places lie on different edges.
[[nodiscard]] Mesh run_out_of(const Mesh& mesh, const Joints& joints, const TriangleSet& set,
                              const RunOutOptions& options);

/// Several meshes as one, corners not shared between them.
void append(Mesh& mesh, const Mesh& more);

}  // namespace yardpass
