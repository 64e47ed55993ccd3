// Where a ball that moves level just touches a triangle.
#pragma once

#include <cmath>
#include <limits>

#include "yardpass/geom/region.h"
#include "yardpass/geom/vec.h"

namespace yardpass::detail {

/// The places of a line in plan, by distance from its start, at which a ball just touches a triangle. Every
/// such place of a facet, an edge or a corner lies where the ball touches or enters the triangle, and the
/// ends of the piece are among them: so the piece runs from the least to the greatest.
class BallEnds {
 public:
  BallEnds(double radius, const Vec2& start, const Vec2& unit, double length, double z)
      : radius_(radius), start_(start), unit_(unit), length_(length), z_(z) {}

  void over(const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3* corners[] = {&a, &b, &c};
    for (int k = 0; k < 3; ++k) corner(*corners[k]), edge(*corners[k], *corners[(k + 1) % 3]);
    facet(a, b, c);
  }
  void take(double at) { low_ = std::min(low_, at), high_ = std::max(high_, at); }
  double low_ = std::numeric_limits<double>::infinity(), high_ = -low_;

 private:
  void candidate(double at) {
    if (at >= 0 && at <= length_) take(at);
  }

  void corner(const Vec3& p) {
    const double over = p.z() - z_;
    if (over <= 0) return;
    const double reach2 = over >= radius_ ? radius_ * radius_ : over * (2 * radius_ - over);
    const Vec2 to = plan(p) - start_;
    const double off = cross2(unit_, to), half2 = reach2 - off * off;
    if (half2 < 0) return;
    candidate(to.dot(unit_) - std::sqrt(half2)), candidate(to.dot(unit_) + std::sqrt(half2));
  }

  /// Inside an edge of slope m: with the axis at s along it and d beside it, the tip stands at
  /// z0 + m s + w sqrt(R^2 - d^2) - R, and touches at s + m sqrt(R^2 - d^2) / w. Both s and d are linear
  /// along the line.
  void edge(const Vec3& p, const Vec3& q) {
    const Vec2 along = plan(q) - plan(p);
    const double length = along.norm();
    if (length < 1e-12) return;
    const Vec2 e = along / length, from = start_ - plan(p);
    const double m = (q.z() - p.z()) / length, w2 = 1 + m * m;
    const double s0 = from.dot(e), s1 = unit_.dot(e), d0 = cross2(e, from), d1 = cross2(e, unit_);
    // w sqrt(R^2 - d^2) = k0 + k1 t
    const double k0 = z_ + radius_ - p.z() - m * s0, k1 = -m * s1;
    roots(w2 * d1 * d1 + k1 * k1, w2 * d0 * d1 + k0 * k1, w2 * (d0 * d0 - radius_ * radius_) + k0 * k0,
          [&](double t) {
            const double d = d0 + t * d1, side2 = radius_ * radius_ - d * d;
            if (side2 < 0 || k0 + k1 * t < 0) return;
            const double touch = s0 + t * s1 + m * std::sqrt(side2 / w2);
            if (touch >= 0 && touch <= length) candidate(t);
          });
    // The ball's equator beside a steep edge.
    roots(d1 * d1, d0 * d1, d0 * d0 - radius_ * radius_, [&](double t) {
      const double s = s0 + t * s1;
      if (s >= 0 && s <= length && p.z() + m * s - radius_ > z_) candidate(t);
    });
  }

  void facet(const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 u = b - a, v = c - a, normal = u.cross(v);
    if (std::abs(normal.z()) < 1e-9 * normal.norm()) return;
    const Vec2 slope = -normal.head<2>() / normal.z();
    const double w = std::sqrt(1 + slope.squaredNorm()), climb = slope.dot(unit_);
    if (climb == 0) return;
    const double t = (z_ - (a.z() + slope.dot(start_ - plan(a)) + radius_ * (w - 1))) / climb;
    const Vec2 at = start_ + t * unit_ + slope * (radius_ / w) - plan(a);
    const double share_u = cross2(at, plan(v)) / normal.z(), share_v = cross2(plan(u), at) / normal.z();
    if (share_u >= 0 && share_v >= 0 && share_u + share_v <= 1) candidate(t);
  }

  /// Real roots of a t^2 + 2 b t + c.
  template <typename Take>
  static void roots(double a, double b, double c, const Take& take) {
    const double square = b * b - a * c;
    if (a == 0 || square < 0) return;
    const double q = -(b + std::copysign(std::sqrt(square), b));
    take(q / a);
    if (q != 0) take(c / q);
  }

  double radius_;
  Vec2 start_, unit_;
  double length_, z_;
};

}  // namespace yardpass::detail
