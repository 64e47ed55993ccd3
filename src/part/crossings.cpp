#include <algorithm>
#include <atomic>

#include <unsupported/Eigen/BVH>

#include "geom/parallel_for.h"
#include "yardpass/part/diagnosis.h"

namespace yardpass {

namespace {

using Boxes = Eigen::KdBVH<double, 3, std::int32_t>;

/// Does the segment pass through the inside of the triangle, clear of its rim and with both ends clear of its
/// plane by more than `margin`?
bool passes_through(const Vec3& from, const Vec3& to, const Vec3& a, const Vec3& b, const Vec3& c,
                    double margin) {
  const Vec3 normal = (b - a).cross(c - a);
  const double size = normal.norm();
  if (!(size > 0)) return false;
  const double h0 = normal.dot(from - a) / size, h1 = normal.dot(to - a) / size;
  if (!((h0 > margin && h1 < -margin) || (h0 < -margin && h1 > margin))) return false;
  const Vec3 p = from + (to - from) * (h0 / (h0 - h1));
  const auto inside = [&](const Vec3& u, const Vec3& v) {
    return normal.dot((v - u).cross(p - u)) > margin * size * (v - u).norm();
  };
  return inside(a, b) && inside(b, c) && inside(c, a);
}

/// The triangles that one triangle crosses, among those after it.
struct CrossingSearch {
  const Mesh& mesh;
  std::int32_t self;
  Eigen::AlignedBox3d box;
  double margin;
  std::int64_t found = 0;

  bool intersectVolume(const Eigen::AlignedBox3d& volume) const { return box.intersects(volume); }
  bool intersectObject(std::int32_t other) {
    if (other > self && crosses(other)) ++found;
    return false;  // go on
  }

 private:
  [[nodiscard]] bool crosses(std::int32_t other) const {
    const auto &mine = mesh.triangles[static_cast<std::size_t>(self)],
               &its = mesh.triangles[static_cast<std::size_t>(other)];
    int shared = 0;
    for (const auto i : mine) shared += std::count(its.begin(), its.end(), i) > 0;
    if (shared > 1) return false;
    return any_side_through(self, other) || any_side_through(other, self);
  }
  [[nodiscard]] bool any_side_through(std::int32_t one, std::int32_t two) const {
    const auto t1 = static_cast<std::size_t>(one), t2 = static_cast<std::size_t>(two);
    const Vec3 &a = mesh.corner(t2, 0), &b = mesh.corner(t2, 1), &c = mesh.corner(t2, 2);
    for (int k = 0; k < 3; ++k)
      if (passes_through(mesh.corner(t1, k), mesh.corner(t1, (k + 1) % 3), a, b, c, margin)) return true;
    return false;
  }
};

}  // namespace

Trouble crossing_triangles(const Mesh& mesh, const Progress& progress) {
  const std::size_t count = mesh.triangles.size();
  const auto box_of = [&](std::size_t t) {
    Eigen::AlignedBox3d box(mesh.corner(t, 0));
    return box.extend(mesh.corner(t, 1)).extend(mesh.corner(t, 2));
  };
  std::vector<std::int32_t> numbers(count);
  std::vector<Eigen::AlignedBox3d> boxes(count);
  for (std::size_t t = 0; t < count; ++t) numbers[t] = static_cast<std::int32_t>(t), boxes[t] = box_of(t);
  const Boxes tree(numbers.begin(), numbers.end(), boxes.begin(), boxes.end());
  report(progress, 0.4);
  const double margin = 1e-7 * mesh.box().diagonal().norm();
  constexpr std::size_t kChunk = 4096;
  std::vector<Trouble> found((count + kChunk - 1) / kChunk);
  detail::parallel_for(found.size(), part_of(progress, 0.4, 1), [&](std::size_t chunk) {
    for (std::size_t t = chunk * kChunk; t < std::min(count, (chunk + 1) * kChunk); ++t) {
      CrossingSearch search{mesh, static_cast<std::int32_t>(t), boxes[t], margin};
      Eigen::BVIntersect(tree, search);
      found[chunk].count += search.found;
      if (search.found > 0 && found[chunk].places.size() < Trouble::kPlaces)
        found[chunk].places.push_back((mesh.corner(t, 0) + mesh.corner(t, 1) + mesh.corner(t, 2)) / 3);
    }
  });
  Trouble result;
  for (const Trouble& part : found) {
    result.count += part.count;
    for (const Vec3& place : part.places)
      if (result.places.size() < Trouble::kPlaces) result.places.push_back(place);
  }
  return result;
}

}  // namespace yardpass
