#include "yardpass/contact/seen.h"

#include <algorithm>
#include <array>
#include <limits>

#include "yardpass/contact/tip_surface.h"

namespace yardpass {

namespace {

constexpr double kAside = 1e-3;  // mm

struct Facet {
  std::size_t triangle;
  double low_z;
};

/// The lowest first. Their facing does not matter: what faces down is covered, unless the mesh is turned
/// over.
std::vector<Facet> facets_from_below(const Mesh& mesh) {
  std::vector<Facet> facets;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    double low = std::numeric_limits<double>::infinity();
    for (const auto corner : mesh.triangles[t]) low = std::min(low, mesh.points[corner].z());
    facets.push_back({t, low});
  }
  std::stable_sort(facets.begin(), facets.end(),
                   [](const Facet& a, const Facet& b) { return a.low_z < b.low_z; });
  return facets;
}

}  // namespace

std::optional<double> lowest_seen(const std::shared_ptr<const ContactPart>& part) {
  const TipSurface above(part, Profile::needle());
  const Mesh& mesh = part->mesh();
  double lowest = std::numeric_limits<double>::infinity();
  for (const Facet& facet : facets_from_below(mesh)) {
    if (facet.low_z >= lowest) break;
    std::array<Vec3, 3> p;
    for (std::size_t k = 0; k < 3; ++k) p[k] = mesh.points[mesh.triangles[facet.triangle][k]];
    const Vec3 middle = (p[0] + p[1] + p[2]) / 3;
    const Vec3 normal = (p[1] - p[0]).cross(p[2] - p[0]);
    if (!(normal.norm() > 0)) continue;
    const Vec3 out = kAside * normal.normalized();
    const auto look = [&](const Vec3& at) {
      if (at.z() >= lowest) return;
      // A little to the middle, so that the neighbours do not count, and off the facet, if it stands upright.
      const Vec3 inward = middle - at;
      const double length = inward.norm();
      const Vec3 from = at + (length > 0 ? std::min(kAside / length, 0.1) : 0.0) * inward;
      for (const Vec3& side : {Vec3(from + out), Vec3(from - out)})
        if (above.height(plan(side)) <= from.z() + kAside) lowest = at.z();
    };
    for (std::size_t k = 0; k < 3; ++k) look(p[k]);
    for (std::size_t k = 0; k < 3; ++k) look(0.5 * (p[k] + p[(k + 1) % 3]));
    look(middle);
  }
  if (lowest == std::numeric_limits<double>::infinity()) return std::nullopt;
  return lowest;
}

}  // namespace yardpass
