#include "link/fit_arcs.h"

#include <algorithm>
#include <cmath>

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

namespace {

constexpr double kWidest = 5;  // times the play: how far off along the surface

/// How far off a point may be in a direction of length 1.
double play_in(const SmoothPoint& point, const Vec3& direction, double play) {
  if (!point.rests || point.normal.isZero()) return play;
  return play / std::max(std::abs(point.normal.dot(direction)), 1 / kWidest);
}

/// The line passes each point near enough, and one after the other.
bool line_fits(const Vec3& from, const Vec3& to, std::span<const SmoothPoint> between, double play) {
  const Vec3 way = to - from;
  const double size = way.norm();
  if (!(size > 0)) return false;
  const Vec3 along = way / size;
  double reached = 0;
  for (const SmoothPoint& point : between) {
    const Vec3 rel = point.at - from;
    const double at = rel.dot(along);
    if (at < reached - play || at > size + play) return false;
    reached = std::max(reached, at);
    const Vec3 off = rel - std::clamp(at, 0.0, size) * along;
    const double distance = off.norm();
    if (distance > play && distance > play_in(point, off / distance, play)) return false;
  }
  return true;
}

/// Signed curvature of the circle from a to b by way of p, turning left: positive.
double curvature(const Vec2& a, const Vec2& b, const Vec2& p) {
  const double sizes = (p - a).norm() * (b - p).norm() * (b - a).norm();
  return sizes > 0 ? 2 * cross2(p - a, b - a) / sizes : 0;
}

/// In one plane: the ends are given, one number is left, and each point allows an interval of it.
class PlaneFit {
 public:
  PlaneFit(const Vec3& from, const Vec3& to, ArcPlane plane, double play)
      : plane_(plane),
        axes_(axes_of(plane)),
        from_(from),
        to_(to),
        a_(in_plane(from)),
        b_(in_plane(to)),
        play_(play),
        chord_((b_ - a_).norm()) {}

  std::optional<Arc> run(std::span<const SmoothPoint> between) {
    constexpr double kLeast = 1e-4, kLongest = 1.8;  // curvature a millimetre; chord in radii
    if (chord_ < 0.5 * (to_ - from_).norm() || !(chord_ > 0)) return std::nullopt;
    along_ = (b_ - a_) / chord_;
    left_ = Vec2(-along_.y(), along_.x());
    double low = -1e9, high = 1e9, reached = 0;
    for (const SmoothPoint& point : between) {
      const Vec2 p = in_plane(point.at);
      const double at = (p - a_).dot(along_);
      if (at < reached - 1e-9 || at > chord_ + 1e-9) return std::nullopt;
      reached = at;
      const double play = play_in(point, in_space(left_), play_);
      if (at < play || at > chord_ - play) {
        if (std::abs((p - a_).dot(left_)) > 2 * play) return std::nullopt;
        continue;
      }
      const double one = curvature(a_, b_, p + play * left_), other = curvature(a_, b_, p - play * left_);
      low = std::max(low, std::min(one, other)), high = std::min(high, std::max(one, other));
      if (low > high) return std::nullopt;
    }
    if (low < -1e8) return std::nullopt;
    const double k = 0.5 * (low + high);
    if (std::abs(k) * chord_ > kLongest || std::abs(k) < kLeast) return std::nullopt;
    const Arc arc = arc_of(k);
    return runs_evenly(arc, between) ? std::optional(arc) : std::nullopt;
  }

 private:
  [[nodiscard]] Vec2 in_plane(const Vec3& p) const { return {p[axes_.first], p[axes_.second]}; }
  [[nodiscard]] Vec3 in_space(const Vec2& v) const {
    Vec3 result = Vec3::Zero();
    result[axes_.first] = v.x(), result[axes_.second] = v.y();
    return result;
  }

  [[nodiscard]] Arc arc_of(double k) const {
    const double radius = 1 / std::abs(k), half = chord_ / 2;
    const double height = std::sqrt(std::max(0.0, radius * radius - half * half));
    const Vec2 centre = (a_ + b_) / 2 + (k > 0 ? height : -height) * left_;
    Arc arc{from_, to_, from_, 2 * std::asin(std::clamp(k * half, -1.0, 1.0)), plane_};
    arc.centre[axes_.first] = centre.x(), arc.centre[axes_.second] = centre.y();
    return arc;
  }

  /// The third coordinate runs evenly with the angle, as a helix does.
  [[nodiscard]] bool runs_evenly(const Arc& arc, std::span<const SmoothPoint> between) const {
    const int axis = arc.axis();
    const Vec2 centre = in_plane(arc.centre), start = a_ - centre;
    for (const SmoothPoint& point : between) {
      const Vec2 here = in_plane(point.at) - centre;
      const double share = std::atan2(cross2(start, here), start.dot(here)) / arc.turn_rad;
      const double off = std::abs(point.at[axis] - (arc.start[axis] + share * arc.rise()));
      if (off > 1e-9 && off > 0.5 * play_in(point, Vec3::Unit(axis), play_)) return false;
    }
    return true;
  }

  ArcPlane plane_;
  PlaneAxes axes_;
  Vec3 from_, to_;
  Vec2 a_, b_;
  double play_, chord_;
  Vec2 along_{0, 0}, left_{0, 0};
};

}  // namespace

std::optional<Block> fit_block(const Vec3& from, const Vec3& to, std::span<const SmoothPoint> between,
                               double play_mm, const std::array<bool, 3>& planes, const PostedForm& form) {
  if (between.empty() || line_fits(from, to, between, play_mm)) return Block{from, to};
  for (const ArcPlane plane : {ArcPlane::xy, ArcPlane::zx, ArcPlane::yz}) {
    if (!planes[static_cast<std::size_t>(plane)]) continue;
    const std::optional<Arc> arc = PlaneFit(from, to, plane, play_mm).run(between);
    if (!arc) continue;
    if (std::optional<Arc> said = posted(*arc, form)) return Block{from, to, said};
  }
  return std::nullopt;
}

}  // namespace yardpass::detail
