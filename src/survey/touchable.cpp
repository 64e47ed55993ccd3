#include "yardpass/survey/touchable.h"

#include <cmath>
#include <vector>

#include "geom/parallel_for.h"

namespace yardpass {

namespace {

struct Place {
  Vec3 at, normal;
  std::int32_t triangle;
};

/// Places an equal area apart, in the triangles at the points of an even sequence (M. Roberts, "The
/// unreasonable effectiveness of quasirandom sequences", 2018).
std::vector<Place> spread(const Mesh& mesh, const TriangleSet& triangles, std::size_t count) {
  const auto area_normal = [&](std::size_t t) -> Vec3 {
    const auto& c = mesh.triangles[t];
    return (mesh.points[c[1]] - mesh.points[c[0]]).cross(mesh.points[c[2]] - mesh.points[c[0]]) / 2;
  };
  double all = 0;
  for (std::size_t t = 0; t < triangles.size(); ++t)
    if (triangles[t]) all += area_normal(t).norm();
  std::vector<Place> places;
  if (!(all > 0)) return places;
  const double apart = all / static_cast<double>(count);
  double done = 0, next = apart / 2;
  for (std::size_t t = 0; t < triangles.size(); ++t) {
    if (!triangles[t]) continue;
    const Vec3 normal = area_normal(t);
    done += normal.norm();
    for (; next < done; next += apart) {
      const auto k = static_cast<double>(places.size());
      double u = std::fmod(0.5 + 0.7548776662466927 * k, 1), v = std::fmod(0.5 + 0.5698402909980532 * k, 1);
      if (u + v > 1) u = 1 - u, v = 1 - v;
      const auto& c = mesh.triangles[t];
      const Vec3 &a = mesh.points[c[0]], &b = mesh.points[c[1]], &d = mesh.points[c[2]];
      places.push_back({a + u * (b - a) + v * (d - a), normal.normalized(), static_cast<std::int32_t>(t)});
    }
  }
  return places;
}

bool touches(const TipSurface& surface, const Place& place, double tolerance) {
  constexpr double kUpright = 1e-6;
  if (place.normal.z() < -kUpright) return false;
  const double level = plan(place.normal).norm(), up = std::max(place.normal.z(), 0.0);
  const double slope = up > 1e-9 ? level / up : 1e9;
  const double radius = level > 1e-9 ? surface.cutter().radius_at_slope(slope) : 0;
  const Vec2 axis = plan(place.at) + (level > 1e-9 ? radius / level : 0.0) * plan(place.normal);
  const double tip = place.at.z() - surface.cutter().height(radius);
  // On walls a little aside is a lot in Z.
  return surface.height(axis, place.triangle) <= tip + tolerance / std::max(up, 0.05);
}

}  // namespace

double touchable_share(const TipSurface& surface, const TriangleSet& triangles, double tolerance_mm,
                       std::size_t samples) {
  require(tolerance_mm > 0, "tolerance_mm", "must be above 0");
  require(triangles.size() == surface.part().mesh().triangles.size(), "triangles",
          "must say of each triangle of the part whether it counts");
  const std::vector<Place> places = spread(surface.part().mesh(), triangles, samples);
  if (places.empty()) return 0;
  std::vector<std::uint8_t> touched(places.size());
  detail::parallel_for(places.size(),
                       [&](std::size_t i) { touched[i] = touches(surface, places[i], tolerance_mm); });
  std::size_t count = 0;
  for (const std::uint8_t yes : touched) count += yes;
  return static_cast<double>(count) / static_cast<double>(places.size());
}

}  // namespace yardpass
