#include "yardpass/part/placement.h"

#include <cmath>
#include <numbers>

namespace yardpass {

namespace {

Eigen::Matrix3d turn_matrix(const Turn& turn) {
  const double radians = turn.angle_deg * std::numbers::pi / 180;
  double c = std::cos(radians), s = std::sin(radians);
  // A quarter turn must not smear flats by 1e-17.
  if (const double quarters = turn.angle_deg / 90; quarters == std::round(quarters))
    c = std::round(c), s = std::round(s);
  const int k = static_cast<int>(turn.axis), u = (k + 1) % 3, v = (k + 2) % 3;
  Eigen::Matrix3d m = Eigen::Matrix3d::Zero();
  m(k, k) = 1;
  m(u, u) = c, m(u, v) = -s;
  m(v, u) = s, m(v, v) = c;
  return m;
}

}  // namespace

Eigen::Matrix<double, 3, 4> matrix_of(const Placement& placement) {
  Eigen::Matrix3d linear = placement.shrink_factor.asDiagonal();
  if (placement.mirror) linear.row(static_cast<int>(*placement.mirror)) *= -1;
  for (const Turn& turn : placement.turns) linear = turn_matrix(turn) * linear;
  Eigen::Matrix<double, 3, 4> result;
  result.leftCols<3>() = linear;
  result.col(3) = placement.move;
  return result;
}

Mesh placed(Mesh mesh, const Placement& placement) {
  const Eigen::Matrix<double, 3, 4> matrix = matrix_of(placement);
  for (Vec3& p : mesh.points) p = matrix.leftCols<3>() * p + matrix.col(3);
  if (matrix.leftCols<3>().determinant() < 0)
    for (auto& t : mesh.triangles) std::swap(t[1], t[2]);
  return mesh;
}

Vec3 point_of(const Origin& origin, const Box3& part, const Box3& stock) {
  const Box3& box = origin.of == Origin::Of::part ? part : stock;
  Vec3 point;
  for (int k = 0; k < 3; ++k) {
    const auto axis = static_cast<std::size_t>(k);
    point[k] =
        origin.share[axis] ? box.min()[k] + *origin.share[axis] * box.sizes()[k] : origin.coordinate[axis];
  }
  return point;
}

}  // namespace yardpass
