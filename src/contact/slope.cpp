#include "yardpass/contact/slope.h"

#include <algorithm>
#include <cmath>

namespace yardpass {

namespace {

/// Whether the profile has a corner at this radius: its rim, or where two pieces meet at an angle.
bool is_corner(const Profile& profile, double r) {
  constexpr double kNear = 1e-9;
  if (r >= profile.radius() - kNear) return true;
  const auto pieces = profile.pieces();
  for (std::size_t i = 0; i + 1 < pieces.size(); ++i)
    if (std::abs(r - pieces[i].r1) < kNear && pieces[i + 1].slope0 > pieces[i].slope1 + 1e-9) return true;
  return false;
}

/// The edge of the triangle that the point lies on.
Vec3 edge_through(const Mesh& mesh, std::size_t triangle, const Vec3& point) {
  Vec3 best = Vec3::Zero();
  double least = 1e300;
  for (int k = 0; k < 3; ++k) {
    const Vec3 &a = mesh.corner(triangle, k), &b = mesh.corner(triangle, (k + 1) % 3);
    const double off = (point - nearest_on_segment(point, a, b)).norm();
    if (off < least) least = off, best = b - a;
  }
  return best;
}

}  // namespace

Vec2 slope_at(const TipSurface& surface, const Vec2& place, const Touch& touch) {
  const Mesh& mesh = surface.part().mesh();
  const auto t = static_cast<std::size_t>(touch.triangle);
  if (touch.body > 0) {
    Touch own = touch;
    own.body = 0;
    return slope_at(surface.body(touch.body), place, own);
  }
  if (touch.feature == Feature::facet) {
    const Vec3 normal = (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0));
    if (normal.z() != 0) return -normal.head<2>() / normal.z();
  }
  const Profile& profile = surface.contact_profile(touch.triangle);
  const Vec2 out = plan(touch.point) - place;
  const double r = std::min(out.norm(), profile.radius());
  if (!(r > 0)) return {0, 0};
  if (touch.feature == Feature::edge && is_corner(profile, r)) {
    // The touch stays at this radius of the cutter and slides along the edge as the place moves.
    const Vec3 edge = edge_through(mesh, t, touch.point);
    const double along = out.dot(plan(edge));
    if (std::abs(along) > 1e-12 * r * edge.norm()) return out * (edge.z() / along);
  }
  return out * (profile.slope(r) / r);
}

Vec3 surface_normal(const Vec2& slope) { return Vec3(-slope.x(), -slope.y(), 1).normalized(); }

}  // namespace yardpass
