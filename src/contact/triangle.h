// Contact of one cutter profile with one triangle: facet, edges, corners; standing and moving. All of it
// scalar and without shortcuts: this is the one place where heights come from.
#pragma once

#include <algorithm>
#include <cmath>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/tool/segment_touch.h"

namespace yardpass::detail {

struct Corners {
  Vec3 p[3];
  [[nodiscard]] double top() const { return std::max({p[0].z(), p[1].z(), p[2].z()}); }
};

/// Edges are walked in one direction whichever triangle they are seen from, so that both give the same bits.
inline bool in_order(const Vec3& a, const Vec3& b) {
  if (a.x() != b.x()) return a.x() < b.x();
  if (a.y() != b.y()) return a.y() < b.y();
  return a.z() <= b.z();
}

inline LineTouch touch_edge(const Profile& cutter, const Vec2& axis, const Vec3& a, const Vec3& b,
                            double wanted) {
  if (in_order(a, b)) return touch_segment(cutter, axis, a, b, wanted);
  LineTouch touch = touch_segment(cutter, axis, b, a, wanted);
  touch.share = 1 - touch.share;
  return touch;
}

inline constexpr double kThin = 1e-10;  // [mm]
inline constexpr double kEdgeSlack = 1e-9;

struct TriangleTouch {
  double height = kNothingBelow;
  Feature feature = Feature::facet;
  Vec3 point = Vec3::Zero();
};

/// Highest tip Z at which the cutter meets the triangle, kNothingBelow if never. Edges that cannot reach
/// `wanted` may be left out: then the result may be lower than the true height, but only below `wanted`.
inline TriangleTouch touch_triangle(const Profile& cutter, const Vec2& axis, const Corners& t,
                                    double wanted = kNothingBelow) {
  TriangleTouch best;
  bool outside[3] = {true, true, true};  // of edge 0-1, 1-2, 2-0
  const Vec3 u = t.p[1] - t.p[0], v = t.p[2] - t.p[0];
  const Vec3 normal = u.cross(v);
  const double area = normal.z();
  const double longest2 =
      std::max({plan(u).squaredNorm(), plan(v).squaredNorm(), (plan(v) - plan(u)).squaredNorm()});
  // The facet: touched where the cutter has the facet's slope. Facing does not matter: only the slope does.
  // Seen from above narrower than kThin, it hides no more than kThin behind its edges.
  if (area * area > kThin * kThin * longest2) {
    const Vec2 slope = -normal.head<2>() / area;
    const double m = slope.norm();
    const double r = cutter.radius_at_slope(m);
    const Vec2 out = m > 0 ? Vec2(slope * (r / m)) : Vec2(0, 0);
    const Vec2 q = axis + out - plan(t.p[0]);
    const double per_area = 1 / area;
    double share_u = cross2(q, plan(v)) * per_area, share_v = cross2(plan(u), q) * per_area;
    if (std::abs(area) < 1e-4 * longest2) {
      // Needles: one step of refinement, or the shares name a point beside q.
      const Vec2 off = q - share_u * plan(u) - share_v * plan(v);
      share_u += cross2(off, plan(v)) * per_area;
      share_v += cross2(plan(u), off) * per_area;
    }
    outside[0] = share_v<0, outside[1] = share_u + share_v> 1, outside[2] = share_u < 0;
    if (!outside[0] && !outside[1] && !outside[2]) {
      // Almost vertical facets: their Z is ill-posed, but never outside the range of the corners.
      const double low = std::min({t.p[0].z(), t.p[1].z(), t.p[2].z()});
      const double high = std::max({t.p[0].z(), t.p[1].z(), t.p[2].z()});
      const double z = std::clamp(t.p[0].z() + share_u * u.z() + share_v * v.z(), low, high);
      best.height = z - cutter.height(r);
      best.point = with_z(axis + out, z);
      return best;  // the best over the whole plane, so edges cannot be better
    }
  }
  for (int k = 0; k < 3; ++k) {
    const Vec3 &a = t.p[k], &b = t.p[(k + 1) % 3];
    // From a place on another edge the way to the plane's best place leads through the triangle, and never
    // down: so the best of the triangle lies on an edge that the plane's best place is outside of.
    if (!outside[k]) continue;
    const double least = std::max(wanted, best.height) - kEdgeSlack;
    if (std::max(a.z(), b.z()) < least) continue;
    const LineTouch touch = touch_edge(cutter, axis, a, b, least);
    if (touch.height <= best.height) continue;
    best.height = touch.height;
    const bool corner = touch.share <= 0 || touch.share >= 1;
    best.feature = corner ? Feature::corner : Feature::edge;
    best.point = touch.share >= 1 ? b : Vec3(a + touch.share * (b - a));
  }
  return best;
}

/// Room of a straight move of the tip above a feature, and where along the move.
struct MoveRoom {
  double room = std::numeric_limits<double>::infinity();
  double share = 0;
  void take(const MoveRoom& other) {
    if (other.room < room) *this = other;
  }
};

/// Moving over a corner is standing over the mirrored move: both measure z(move) + height(distance) -
/// z(corner).
inline MoveRoom room_over_corner(const Profile& cutter, const Vec3& a, const Vec3& b, const Vec3& corner) {
  const Vec3 down_a(a.x(), a.y(), -a.z()), down_b(b.x(), b.y(), -b.z());
  const LineTouch touch = touch_segment(cutter, plan(corner), down_a, down_b);
  return {-touch.height - corner.z(), touch.share};
}

/// The inside of both segments: with u the axis seen from the edge's point, z(move) - z(edge) is linear in u
/// and height(|u|) convex, so the least sum is where the cutter has that linear slope. Where this lies
/// outside either segment, an end of the move or a corner of the edge is nearer, and those are measured on
/// their own.
inline MoveRoom room_over_edge(const Profile& cutter, const Vec3& a, const Vec3& b, const Vec3& e0,
                               const Vec3& e1) {
  const Vec2 move = plan(b) - plan(a), edge = plan(e1) - plan(e0);
  const double turn = cross2(move, edge);
  if (std::abs(turn) <= 1e-14 * move.norm() * edge.norm()) return {};
  const double climb = b.z() - a.z(), rise = e1.z() - e0.z();
  const Vec2 slope = (climb * Vec2(edge.y(), -edge.x()) - rise * Vec2(move.y(), -move.x())) / turn;
  const double m = slope.norm();
  const double r = cutter.radius_at_slope(m);
  const Vec2 u = m > 0 ? Vec2(slope * (-r / m)) : Vec2(0, 0);
  const Vec2 from_start = u - (plan(a) - plan(e0));
  const double t = cross2(from_start, edge) / turn, s = cross2(from_start, move) / turn;
  if (t < 0 || t > 1 || s < 0 || s > 1) return {};
  return {a.z() + t * climb - (e0.z() + s * rise) + cutter.height(r), t};
}

/// No room over the triangle is less than this, in computed numbers too. Of equals the first triangle counts,
/// and on a level face all that lie under the cutter are equal: this tells them apart from better ones
/// quickly.
inline double least_room(const Vec3& a, const Vec3& b, const Corners& t) {
  return std::min(a.z(), b.z()) - t.top();
}

/// Least room of the move over the whole triangle.
inline MoveRoom room_over_triangle(const Profile& cutter, const Vec3& a, const Vec3& b, const Corners& t) {
  MoveRoom best{a.z() - touch_triangle(cutter, plan(a), t).height, 0};
  best.take({b.z() - touch_triangle(cutter, plan(b), t).height, 1});
  for (int k = 0; k < 3; ++k) {
    best.take(room_over_corner(cutter, a, b, t.p[k]));
    const Vec3 &e0 = t.p[k], &e1 = t.p[(k + 1) % 3];
    best.take(in_order(e0, e1) ? room_over_edge(cutter, a, b, e0, e1) : room_over_edge(cutter, a, b, e1, e0));
  }
  best.room = std::max(best.room, least_room(a, b, t));
  return best;
}

}  // namespace yardpass::detail
