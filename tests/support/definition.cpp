#include "support/definition.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace yardpass::testing {

namespace {

constexpr double kNone = -std::numeric_limits<double>::infinity();

/// Greatest value of a unimodal function on [low, high].
template <typename F>
double greatest(double low, double high, const F& f) {
  double best = std::max(f(low), f(high));
  constexpr double kGolden = 0.3819660112501051;
  double a = low, b = high, x1 = a + kGolden * (b - a), x2 = b - kGolden * (b - a), f1 = f(x1), f2 = f(x2);
  for (int i = 0; i < 90; ++i) {
    best = std::max({best, f1, f2});
    if (f1 < f2)
      a = x1, x1 = x2, f1 = f2, x2 = b - kGolden * (b - a), f2 = f(x2);
    else
      b = x2, x2 = x1, f2 = f1, x1 = a + kGolden * (b - a), f1 = f(x1);
  }
  return best;
}

double height(const RoundedDisc& solid, double r) {
  const double over = r - solid.disc;
  if (over <= 0) return 0;
  return solid.corner - std::sqrt(std::max(0.0, solid.corner * solid.corner - over * over));
}

double over_line(const RoundedDisc& solid, const Vec2& place, const Vec3& a, const Vec3& b) {
  // The part of the line below the solid, from |a + t (b - a) - place|^2 = radius^2.
  const Vec2 from = a.head<2>() - place, along = b.head<2>() - a.head<2>();
  const double aa = along.squaredNorm(), ab = from.dot(along),
               cc = from.squaredNorm() - solid.radius() * solid.radius();
  double low = 0, high = 1;
  if (aa == 0) {
    if (cc > 0) return kNone;
  } else {
    const double root = ab * ab - aa * cc;
    if (root < 0) return kNone;
    low = std::max(low, (-ab - std::sqrt(root)) / aa);
    high = std::min(high, (-ab + std::sqrt(root)) / aa);
    if (low > high) return kNone;
  }
  return greatest(low, high, [&](double t) {
    const Vec3 p = a + t * (b - a);
    return p.z() - height(solid, (p.head<2>() - place).norm());
  });
}

}  // namespace

RoundedDisc RoundedDisc::grown(double by) const {
  if (by >= 0 || corner + by >= 0) return {disc, corner + by, tip_z - by};
  return {disc + (corner + by), 0, tip_z - by};
}

double stand_off(const RoundedDisc& solid, const Vec2& place, const Vec3& a, const Vec3& b, const Vec3& c) {
  const double along_edges =
      std::max({over_line(solid, place, a, b), over_line(solid, place, b, c), over_line(solid, place, c, a)});
  const Vec3 normal = (b - a).cross(c - a);
  const double longest =
      std::max({(b - a).head<2>().norm(), (c - a).head<2>().norm(), (c - b).head<2>().norm()});
  if (std::abs(normal.z()) <= 1e-9 * longest) return along_edges - solid.tip_z;  // seen on edge
  // Slices x = const of triangle and disc; infeasible slices get a value that only rises towards feasible
  // ones.
  const double radius = solid.radius();
  const double low_x = std::max(std::min({a.x(), b.x(), c.x()}), place.x() - radius);
  const double high_x = std::min(std::max({a.x(), b.x(), c.x()}), place.x() + radius);
  if (low_x > high_x) return along_edges - solid.tip_z;
  const Vec3* corners[] = {&a, &b, &c};
  const double inside = greatest(low_x, high_x, [&](double x) {
    double low = 1e300, high = -1e300;
    for (int k = 0; k < 3; ++k) {
      const Vec3 &p = *corners[k], &q = *corners[(k + 1) % 3];
      if (std::min(p.x(), q.x()) > x || std::max(p.x(), q.x()) < x) continue;
      const double y = p.x() == q.x() ? p.y() : p.y() + (x - p.x()) / (q.x() - p.x()) * (q.y() - p.y());
      low = std::min(low, y), high = std::max(high, y);
      if (p.x() == q.x()) low = std::min(low, q.y()), high = std::max(high, q.y());
    }
    const double half = std::sqrt(std::max(0.0, radius * radius - (x - place.x()) * (x - place.x())));
    const double from = std::max(low, place.y() - half), to = std::min(high, place.y() + half);
    if (from > to) return -1e9 - 1e6 * (from - to);
    return greatest(from, to, [&](double y) {
      const double z = a.z() - (normal.x() * (x - a.x()) + normal.y() * (y - a.y())) / normal.z();
      return z - height(solid, std::hypot(x - place.x(), y - place.y()));
    });
  });
  return (inside > -1e8 ? std::max(inside, along_edges) : along_edges) - solid.tip_z;
}

double stand_off(const RoundedDisc& solid, const Vec2& place, const Mesh& mesh) {
  double highest = kNone;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i)
    highest =
        std::max(highest, stand_off(solid, place, mesh.corner(i, 0), mesh.corner(i, 1), mesh.corner(i, 2)));
  return highest;
}

double segment_to_mesh(const Vec3& a, const Vec3& b, const Mesh& mesh) {
  double least = 1e300;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Vec3 &p = mesh.corner(i, 0), &q = mesh.corner(i, 1), &r = mesh.corner(i, 2);
    // Distance is convex in the three parameters: minus the distance is concave, searched one inside the
    // other.
    const double d = -greatest(0, 1, [&](double t) {
      const Vec3 s = a + t * (b - a);
      return greatest(0, 1, [&](double u) {
        const Vec3 from = p + u * (q - p), to = p + u * (r - p);
        const Vec3 along = to - from;
        const double v =
            along.squaredNorm() > 0 ? std::clamp((s - from).dot(along) / along.squaredNorm(), 0.0, 1.0) : 0.0;
        return -(s - (from + v * along)).norm();
      });
    });
    least = std::min(least, d);
  }
  return least;
}

}  // namespace yardpass::testing
