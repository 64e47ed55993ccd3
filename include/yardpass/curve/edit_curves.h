/// Editing curves. All functions leave their input as it is and keep name, layer and colour; pieces of one
/// curve have those of the whole. Lengths in mm. Pure functions: safe from many threads.
#pragma once

#include <vector>

#include "yardpass/curve/curve.h"
#include "yardpass/geom/mesh.h"

namespace yardpass {

/// All points at one height.
[[nodiscard]] Curve flattened(Curve curve, double z);
[[nodiscard]] Curve shifted(Curve curve, const Vec3& by);
/// The other way round; a closed curve keeps its first point.
[[nodiscard]] Curve reversed(Curve curve);
/// Fewer points, none dropped lies farther than the tolerance from the result, in space. Ends stay.
[[nodiscard]] Curve simplified(const Curve& curve, double tolerance_mm);

/// The curve as seen from above, dropped straight down on the highest surface of a part: exact, with a point
/// wherever it crosses an edge of the mesh, straight up and down at walls. Where there is no part below, the
/// curve is cut; pieces come in its order.
[[nodiscard]] std::vector<Curve> projected(const Curve& curve, const Mesh& part);

/// Lines that run beside the curve at a distance in plan (positive: to its left), at its height where it is
/// level, else at the height of the nearest point. Outer corners are rounded within 0.001 mm, stretches that
/// come nearer to the curve than the distance are taken out. A closed curve gives closed ones.
[[nodiscard]] std::vector<Curve> beside(const Curve& curve, double distance_mm);

/// Ends that are no farther apart than the gap are joined by a straight piece, nearest first; curves whose
/// own ends are that near are closed. Directions of the earlier curves hold.
[[nodiscard]] std::vector<Curve> joined(std::vector<Curve> curves, double gap_mm);

/// Every curve cut wherever it crosses or touches another or itself, seen from above.
[[nodiscard]] std::vector<Curve> cut_at_crossings(const std::vector<Curve>& curves);

/// Cut at the point of the curve that is nearest to a place, seen from above; a closed curve is opened there.
/// One piece if that point is an end.
[[nodiscard]] std::vector<Curve> split_at(const Curve& curve, const Vec2& place);
/// Cut at points where it turns by more than an angle, in space. A closed curve without such a point is
/// returned whole; with one it is opened there.
[[nodiscard]] std::vector<Curve> split_at_corners(const Curve& curve, double least_turn_deg);

}  // namespace yardpass
