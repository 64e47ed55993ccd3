#include "yardpass/part/summary.h"

#include <algorithm>

namespace yardpass {

PartSummary summarize(const Mesh& mesh) {
  PartSummary summary;
  summary.box = mesh.box();
  summary.triangles = static_cast<std::int64_t>(mesh.triangles.size());
  summary.points = static_cast<std::int64_t>(mesh.points.size());
  summary.edges = edge_report(mesh);
  std::vector<double> lengths;
  lengths.reserve(mesh.triangles.size() * 3);
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Vec3 &a = mesh.corner(i, 0), &b = mesh.corner(i, 1), &c = mesh.corner(i, 2);
    summary.area_mm2 += 0.5 * (b - a).cross(c - a).norm();
    summary.volume_mm3 += a.dot(b.cross(c)) / 6.0;
    for (const double edge : {(b - a).norm(), (c - b).norm(), (a - c).norm()})
      if (edge > 0) lengths.push_back(edge);
  }
  if (!lengths.empty()) {
    const auto middle = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 2);
    std::nth_element(lengths.begin(), middle, lengths.end());
    summary.median_edge_mm = *middle;
    summary.shortest_edge_mm = *std::min_element(lengths.begin(), lengths.end());
    summary.longest_edge_mm = *std::max_element(lengths.begin(), lengths.end());
  }
  auto all = flats(mesh, 1.0);
  std::sort(all.begin(), all.end(), [](const Flat& x, const Flat& y) { return x.area_mm2 > y.area_mm2; });
  if (all.size() > 12) all.resize(12);
  std::sort(all.begin(), all.end(), [](const Flat& x, const Flat& y) { return x.z_mm > y.z_mm; });
  summary.flats = std::move(all);
  return summary;
}

}  // namespace yardpass
