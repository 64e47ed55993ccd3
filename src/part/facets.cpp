#include "part/facets.h"

#include <algorithm>
#include <cmath>

namespace yardpass::detail {

bool has_no_area(const Mesh& mesh, std::size_t triangle) {
  const Vec3 &a = mesh.corner(triangle, 0), &b = mesh.corner(triangle, 1), &c = mesh.corner(triangle, 2);
  const double longest = std::max({(b - a).norm(), (c - b).norm(), (a - c).norm()});
  return (b - a).cross(c - a).norm() <= 1e-9 * longest;
}

double turn_across(const Mesh& mesh, std::int32_t side, std::int32_t other) {
  const auto here = static_cast<std::size_t>(side / 3), there = static_cast<std::size_t>(other / 3);
  const Vec3 one = unit_normal(mesh, here), two = unit_normal(mesh, there, is_flipped(mesh, side, other));
  const double size = std::atan2(one.cross(two).norm(), one.dot(two));
  const Vec3 away = mesh.corner(there, (other % 3 + 2) % 3) - mesh.corner(here, side % 3);
  return one.dot(away) > 0 ? -size : size;
}

std::vector<std::int32_t> repeated_triangles(const Mesh& mesh, const Joints& joints) {
  // A repeated triangle has another one on each of its sides: the same one, or a crowd.
  std::vector<std::pair<std::array<std::int32_t, 3>, std::int32_t>> candidates;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const auto first = static_cast<std::int32_t>(3 * t);
    std::int32_t twin = -1;
    bool possible = true;
    for (std::int32_t k = 0; k < 3 && possible; ++k) {
      const std::int32_t other = joints.across(first + k);
      if (other == Joints::kCrowded) continue;
      possible = other >= 0 && (twin < 0 || other / 3 == twin);
      twin = other / 3;
    }
    if (!possible) continue;
    auto corners = mesh.triangles[t];
    std::sort(corners.begin(), corners.end());
    candidates.emplace_back(corners, static_cast<std::int32_t>(t));
  }
  std::sort(candidates.begin(), candidates.end());
  std::vector<std::int32_t> result;
  for (std::size_t i = 1; i < candidates.size(); ++i)
    if (candidates[i].first == candidates[i - 1].first) result.push_back(candidates[i].second);
  std::sort(result.begin(), result.end());
  return result;
}

}  // namespace yardpass::detail
