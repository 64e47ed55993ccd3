#include "yardpass/part/guides.h"

#include <algorithm>
#include <map>

#include "part/borders.h"
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

namespace detail {

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

}  // namespace detail

std::vector<Rim> rims_of(const Mesh& mesh, const Joints& joints, const TriangleSet& set) {
  std::vector<Rim> rims;
  for (const detail::CornerLoop& loop : detail::border_loops(mesh, joints, set, turned_over(mesh, joints)))
    rims.push_back(detail::rim_of(mesh, loop));
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

}  // namespace yardpass
