// The part of a scene, and what lies on it.
#include <algorithm>

#include <fmt/format.h>

#include "report/page/packed.h"
#include "report/page/scene.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/text.h"

namespace yardpass::detail {

namespace {

void add_points(PackedSteps (&columns)[3], const Vec3& p) {
  for (int k = 0; k < 3; ++k) columns[k].add(steps_of(p[k]));
}

void add_mesh(Scene& scene, const std::string& name, const Mesh& mesh) {
  PackedSteps columns[3], corners;
  for (const Vec3& p : mesh.points) add_points(columns, p);
  for (const auto& triangle : mesh.triangles)
    for (const std::int32_t corner : triangle) corners.add(corner);
  for (int k = 0; k < 3; ++k) scene.data.emplace_back(name + "-" + "xyz"[k], columns[k].bytes());
  scene.data.emplace_back(name + "-corners", corners.bytes());
}

std::string region_words(const SurfaceRegion& region, const Telling& telling) {
  std::string words = name_of(region.kind);
  if (region.bend_radius_mm > 0) words += ", R " + telling.number(region.bend_radius_mm);
  return words;
}

}  // namespace

void add_part(Scene& scene, const Mesh& mesh, const RegionMap& regions, const Telling& telling) {
  add_mesh(scene, "part", mesh);
  PackedRuns of_triangle;
  for (const std::int32_t number : regions.of_triangle) of_triangle.add(number);
  scene.data.emplace_back("part-regions", of_triangle.bytes());
  Json list = Json::array();
  for (const SurfaceRegion& region : regions.regions)
    list.push_back({{"words", region_words(region, telling)}, {"radius", rounded(region.bend_radius_mm)}});
  scene.about["regions"] = list;
  scene.about["part"] = {{"points", mesh.points.size()},
                         {"triangles", mesh.triangles.size()},
                         {"low", triple(mesh.box().min())},
                         {"high", triple(mesh.box().max())}};
}

void add_layer(Scene& scene, const char* kind, const std::string& name, const std::vector<Curve>& lines) {
  PackedSteps columns[3], counts;
  for (const Curve& line : lines) {
    counts.add(static_cast<std::int64_t>(line.points.size() + (line.closed ? 1 : 0)));
    for (const Vec3& p : line.points) add_points(columns, p);
    if (line.closed && !line.points.empty()) add_points(columns, line.points.front());
  }
  const std::string key = fmt::format("layer{}", scene.about["layers"].size());
  for (int k = 0; k < 3; ++k) scene.data.emplace_back(key + "-" + "xyz"[k], columns[k].bytes());
  scene.data.emplace_back(key + "-counts", counts.bytes());
  scene.about["layers"].push_back({{"key", key}, {"kind", kind}, {"name", one_line(name)}});
}

void add_edges(Scene& scene, const std::vector<Curve>& edges) {
  // The longest ones are told from each other; a scan's thousands of others would only be specks.
  constexpr std::size_t kMost = 2000;
  if (!edges.empty())
    add_layer(scene, "sharp edge", "",
              {edges.begin(), edges.begin() + static_cast<std::ptrdiff_t>(std::min(kMost, edges.size()))});
}

Curve draped(const std::shared_ptr<const ContactPart>& part, const Polyline2& line, bool closed) {
  const TipSurface surface(part, Profile::needle());
  const double top = part->box().max().z();
  // So close that a line does not cut through what lies between its points.
  const double step = 0.01 * std::max(1e-6, part->box().sizes().norm());
  Curve curve{{}, closed};
  const std::size_t count = line.size() + (closed ? 1 : 0);
  for (std::size_t i = 0; i + 1 < count; ++i) {
    const Vec2 a = line[i], b = line[(i + 1) % line.size()];
    const int pieces = 1 + static_cast<int>((b - a).norm() / step);
    for (int k = 0; k < pieces; ++k) {
      const Vec2 p = a + (b - a) * (static_cast<double>(k) / pieces);
      const double z = surface.height(p);
      curve.points.push_back(with_z(p, z == kNothingBelow ? top : z));
    }
  }
  if (!closed && !line.empty()) {
    const double z = surface.height(line.back());
    curve.points.push_back(with_z(line.back(), z == kNothingBelow ? top : z));
  }
  return curve;
}

void add_named(Scene& scene, const JobSetup& setup) {
  for (const NamedCurves& named : setup.curves) add_layer(scene, "curve", named.name, named.curves);
  for (const NamedBoundary& boundary : setup.boundaries) {
    std::vector<Curve> lines;
    for (const Polyline2& loop : boundary.area.loops) lines.push_back(draped(setup.part, loop, true));
    add_layer(scene, "boundary", boundary.name, lines);
  }
  for (const auto& [kind, list] :
       {std::pair("lid", &setup.lids), std::pair("run-out", &setup.run_outs),
        std::pair("carrier", &setup.carriers), std::pair("keep-away", &setup.keep_away)})
    for (const GuideMesh& guide : *list) {
      if (guide.mesh.triangles.empty()) continue;
      const std::string key = fmt::format("sheet{}", scene.about["sheets"].size());
      add_mesh(scene, key, guide.mesh);
      scene.about["sheets"].push_back({{"key", key}, {"kind", kind}, {"name", one_line(guide.name)}});
    }
}

}  // namespace yardpass::detail
