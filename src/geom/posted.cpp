#include "yardpass/geom/posted.h"

#include <cmath>
#include <numbers>

namespace yardpass {

namespace {

double to_steps(double value, double step) { return std::round(value / step) * step; }

/// From the middle of the way between the ends to the centre of a circle of this radius, to the left of the
/// way for less than half a turn counter-clockwise.
std::optional<Vec2> centre_by_radius(const Vec2& way, double radius, bool counter_clockwise) {
  const double half = way.norm() / 2;
  if (!(half > 0) || radius < half) return std::nullopt;
  const Vec2 left(-way.y() / (2 * half), way.x() / (2 * half));
  return Vec2((counter_clockwise ? 1 : -1) * std::sqrt(radius * radius - half * half) * left);
}

}  // namespace

Vec3 posted(const Vec3& place, double step_mm) {
  return {to_steps(place.x(), step_mm), to_steps(place.y(), step_mm), to_steps(place.z(), step_mm)};
}

std::optional<Arc> posted(const Arc& arc, const PostedForm& form) {
  const double step = form.step_mm;
  const auto [first, second] = axes_of(arc.plane);
  const auto in_plane = [f = first, s = second](const Vec3& p) { return Vec2(p[f], p[s]); };
  Arc result = arc;
  result.start = posted(arc.start, step), result.end = posted(arc.end, step);
  const bool left = arc.turn_rad > 0;
  const Vec2 way = in_plane(result.end) - in_plane(result.start);
  if (way.norm() < 10 * step && std::abs(arc.turn_rad) < std::numbers::pi) return std::nullopt;
  Vec2 to_centre = in_plane(arc.centre) - in_plane(arc.start);
  if (form.arcs_by_radius) {
    if (std::abs(arc.turn_rad) > 0.95 * std::numbers::pi) return std::nullopt;
    double radius = to_steps(to_centre.norm(), step);
    if (radius < way.norm() / 2) radius += step;
    const auto from_middle = centre_by_radius(way, radius, left);
    if (!from_middle) return std::nullopt;
    to_centre = way / 2 + *from_middle;
  } else {
    to_centre = {to_steps(to_centre.x(), step), to_steps(to_centre.y(), step)};
  }
  if (!(to_centre.norm() > step)) return std::nullopt;
  result.centre = result.start;
  result.centre[first] += to_centre.x(), result.centre[second] += to_centre.y();
  const Vec2 from = -to_centre, to = way - to_centre;
  double turn = way.norm() == 0 ? 0 : std::atan2(cross2(from, to), from.dot(to));
  if (left && turn <= 0) turn += 2 * std::numbers::pi;
  if (!left && turn >= 0) turn -= 2 * std::numbers::pi;
  result.turn_rad = turn;
  if ((result.at(0.5) - arc.at(0.5)).norm() > 2 * step) return std::nullopt;
  return result;
}

}  // namespace yardpass
