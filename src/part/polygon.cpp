#include <algorithm>

#include "part/mesh_source.h"

namespace yardpass::detail {

namespace {

/// Cuts ears off a polygon seen in its own plane. Source: G. Meisters, "Polygons have ears", 1975.
class EarCutter {
 public:
  EarCutter(const std::vector<Vec3>& points, const std::vector<std::int32_t>& corners) : left_(corners) {
    Vec3 normal = Vec3::Zero();  // Newell's sum: right for corners that are not quite in one plane
    for (std::size_t i = 0; i < corners.size(); ++i) {
      const Vec3& a = points[static_cast<std::size_t>(corners[i])];
      const Vec3& b = points[static_cast<std::size_t>(corners[(i + 1) % corners.size()])];
      normal += a.cross(b);
    }
    int drop = 0;
    normal.cwiseAbs().maxCoeff(&drop);
    const int u = (drop + 1) % 3, v = (drop + 2) % 3;
    const double turn = normal[drop] < 0 ? -1 : 1;
    for (const auto corner : corners) {
      const Vec3& p = points[static_cast<std::size_t>(corner)];
      flat_.emplace_back(p[u], turn * p[v]);
    }
  }

  std::vector<std::array<std::int32_t, 3>> run() {
    std::vector<std::array<std::int32_t, 3>> triangles;
    std::size_t at = 0, failed = 0;
    while (left_.size() > 3) {
      const std::size_t n = left_.size(), before = (at + n - 1) % n, after = (at + 1) % n;
      // A polygon that crosses itself may have no ear; then corners are cut off as they come.
      if (!is_ear(before, at, after) && ++failed < n) {
        at = after;
        continue;
      }
      triangles.push_back({left_[before], left_[at], left_[after]});
      left_.erase(left_.begin() + static_cast<std::ptrdiff_t>(at));
      flat_.erase(flat_.begin() + static_cast<std::ptrdiff_t>(at));
      failed = 0;
      at %= left_.size();
    }
    triangles.push_back({left_[0], left_[1], left_[2]});
    return triangles;
  }

 private:
  [[nodiscard]] bool is_ear(std::size_t a, std::size_t b, std::size_t c) const {
    if (!(cross2(flat_[b] - flat_[a], flat_[c] - flat_[b]) > 0)) return false;
    for (std::size_t i = 0; i < flat_.size(); ++i) {
      if (i == a || i == b || i == c) continue;
      const Vec2& p = flat_[i];
      if (cross2(flat_[b] - flat_[a], p - flat_[a]) >= 0 && cross2(flat_[c] - flat_[b], p - flat_[b]) >= 0 &&
          cross2(flat_[a] - flat_[c], p - flat_[c]) >= 0 && p != flat_[a] && p != flat_[b] && p != flat_[c])
        return false;
    }
    return true;
  }
  std::vector<std::int32_t> left_;
  std::vector<Vec2> flat_;
};

}  // namespace

void ParsedMesh::add_polygon(const std::vector<std::int32_t>& corners, std::int32_t group) {
  if (corners.size() == 3) {
    mesh.triangles.push_back({corners[0], corners[1], corners[2]});
  } else {
    for (const auto& triangle : EarCutter(mesh.points, corners).run()) mesh.triangles.push_back(triangle);
  }
  if (group >= 0 || !group_of_triangle.empty()) group_of_triangle.resize(mesh.triangles.size(), group);
}

}  // namespace yardpass::detail
