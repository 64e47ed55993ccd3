/// Chains of straight pieces in plan and in space.
#pragma once

#include <limits>
#include <optional>
#include <span>
#include <vector>

#include "yardpass/geom/vec.h"

namespace yardpass {

using Polyline2 = std::vector<Vec2>;
using Polyline3 = std::vector<Vec3>;

[[nodiscard]] double length(std::span<const Vec2> line);
[[nodiscard]] double length(std::span<const Vec3> line);

/// Distance from p to the nearest point of the segment a-b.
[[nodiscard]] double distance_to_segment(const Vec2& p, const Vec2& a, const Vec2& b);
[[nodiscard]] double distance_to_segment(const Vec3& p, const Vec3& a, const Vec3& b);

/// The place of a closed loop (first point not repeated) that is nearest to p: on which piece, and how far.
/// Of equals the first; an empty loop is infinitely far.
struct NearestOnLoop {
  Vec2 at{0, 0};
  std::size_t piece = 0;  ///< from this point of the loop to the next
  double distance_mm = std::numeric_limits<double>::infinity();
};
[[nodiscard]] NearestOnLoop nearest_on_loop(std::span<const Vec2> loop, const Vec2& p);

/// The pieces of a line between two heights, cut where it crosses them. A line that only touches a height
/// from outside gives nothing there.
[[nodiscard]] std::vector<Polyline3> between_heights(const Polyline3& line, double low_z, double high_z);

/// Fewer points: no dropped point lies farther than `tolerance_mm` from the result. The ends stay.
/// Source: D. H. Douglas and T. K. Peucker, "Algorithms for the reduction of the number of points required to
/// represent a digitized line or its caricature", 1973.
[[nodiscard]] Polyline2 simplify(std::span<const Vec2> line, double tolerance_mm);
[[nodiscard]] Polyline3 simplify(std::span<const Vec3> line, double tolerance_mm);

/// The same for a closed loop (first point not repeated). Loops that would keep less than three points are
/// returned as they are.
/// A place where a closed line crosses itself, the one nearest to its start; nothing if it does not, or if
/// what it goes round there is below `least_mm2`.
[[nodiscard]] std::optional<Vec2> self_crossing(std::span<const Vec2> loop, double least_mm2 = 0.01);

[[nodiscard]] Polyline2 simplify_loop(std::span<const Vec2> loop, double tolerance_mm);
[[nodiscard]] Polyline3 simplify_loop(std::span<const Vec3> loop, double tolerance_mm);

}  // namespace yardpass
