// Small measures of single triangles, shared by diagnosis, repair, regions and edges.
#pragma once

#include <vector>

#include "yardpass/geom/joints.h"

namespace yardpass::detail {

inline double area_of(const Mesh& mesh, std::size_t triangle) {
  const Vec3 &a = mesh.corner(triangle, 0), &b = mesh.corner(triangle, 1), &c = mesh.corner(triangle, 2);
  return 0.5 * (b - a).cross(c - a).norm();
}

/// Where a side starts, ends and has its middle.
inline const Vec3& start_of(const Mesh& mesh, std::int32_t side) {
  return mesh.points[static_cast<std::size_t>(side_from(mesh, side))];
}
inline const Vec3& end_of(const Mesh& mesh, std::int32_t side) {
  return mesh.points[static_cast<std::size_t>(side_to(mesh, side))];
}
inline Vec3 middle_of(const Mesh& mesh, std::int32_t side) {
  return 0.5 * (start_of(mesh, side) + end_of(mesh, side));
}

/// Two equal corners, or all three within 1e-9 mm of one line.
bool has_no_area(const Mesh& mesh, std::size_t triangle);

/// By how much the surface turns from one triangle to the other over their common edge [radians, -pi to pi]:
/// above 0 where it is convex as the triangle of `side` faces, 0 in a plane. A neighbour that faces the other
/// way is taken as if it were turned over.
double turn_across(const Mesh& mesh, std::int32_t side, std::int32_t other);

/// Triangles that lie in one plane share one curvature, worked out along the plate's border: long slivers in
/// a plane have none of their own. Plates of one or two triangles keep what they have.
void smooth_over_plates(const Mesh& mesh, const Joints& joints, const std::vector<std::uint8_t>& turned,
                        double crease_deg, std::vector<float>& curvature);

/// Triangles with the same three corners as an earlier one, in ascending order.
std::vector<std::int32_t> repeated_triangles(const Mesh& mesh, const Joints& joints);

}  // namespace yardpass::detail
