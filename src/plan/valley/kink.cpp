#include "plan/valley/kink.h"

#include <algorithm>
#include <cmath>

#include "yardpass/plan/valleys.h"

namespace yardpass::detail {

namespace {

constexpr double kClosed = 1e-5;   // mm: the bracket of a valley that is found
constexpr double kSteepest = 1.4;  // rad, of a valley that is followed: 80 degrees

/// Rise of the surface in a direction, as an angle.
double slope_angle(const Vec3& normal, const Vec2& way) {
  return std::atan2(-plan(normal).dot(way), std::max(1e-12, normal.z()));
}
double rise(const Vec3& normal, const Vec2& way) {
  return -plan(normal).dot(way) / std::max(1e-9, normal.z());
}

double angle_between(const Vec3& a, const Vec3& b) { return std::acos(std::clamp(a.dot(b), -1.0, 1.0)); }

}  // namespace

Vec2 ValleyPoint::direction() const {
  // Along the line in which the tangent planes of both sides meet.
  const Vec2 across = plan(one) * other.z() - plan(other) * one.z();
  const double size = across.norm();
  return size > 1e-12 ? Vec2(-across.y() / size, across.x() / size) : Vec2(0, 0);
}

double ValleyPoint::rise_angle(const Vec2& way) const {
  const Vec3 along = one.cross(other);
  const double run = plan(along).dot(way);
  return run == 0 ? 0 : std::atan2(along.z() * (run < 0 ? -1 : 1), std::abs(run));
}

bool goes_on(const ValleyPoint& from, const ValleyPoint& to) {
  constexpr double kNear = 0.02, kSlack = 0.26;  // mm, rad
  const Vec2 along = to.place - from.place;
  const double size = along.norm(), rise = to.height - from.height;
  if (std::hypot(size, rise) < kNear) return true;
  if (size < 1e-9) return false;
  const Vec2 way = along / size;
  const double chord = std::atan2(rise, size), a = from.rise_angle(way), b = to.rise_angle(way);
  return std::abs(chord) < kSteepest && chord > std::min(a, b) - kSlack && chord < std::max(a, b) + kSlack;
}

KinkFinder::KinkFinder(const TipSurface& surface, double left_mm)
    : surface_(surface),
      round_(round_end_mm(surface.cutter())),
      radius_(round_ + surface.allowance_mm()),
      left_(left_mm),
      // A sharp corner of this angle between its normals keeps just that much.
      least_angle_(2 * std::acos(std::clamp(radius_ / (radius_ + left_mm), 0.0, 1.0))) {}

Sounding KinkFinder::sound(const Vec2& place, std::int32_t near) const {
  touches_.fetch_add(1, std::memory_order_relaxed);
  const std::optional<Touch> touch = surface_.touch(place, near);
  if (!touch) return {place};
  return {place, touch->height, touch->normal, touch->triangle, true};
}

double KinkFinder::kink(const Sounding& a, const Sounding& b) {
  if (!a.touched || !b.touched) return -1;
  const Vec2 along = b.place - a.place;
  const double size = along.norm();
  if (size < 1e-13) return -1;  // no angle: 0 / 0
  const Vec2 way = along / size;
  const double chord = std::atan2(b.height - a.height, size);
  return std::max(chord - slope_angle(a.normal, way), slope_angle(b.normal, way) - chord);
}

std::optional<ValleyPoint> KinkFinder::close_in(Sounding a, Sounding b) const {
  constexpr int kRounds = 60;
  constexpr double kNear = 0.01;  // mm
  for (int round = 0; round < kRounds; ++round) {
    const Vec2 along = b.place - a.place;
    const double size = along.norm();
    if (size <= kClosed) break;
    // The curvature of round ground turns the normal too, but less and less: decided where it no longer does.
    if (size < kNear && angle_between(a.normal, b.normal) < least_angle_ &&
        std::abs(b.height - a.height) < 3 * size)
      return std::nullopt;
    const Vec2 way = along / size;
    const double rise_a = rise(a.normal, way), rise_b = rise(b.normal, way);
    // Where the tangents meet; plain halving now and then, for ground that is not as straight as that.
    double share = 0.5;
    bool by_tangents = false;
    if (round % 3 != 2 && rise_b - rise_a > 1e-9) {
      share = ((a.height - b.height) + rise_b * size) / ((rise_b - rise_a) * size);
      by_tangents = share > -1e-3 && share < 1 + 1e-3;
      if (!by_tangents) share = 0.5;
    }
    // Never on an end of the bracket itself.
    const double least = 0.3 * kClosed / size;
    share = std::clamp(share, std::min(0.5, least), std::max(0.5, 1 - least));
    if (by_tangents && round % 3 == 1) {
      const double about = std::max(least, 0.02 * std::min(share, 1 - share));
      const Sounding left = sound(a.place + std::max(0.0, share - about) * along, a.triangle),
                     right = sound(a.place + std::min(1.0, share + about) * along, b.triangle);
      const double before = kink(a, left), inside = kink(left, right), after = kink(right, b);
      if (inside >= before && inside >= after)
        a = left, b = right;
      else if (before >= after)
        b = left;
      else
        a = right;
      continue;
    }
    const Sounding middle = sound(a.place + share * along, share < 0.5 ? a.triangle : b.triangle);
    if (!middle.touched) return std::nullopt;
    (kink(a, middle) >= kink(middle, b) ? b : a) = middle;
  }
  return between(a, b);
}

/// Whether the two sides enclose material that the cutter leaves, and how much.
std::optional<ValleyPoint> KinkFinder::between(const Sounding& a, const Sounding& b) const {
  const double angle = angle_between(a.normal, b.normal);
  if (angle < least_angle_) return std::nullopt;
  ValleyPoint point{0.5 * (a.place + b.place), std::min(a.height, b.height), a.normal, b.normal};
  const Vec3 middle = (a.normal + b.normal).normalized();
  const double cosine = std::cos(0.5 * angle), apex = radius_ * (1 / cosine - 1);
  const Vec3 centre = with_z(point.place, std::min(a.height, b.height) + round_);
  const ContactPart& part = surface_.part();
  // The corner of both tangent planes lies in the part, or at it: else the cutter hangs between two rims.
  const Vec3 corner = centre - (radius_ + apex) * middle;
  const double to_corner = part.distance(corner, apex + left_);
  if (to_corner >= apex) return std::nullopt;
  // From the cutter's round to the part: sharp corners are nearest at their sides, fillets straight ahead.
  const double ahead = part.distance(centre - radius_ * middle, apex + left_);
  const double left = ahead / std::max(cosine, 0.05);
  point.left_mm = std::min(left, apex);
  if (ahead < left_ * cosine) return std::nullopt;
  return point;
}

std::optional<ValleyPoint> KinkFinder::across(const Vec2& place, const Vec2& along, double reach) const {
  const Vec2 side(-along.y(), along.x());
  const Sounding left = sound(place - reach * side), right = sound(place + reach * side, left.triangle);
  if (!left.touched || !right.touched || kink(left, right) <= 0) return std::nullopt;
  return close_in(left, right);
}

}  // namespace yardpass::detail
