// Looking at a part: reading, welding, diagnosis, survey, regions; time and memory. All cores.
// Usage: bench_survey [--small]   (--small: up to 1 M triangles)
#include <sys/resource.h>

#include <cmath>
#include <cstring>
#include <filesystem>
#include <unordered_map>

#include "bench.h"
#include "sheet.h"
#include "yardpass/part/diagnosis.h"
#include "yardpass/part/read_mesh.h"
#include "yardpass/part/regions.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/survey/survey.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

constexpr double kGroove = 8;  // half the width of a groove along Y; its rims turn by 30 degrees

Mesh sculpted(double triangles) {
  const int k = static_cast<int>(std::sqrt(triangles / 12));
  return demo::sheet(Box2(Vec2(0, 0), Vec2(300, 200)), 3 * k, 2 * k, [](double x, double y) {
    double z = 9 * std::sin(x / 29) * std::cos(y / 23);
    const double off = std::abs(x - 60);
    if (off < kGroove) z -= (std::sqrt(4 * kGroove * kGroove - off * off) - std::sqrt(3.0) * kGroove);
    return z;
  });
}

Mesh loose(const Mesh& mesh) {
  Mesh result;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const auto first = static_cast<std::int32_t>(result.points.size());
    for (int k = 0; k < 3; ++k) result.points.push_back(mesh.corner(t, k));
    result.triangles.push_back({first, first + 1, first + 2});
  }
  return result;
}

/// The reference: a map from corners to their numbers.
struct PointHash {
  std::size_t operator()(const std::array<double, 3>& p) const {
    std::size_t hash = 0;
    for (const double v : p) hash = hash * 1000003 + std::hash<double>()(v);
    return hash;
  }
};
std::vector<std::array<std::int32_t, 3>> map_weld(const Mesh& mesh) {
  std::unordered_map<std::array<double, 3>, std::int32_t, PointHash> numbers;
  std::vector<std::array<std::int32_t, 3>> triangles;
  for (const auto& t : mesh.triangles) {
    std::array<std::int32_t, 3> corners{};
    for (std::size_t k = 0; k < 3; ++k) {
      const Vec3& p = mesh.points[static_cast<std::size_t>(t[k])];
      corners[k] =
          numbers.try_emplace({p.x(), p.y(), p.z()}, static_cast<std::int32_t>(numbers.size())).first->second;
    }
    triangles.push_back(corners);
  }
  return triangles;
}

void weld_rows(const Mesh& mesh) {
  const Mesh corners = loose(mesh);
  double start = now_s();
  const auto expected = map_weld(corners);
  const double by_map = now_s() - start;
  start = now_s();
  const Mesh welded = weld(corners);
  const double ours = now_s() - start;
  require(welded.triangles == expected, "weld");
  row("weld, 1 M triangles: map of corners / ours", by_map / ours, "x", 1, 3, true);
}

/// From file to numbered regions. Seconds.
double look_at(const std::filesystem::path& file, bool told) {
  const double start = now_s();
  double before = start;
  const auto lap = [&](const char* what) {
    const double now = now_s();
    if (told) std::printf("  %-30s %6.2f s\n", what, now - before);
    before = now;
  };
  MeshFile read = read_mesh(file);
  lap("read and weld");
  const Joints joints(read.mesh);
  const Diagnosis diagnosis = diagnose(read.mesh, joints);
  lap("diagnose, crossings too");
  const RegionMap regions = split_into_regions(read.mesh, joints);
  lap("regions");
  const auto part = make_contact_part(std::move(read.mesh));
  lap("index");
  const Survey result = survey(part, joints);
  lap("survey");
  const double spent = now_s() - start;
  require(diagnosis.open_loops.size() == 1 && diagnosis.crossing.count == 0, "diagnosis");
  require(regions.regions.size() >= 3, "regions: the groove has two sharp rims");
  require(std::abs(result.depth_mm() - part->box().sizes().z()) < 1e-6, "depth of an open sheet");
  return spent;
}

}  // namespace

int main(int count, char** words) {
  const bool small = count > 1 && std::strcmp(words[1], "--small") == 0;
  const auto file = std::filesystem::temp_directory_path() / "yardpass-bench-survey.stl";
  const Mesh million = sculpted(1e6);
  weld_rows(million);
  write_stl(file, million, "bench");
  row("read, weld, diagnose, regions, survey: 1 M triangles", look_at(file, true), "s", 20, 10, false);
  if (!small) {
    write_stl(file, sculpted(1e7), "bench");
    row("the same: 10 M triangles", look_at(file, true), "s", 200, 100, false);
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    row("greatest memory so far", static_cast<double>(usage.ru_maxrss) / 1024 / 1024, "GB", 6, 4, false);
  }
  std::filesystem::remove(file);
}
