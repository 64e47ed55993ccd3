#include "yardpass/part/measure.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "yardpass/geom/joints.h"

namespace yardpass {

namespace {

constexpr double kDegrees = 180 / std::numbers::pi;

SurfacePlace place_on(const Mesh& mesh, std::size_t triangle, const Vec3& at) {
  return {at, static_cast<std::int32_t>(triangle), unit_normal(mesh, triangle)};
}

}  // namespace

double SurfacePlace::slope_deg() const {
  return std::acos(std::clamp(std::abs(normal.z()), 0.0, 1.0)) * kDegrees;
}

std::optional<SurfacePlace> highest_at(const Mesh& mesh, const Vec2& place) {
  std::optional<SurfacePlace> best;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const Vec3 &a = mesh.corner(t, 0), &b = mesh.corner(t, 1), &c = mesh.corner(t, 2);
    const double wa = cross2(plan(b) - place, plan(c) - place), wb = cross2(plan(c) - place, plan(a) - place),
                 wc = cross2(plan(a) - place, plan(b) - place);
    const bool within = (wa >= 0 && wb >= 0 && wc >= 0) || (wa <= 0 && wb <= 0 && wc <= 0);
    const double sum = wa + wb + wc;
    if (!within || sum == 0) continue;  // upright triangles have neighbours that are not
    const double z = (wa * a.z() + wb * b.z() + wc * c.z()) / sum;
    if (!best || z > best->at.z()) best = place_on(mesh, t, with_z(place, z));
  }
  return best;
}

SurfacePlace nearest_to(const Mesh& mesh, const Vec3& point) {
  double least = INFINITY;
  std::size_t best = 0;
  Vec3 at = point;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const Vec3 near = nearest_on_triangle(point, mesh.corner(t, 0), mesh.corner(t, 1), mesh.corner(t, 2));
    const double distance = (near - point).squaredNorm();
    if (distance < least) least = distance, best = t, at = near;
  }
  return place_on(mesh, best, at);
}

Span span_between(const Vec3& from, const Vec3& to) {
  const Vec3 step = to - from;
  const double across = plan(step).norm();
  return {step.norm(), across, step.z(), across > 0 ? std::atan2(step.y(), step.x()) * kDegrees : 0,
          step.norm() > 0 ? std::atan2(step.z(), across) * kDegrees : 0};
}

std::optional<CircleThrough> circle_through(const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 u = b - a, v = c - a, w = u.cross(v);
  const double size = w.squaredNorm();
  if (!(size > 1e-18 * u.squaredNorm() * v.squaredNorm())) return std::nullopt;
  const Vec3 to_centre = (u.squaredNorm() * v.cross(w) + v.squaredNorm() * w.cross(u)) / (2 * size);
  return CircleThrough{a + to_centre, to_centre.norm(), w / std::sqrt(size)};
}

}  // namespace yardpass
