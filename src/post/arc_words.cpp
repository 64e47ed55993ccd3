#include "post/arc_words.h"

#include <cmath>
#include <cstdio>
#include <numbers>
#include <string>

#include "yardpass/geom/error.h"

namespace yardpass::detail {

namespace {

std::string millimetres(double value) {
  char text[32];
  std::snprintf(text, sizeof text, "%.4f mm", value);
  return text;
}

Vec2 centre_by_radius(const Vec2& way, double radius, bool clockwise) {
  const double half = way.norm() / 2;
  if (half == 0)
    throw Error("an arc by its radius R must end elsewhere than it starts; a full circle needs I, J or K");
  if (std::abs(radius) < half - kArcMismatch)
    throw Error("the radius R is too small: half the way is " + millimetres(half));
  const double height = std::sqrt(std::max(0.0, radius * radius - half * half));
  // Less than half a turn, counter-clockwise: the centre lies to the left of the way.
  const bool left = (radius > 0) != clockwise;
  const Vec2 across(-way.y() / (2 * half), way.x() / (2 * half));
  return way / 2 + (left ? 1 : -1) * height * across;
}

}  // namespace

Arc arc_of(const Vec3& start, const Vec3& end, ArcPlane plane, bool clockwise, const ArcWords& words) {
  const PlaneAxes axes = axes_of(plane);
  const int across = 3 - axes.first - axes.second;
  const bool by_centre = words.offset[0] || words.offset[1] || words.offset[2];
  if (by_centre && words.radius) throw Error("an arc has either R or I, J, K");
  if (!by_centre && !words.radius) throw Error("an arc needs its axis (I, J, K) or its radius (R)");
  if (words.offset[static_cast<std::size_t>(across)])
    throw Error(std::string(1, "IJK"[across]) +
                " does not belong to an arc in this plane (G17: I J, G18: I K, G19: J K)");
  const Vec2 way(end[axes.first] - start[axes.first], end[axes.second] - start[axes.second]);
  const Vec2 to_centre = by_centre ? Vec2(words.offset[static_cast<std::size_t>(axes.first)].value_or(0),
                                          words.offset[static_cast<std::size_t>(axes.second)].value_or(0))
                                   : centre_by_radius(way, *words.radius, clockwise);
  const double radius = to_centre.norm(), end_radius = (way - to_centre).norm();
  if (!(radius > 1e-6)) throw Error("an arc without a radius");
  if (std::abs(end_radius - radius) > kArcMismatch)
    throw Error("the arc does not end on its circle: " + millimetres(std::abs(end_radius - radius)) +
                " off, at most " + millimetres(kArcMismatch));
  Arc arc{start, end, start, 0, plane};
  arc.centre[axes.first] += to_centre.x();
  arc.centre[axes.second] += to_centre.y();
  const Vec2 from = -to_centre, to = way - to_centre;
  double turn = way.norm() == 0 ? 0 : std::atan2(cross2(from, to), from.dot(to));
  if (!clockwise && turn <= 0) turn += 2 * std::numbers::pi;
  if (clockwise && turn >= 0) turn -= 2 * std::numbers::pi;
  arc.turn_rad = turn;
  return arc;
}

}  // namespace yardpass::detail
