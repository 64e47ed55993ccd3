/// Areas in plan: what lies inside an odd number of loops.
#pragma once

#include <optional>
#include <vector>

#include "yardpass/geom/polyline.h"

namespace yardpass {

/// Closed loops, the first point not repeated. After any function below outer loops run counter-clockwise and
/// holes clockwise, so that the area is always on the left; loops made by hand may run either way.
struct Region {
  std::vector<Polyline2> loops;

  [[nodiscard]] bool empty() const { return loops.empty(); }
  [[nodiscard]] Box2 box() const;
  [[nodiscard]] double area_mm2() const;  ///< of loops that run as described above
  [[nodiscard]] bool contains(
      const Vec2& p) const;  ///< odd number of loops around p; on the rim either answer
};

[[nodiscard]] Region rectangle(const Box2& box);

/// The planar operations work on whole steps of this size, and results may be off by as much.
inline constexpr double kRegionStep = 1e-6;

[[nodiscard]] Region unite(const Region& a, const Region& b);
[[nodiscard]] Region intersect(const Region& a, const Region& b);
[[nodiscard]] Region subtract(const Region& a, const Region& b);

/// Grown (positive) or shrunk (negative) by a distance, with round corners within `arc_tolerance_mm`.
/// Shrinking leaves exactly the points farther than the distance from the rim.
[[nodiscard]] Region offset(const Region& region, double distance_mm, double arc_tolerance_mm = 0.001);

/// All points that the loops, as they run, go around a positive number of times in total: the shadow of a
/// surface from the rims of its pieces. Scraps below 1e-6 mm2 are left out.
/// `simple`: loops of the result do not touch themselves or each other (needed where it is kept); false is
/// about twice as fast, for results that are used at once.
[[nodiscard]] Region wound_around(const std::vector<Polyline2>& loops, bool simple = true);

/// All points within `distance_mm` of the lines.
[[nodiscard]] Region around(const std::vector<Polyline2>& lines, bool closed, double distance_mm,
                            double arc_tolerance_mm = 0.001);

/// The parts of the segment a-b inside the region, as intervals of the share t in [0, 1], in order.
struct Interval {
  double from, to;
};
[[nodiscard]] std::vector<Interval> inside(const Region& region, const Vec2& a, const Vec2& b);

/// The connected pieces of a region, each an outer loop with its holes.
[[nodiscard]] std::vector<Region> pieces(const Region& region);

/// Signed area of a loop: positive if it runs counter-clockwise.
[[nodiscard]] double signed_area(const Polyline2& loop);

}  // namespace yardpass
