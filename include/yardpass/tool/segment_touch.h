/// A cutter over a straight line: the formula under contact with edges and under swept moves.
#pragma once

#include <algorithm>
#include <cmath>
#include <limits>

#include "yardpass/geom/vec.h"
#include "yardpass/tool/profile.h"

namespace yardpass {

/// The best place of a cutter over a straight line in space.
struct LineTouch {
  double height = -std::numeric_limits<double>::infinity();
  double share = 0;  ///< along the line; 0 at p, 1 at q
};

/// Highest tip Z at which a cutter whose axis stands at `axis` meets the segment p-q.
/// The height over the segment is concave: at the place where the section of the cutter has the segment's
/// slope, or at the nearest end of what lies below the cutter.
inline LineTouch touch_segment(const Profile& cutter, const Vec2& axis, const Vec3& p, const Vec3& q,
                               double wanted = -std::numeric_limits<double>::infinity()) {
  const Vec2 along = plan(q) - plan(p), to_p = plan(p) - axis;
  const double radius = cutter.radius(), length = along.norm();
  LineTouch result;
  if (length < 1e-12) {  // straight up, or no length: its upper end
    const bool upper_q = q.z() > p.z();
    const double far = upper_q ? (plan(q) - axis).norm() : to_p.norm();
    if (far > radius) return result;
    return {(upper_q ? q.z() : p.z()) - cutter.height(far), upper_q ? 1.0 : 0.0};
  }
  const Vec2 unit = along / length;
  const double offset = std::abs(cross2(unit, to_p));
  if (offset > radius) return result;
  const double half = std::sqrt((radius - offset) * (radius + offset));
  const double start = to_p.dot(unit), end = start + length;
  const double low = std::max(start, -half), high = std::min(end, half);
  if (low > high) return result;
  const double slope = (q.z() - p.z()) / length;
  if (cutter.is_ball()) {
    const double highest = p.z() + slope * ((slope > 0 ? high : low) - start);
    if (highest + 1e-9 - cutter.height(offset) < wanted) return result;
  } else if (wanted > -1e300) {
    // Cheaper than the touch itself: the height is concave along the line, so it lies below its tangent at
    // any place.
    const double out = std::max(cutter.radius_at_slope(std::abs(slope)), offset);
    const double guess =
        std::clamp(std::copysign(std::sqrt((out - offset) * (out + offset)), slope), low, high);
    const double at = std::min(std::sqrt(offset * offset + guess * guess), radius);
    const double rise = slope - (at > 0 ? cutter.slope(at) * guess / at : 0.0);
    const double bound =
        p.z() + slope * (guess - start) - cutter.height(at) + rise * ((rise > 0 ? high : low) - guess);
    if (bound + 1e-9 * (1 + std::abs(bound)) < wanted) return result;
  }
  const double s = std::clamp(cutter.along_at_slope(offset, slope), low, high);
  const double share = std::clamp((s - start) / length, 0.0, 1.0);
  const double r = std::min(std::sqrt(offset * offset + s * s), radius);
  // Never above the ends, not by a rounding either: who asks may leave out what no end reaches.
  const double z = std::min(p.z() + share * (q.z() - p.z()), std::max(p.z(), q.z()));
  return {z - cutter.height(r), share};
}

/// The lowest point of the space swept by the cutter while its tip runs straight from a to b, on the vertical
/// line at `place`; infinite if the cutter does not pass there. This is standing over the mirrored move: both
/// look for the extreme of z(move) + height(distance).
inline double swept_height(const Profile& cutter, const Vec2& place, const Vec3& a, const Vec3& b) {
  return -touch_segment(cutter, place, {a.x(), a.y(), -a.z()}, {b.x(), b.y(), -b.z()}).height;
}

}  // namespace yardpass
