#include "yardpass/part/outlines.h"

#include <map>

#include "yardpass/part/pick.h"

namespace yardpass {

Region silhouette(const Mesh& mesh) {
  const Joints joints(mesh);
  return outline_in_plan(mesh, joints, TriangleSet(mesh.triangles.size(), 1));
}

Region slice_at(const Mesh& mesh, double z) {
  const std::vector<std::uint8_t> turned = turned_over(mesh, Joints(mesh));
  // A side is cut if one end lies above the plane and the other does not; each triangle cut has two of them.
  using Side = std::pair<std::int32_t, std::int32_t>;
  std::map<Side, Side> next;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const auto& t = mesh.triangles[i];
    const auto above = [&](std::size_t k) { return mesh.points[static_cast<std::size_t>(t[k % 3])].z() > z; };
    Side up, down;
    int cuts = 0;
    for (std::size_t k = 0; k < 3; ++k) {
      if (above(k) == above(k + 1)) continue;
      const Side side = std::minmax(t[k], t[(k + 1) % 3]);
      (above(k) ? down : up) = side;
      ++cuts;
    }
    if (turned[i]) std::swap(up, down);
    if (cuts == 2) next.emplace(up, down);
  }
  Region region;
  while (!next.empty()) {
    Polyline2 loop;
    const Side start = next.begin()->first;
    Side at = start;
    bool closed = false;
    for (auto way = next.begin(); way != next.end(); way = next.find(at)) {
      const Vec3 &a = mesh.points[static_cast<std::size_t>(at.first)],
                 &b = mesh.points[static_cast<std::size_t>(at.second)];
      loop.push_back(plan(Vec3(a + (b - a) * ((z - a.z()) / (b.z() - a.z())))));
      at = way->second;
      next.erase(way);
      closed = at == start;
      if (closed) break;
    }
    if (closed && loop.size() > 2) region.loops.push_back(std::move(loop));
  }
  return unite(region, {});
}

}  // namespace yardpass
