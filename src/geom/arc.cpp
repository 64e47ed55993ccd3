#include "yardpass/geom/arc.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

/// From the axis to a point, within the plane.
Vec3 across(const Arc& arc, const Vec3& point) {
  Vec3 from = point - arc.centre;
  from[arc.axis()] = 0;
  return from;
}

Vec3 turned(const Arc& arc, const Vec3& v, double angle) {
  return Eigen::AngleAxisd(angle, Vec3::Unit(arc.axis())) * v;
}

}  // namespace

Arc Arc::in_plan(const Vec3& start, const Vec2& centre, double turn_rad, double end_z) {
  Arc arc{start, start, with_z(centre, start.z()), turn_rad, ArcPlane::xy};
  arc.end = arc.centre + turned(arc, across(arc, start), turn_rad);
  arc.end.z() = end_z;
  return arc;
}

PlaneAxes axes_of(ArcPlane plane) {
  if (plane == ArcPlane::xy) return {0, 1};
  if (plane == ArcPlane::zx) return {2, 0};
  return {1, 2};
}

int Arc::axis() const { return plane == ArcPlane::xy ? 2 : plane == ArcPlane::zx ? 1 : 0; }

double Arc::start_radius() const { return across(*this, start).norm(); }

double Arc::end_radius() const { return across(*this, end).norm(); }

double Arc::rise() const { return end[axis()] - start[axis()]; }

double Arc::length() const {
  const double around = 0.5 * (start_radius() + end_radius()) * turn_rad;
  return std::hypot(around, end_radius() - start_radius(), rise());
}

Vec3 Arc::at(double share) const {
  if (share <= 0) return start;
  if (share >= 1) return end;
  const Vec3 from = across(*this, start);
  const double radius = from.norm(), here = radius + share * (end_radius() - radius);
  Vec3 point = centre + turned(*this, from, share * turn_rad) * (radius > 0 ? here / radius : 0.0);
  point[axis()] = start[axis()] + share * rise();
  return point;
}

Vec3 Arc::direction(double share) const {
  const Vec3 from = across(*this, start);
  const double radius = from.norm(), grows = end_radius() - radius;
  const Vec3 out = turned(*this, from, share * turn_rad) / std::max(radius, 1e-300);
  Vec3 way = grows * out + (radius + share * grows) * turn_rad * Vec3::Unit(axis()).cross(out);
  way[axis()] = rise();
  const double length = way.norm();
  return length > 0 ? Vec3(way / length) : Vec3(0, 0, 0);
}

Box3 Arc::box() const {
  Box3 result(start);
  result.extend(end);
  const PlaneAxes axes = axes_of(plane);
  const Vec3 from = across(*this, start);
  const double first = std::atan2(from[axes.second], from[axes.first]),
               radius = std::max(start_radius(), end_radius()), quarter = 0.5 * std::numbers::pi;
  const double low = std::min(first, first + turn_rad), high = std::max(first, first + turn_rad);
  // Its farthest points lie where it runs along one of the two coordinates.
  for (double k = std::ceil(low / quarter); k <= high / quarter && k < low / quarter + 4; ++k) {
    Vec3 farthest = start;
    farthest[axes.first] = centre[axes.first] + radius * std::cos(k * quarter);
    farthest[axes.second] = centre[axes.second] + radius * std::sin(k * quarter);
    result.extend(farthest);
  }
  return result;
}

std::vector<Vec3> chord_points(const Arc& arc, double sagitta_mm) {
  if (!(sagitta_mm > 0)) throw Error("the sagitta of an arc must be above 0");
  const double radius = std::max(arc.start_radius(), arc.end_radius()), turn = std::abs(arc.turn_rad);
  // A chord over the angle 2 h has the sagitta radius (1 - cos h); a radius that runs adds at most its change
  // over one chord times h.
  const double wanted = 0.9 * sagitta_mm;
  const double half = wanted < radius ? std::acos(1 - wanted / radius) : 1.5;
  const double grows = std::abs(arc.end_radius() - arc.start_radius());
  auto chords = std::max(1.0, std::ceil(turn / (2 * half)));
  chords = std::max(chords, std::ceil(std::sqrt(0.5 * grows * turn / (0.1 * sagitta_mm))));
  std::vector<Vec3> points;
  points.reserve(static_cast<std::size_t>(chords) + 1);
  for (std::size_t i = 0; i <= static_cast<std::size_t>(chords); ++i)
    points.push_back(arc.at(static_cast<double>(i) / chords));
  return points;
}

}  // namespace yardpass
