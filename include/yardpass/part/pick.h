/// Picking pieces of a part's surface, and where they lie in plan.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "yardpass/geom/region.h"
#include "yardpass/part/regions.h"

namespace yardpass {

/// One mark a triangle: 1 if it belongs to the set.
using TriangleSet = std::vector<std::uint8_t>;

/// What to pick. The first part chooses (whatever any of them names is in; if all are empty, the whole part),
/// the second part narrows (only what meets all of them stays), `without` takes away. Picks by place, slope,
/// box or boundary mean the same on a part that is meshed anew; numbers and groups need not.
struct Pick {
  std::vector<std::int32_t> numbers;       ///< regions by their number
  std::vector<Vec2> under;                 ///< the region that is highest at a place in plan
  std::vector<Vec3> nearest;               ///< the region that is nearest to a point
  std::vector<std::int32_t> groups;        ///< of the file
  std::vector<TriangleSet> united;         ///< other picks
  std::vector<TriangleSet> neighbours_of;  ///< all regions that share an edge with one of the set's, without
                                           ///< those

  /// Angle of a triangle against level, 0 to 180 degrees; above 90 it faces down. Both ends are in.
  struct SlopeRange {
    double from_deg, to_deg;
  };
  std::optional<SlopeRange> slope;
  std::optional<Box3> box;       ///< the middle of the triangle lies in it
  std::optional<Region> inside;  ///< the middle of the triangle lies in it, seen from above

  std::vector<TriangleSet> without;
};

/// Throws Error if a number or group does not exist, or there is no part at a place.
[[nodiscard]] TriangleSet pick(const Mesh& mesh, const Joints& joints, const RegionMap& regions,
                               const std::vector<std::int32_t>& group_of_triangle, const Pick& what);

/// The shadow of the triangles of a set that face upwards: the union of all of them seen from above. Upright
/// walls have none.
[[nodiscard]] Region outline_in_plan(const Mesh& mesh, const Joints& joints, const TriangleSet& set);

/// Area of the triangles of a set [mm2].
[[nodiscard]] double area_of(const Mesh& mesh, const TriangleSet& set);

}  // namespace yardpass
