#include <algorithm>
#include <cmath>
#include <numbers>

#include "part/facets.h"

namespace yardpass::detail {

namespace {

constexpr double kLevelTurn = 2e-3;  // [rad] what single precision makes of a plane, with some to spare
constexpr std::size_t kLeastTriangles = 3;

/// Curvature of one plate as a form over its plane: each border stretch adds half its turn, across itself.
/// Source: D. Cohen-Steiner, J.-M. Morvan, "Restricted Delaunay triangulations and normal cycle", 2003.
class PlateForm {
 public:
  explicit PlateForm(const Vec3& normal)
      : u_(normal.unitOrthogonal()), v_(normal.cross(u_)), form_(Eigen::Matrix2d::Zero()) {}
  void add(const Vec3& stretch, double turn) {
    const double length = stretch.norm();
    if (!(length > 0)) return;
    const Vec2 along = Vec2(stretch.dot(u_), stretch.dot(v_)) / length;
    const Vec2 across(-along.y(), along.x());
    form_ += 0.5 * turn * length * across * across.transpose();
  }
  [[nodiscard]] double greatest(double area) const {
    const double middle = 0.5 * (form_(0, 0) + form_(1, 1)),
                 reach = std::hypot(0.5 * (form_(0, 0) - form_(1, 1)), form_(0, 1));
    return (std::abs(middle + reach) > std::abs(middle - reach) ? middle + reach : middle - reach) / area;
  }

 private:
  Vec3 u_, v_;
  Eigen::Matrix2d form_;
};

}  // namespace

void smooth_over_plates(const Mesh& mesh, const Joints& joints, const std::vector<std::uint8_t>& turned,
                        double crease_deg, std::vector<float>& curvature) {
  const double crease = crease_deg * std::numbers::pi / 180;
  std::vector<std::uint8_t> seen(mesh.triangles.size(), 0);
  std::vector<std::int32_t> plate;
  struct BorderSide {
    std::int32_t side;
    double turn;
  };
  std::vector<BorderSide> border;
  for (std::size_t seed = 0; seed < seen.size(); ++seed) {
    if (seen[seed]) continue;
    seen[seed] = 1;
    plate.assign(1, static_cast<std::int32_t>(seed));
    border.clear();
    double area = 0;
    for (std::size_t at = 0; at < plate.size(); ++at) {
      area += area_of(mesh, static_cast<std::size_t>(plate[at]));
      for (std::int32_t side = 3 * plate[at]; side < 3 * plate[at] + 3; ++side) {
        const std::int32_t other = joints.across(side);
        if (other < 0) continue;
        const auto next = static_cast<std::size_t>(other / 3);
        const double turn = turn_across(mesh, side, other);
        if (std::abs(turn) > kLevelTurn && !has_no_area(mesh, next)) {
          border.push_back({side, turn});
        } else if (!seen[next]) {
          seen[next] = 1;
          plate.push_back(static_cast<std::int32_t>(next));
        }
      }
    }
    if (plate.size() < kLeastTriangles || !(area > 0)) continue;
    const double sign = turned[seed] ? -1 : 1;
    PlateForm form(unit_normal(mesh, seed));
    for (const BorderSide& b : border)
      if (std::abs(b.turn) < crease)
        form.add(mesh.points[static_cast<std::size_t>(side_to(mesh, b.side))] -
                     mesh.points[static_cast<std::size_t>(side_from(mesh, b.side))],
                 sign * b.turn);
    const auto value = static_cast<float>(form.greatest(area));
    for (const std::int32_t t : plate) curvature[static_cast<std::size_t>(t)] = value;
  }
}

}  // namespace yardpass::detail
