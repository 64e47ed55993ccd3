#include "yardpass/part/guides.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "part/mesh_source.h"

namespace yardpass {

void append(Mesh& mesh, const Mesh& more) {
  const auto first = static_cast<std::int32_t>(mesh.points.size());
  mesh.points.insert(mesh.points.end(), more.points.begin(), more.points.end());
  for (const auto& t : more.triangles) mesh.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
}

double Rim::widest_mm() const {
  Box2 box;
  for (const Vec3& p : points) box.extend(plan(p));
  return points.empty() ? 0 : box.diagonal().norm();
}

namespace {

/// A closed border by corners of the mesh, the set on its left.
struct CornerLoop {
  std::vector<std::int32_t> corners;
};

std::vector<CornerLoop> border_loops(const Mesh& mesh, const Joints& joints, const TriangleSet& set,
                                     const std::vector<std::uint8_t>& turned) {
  std::multimap<std::int32_t, std::int32_t> next;  // border sides by the corner they start from
  for (std::size_t i = 0; i < joints.sides(); ++i) {
    if (!set[i / 3]) continue;
    const auto side = static_cast<std::int32_t>(i);
    const std::int32_t other = joints.across(side);
    if (other == Joints::kNoSide || (other >= 0 && set[static_cast<std::size_t>(other / 3)])) continue;
    const std::int32_t from = side_from(mesh, side), to = side_to(mesh, side);
    turned[i / 3] ? next.emplace(to, from) : next.emplace(from, to);
  }
  std::vector<CornerLoop> loops;
  while (!next.empty()) {
    CornerLoop loop;
    const std::int32_t start = next.begin()->first;
    std::int32_t at = start;
    bool clean = true;
    do {
      const auto way = next.find(at);
      if (way == next.end()) break;
      clean = clean && next.count(at) == 1;
      loop.corners.push_back(at);
      at = way->second;
      next.erase(way);
    } while (at != start);
    if (clean && at == start && loop.corners.size() > 2) loops.push_back(std::move(loop));
  }
  return loops;
}

Rim rim_of(const Mesh& mesh, const CornerLoop& loop) {
  Rim rim;
  Polyline2 flat;
  for (const std::int32_t i : loop.corners) {
    rim.points.push_back(mesh.points[static_cast<std::size_t>(i)]);
    flat.push_back(plan(rim.points.back()));
  }
  rim.is_hole = signed_area(flat) < 0;
  return rim;
}

}  // namespace

std::vector<Rim> rims_of(const Mesh& mesh, const Joints& joints, const TriangleSet& set) {
  std::vector<Rim> rims;
  for (const CornerLoop& loop : border_loops(mesh, joints, set, turned_over(mesh, joints)))
    rims.push_back(rim_of(mesh, loop));
  std::stable_sort(rims.begin(), rims.end(), [](const Rim& a, const Rim& b) {
    return length(std::span<const Vec3>(a.points)) > length(std::span<const Vec3>(b.points));
  });
  return rims;
}

Mesh flat_lid(const Rim& rim) {
  detail::ParsedMesh lid;
  lid.mesh.points = rim.points;
  std::vector<std::int32_t> corners;
  for (std::size_t i = 0; i < rim.points.size(); ++i) corners.push_back(static_cast<std::int32_t>(i));
  if (rim.is_hole) std::reverse(corners.begin(), corners.end());  // seen from above
  lid.add_polygon(corners, -1);
  return lid.mesh;
}

namespace {

/// The strip along one border: its corners, and where each of them goes on to.
class ExtensionStrip {
 public:
  ExtensionStrip(const Mesh& mesh, const CornerLoop& loop, const std::vector<Vec3>& normals, double length)
      : mesh_(mesh), loop_(loop), normals_(normals), length_(length) {}

  Mesh run() {
    const std::size_t n = loop_.corners.size();
    for (std::size_t i = 0; i < n; ++i) {
      const std::size_t j = (i + 1) % n;
      // A strip along each side, straight out from it, with the outward directions of its two ends.
      const Vec3 from_start = outward(i, i), from_end = outward(j, i);
      const auto a = point(at(i)), b = point(at(j)), c = point(at(j) + length_ * from_end),
                 d = point(at(i) + length_ * from_start);
      triangle(a, d, c);
      triangle(a, c, b);
      fill_corner(j, from_end, outward(j, j));
    }
    return std::move(strip_);
  }

 private:
  [[nodiscard]] const Vec3& at(std::size_t i) const {
    return mesh_.points[static_cast<std::size_t>(loop_.corners[i % loop_.corners.size()])];
  }
  /// Outward from side `side` at corner i: in the surface's tangent plane there, square to the side.
  [[nodiscard]] Vec3 outward(std::size_t i, std::size_t side) const {
    const Vec3 along = at(side + 1) - at(side);
    const Vec3 out = along.cross(normals_[i]);
    const double size = out.norm();
    return size > 0 ? Vec3(out / size) : Vec3(0, 0, 0);
  }
  /// Between the strips of two sides that turn apart: an arc of triangles. (Where they turn together the
  /// strips overlap, and the higher one counts.)
  void fill_corner(std::size_t i, const Vec3& from, const Vec3& to) {
    const double turn = std::atan2(normals_[i].dot(from.cross(to)), from.dot(to));
    if (turn <= 1e-9) return;
    const int steps = std::max(1, static_cast<int>(std::ceil(turn / (5 * std::numbers::pi / 180))));
    const auto centre = point(at(i));
    auto before = point(at(i) + length_ * from);
    for (int k = 1; k <= steps; ++k) {
      const Vec3 way = Eigen::AngleAxisd(turn * k / steps, normals_[i]) * from;
      const auto now = point(at(i) + length_ * (k == steps ? to : way));
      triangle(centre, before, now);
      before = now;
    }
  }
  std::int32_t point(const Vec3& p) {
    strip_.points.push_back(p);
    return static_cast<std::int32_t>(strip_.points.size()) - 1;
  }
  void triangle(std::int32_t a, std::int32_t b, std::int32_t c) { strip_.triangles.push_back({a, b, c}); }

  const Mesh& mesh_;
  const CornerLoop& loop_;
  const std::vector<Vec3>& normals_;
  double length_;
  Mesh strip_;
};

}  // namespace

Mesh extension_of(const Mesh& mesh, const Joints& joints, const TriangleSet& set, double length_mm) {
  const std::vector<std::uint8_t> turned = turned_over(mesh, joints);
  // Normals at the corners, of the set's own triangles alone.
  std::map<std::int32_t, Vec3> sums;
  const auto loops = border_loops(mesh, joints, set, turned);
  for (const CornerLoop& loop : loops)
    for (const std::int32_t corner : loop.corners) sums.emplace(corner, Vec3(0, 0, 0));
  for (std::size_t t = 0; t < set.size(); ++t) {
    if (!set[t]) continue;
    const Vec3 &a = mesh.corner(t, 0), &b = mesh.corner(t, 1), &c = mesh.corner(t, 2);
    const Vec3 weighted = (turned[t] ? -1 : 1) * (b - a).cross(c - a);
    for (const std::int32_t corner : mesh.triangles[t])
      if (const auto found = sums.find(corner); found != sums.end()) found->second += weighted;
  }
  Mesh result;
  for (const CornerLoop& loop : loops) {
    if (rim_of(mesh, loop).is_hole) continue;
    std::vector<Vec3> normals;
    for (const std::int32_t corner : loop.corners) normals.push_back(sums[corner].normalized());
    append(result, ExtensionStrip(mesh, loop, normals, length_mm).run());
  }
  return result;
}

}  // namespace yardpass
