#include "yardpass/curve/curve.h"

#include <limits>

namespace yardpass {

double length(const Curve& curve) {
  double sum = length(std::span<const Vec3>(curve.points));
  if (curve.closed && curve.points.size() > 1) sum += (curve.points.front() - curve.points.back()).norm();
  return sum;
}

Polyline2 in_plan(const Curve& curve) {
  Polyline2 line;
  line.reserve(curve.points.size());
  for (const Vec3& p : curve.points) line.push_back(plan(p));
  return line;
}

double distance_to(const Curve& curve, const Vec3& point) {
  double least = std::numeric_limits<double>::infinity();
  if (curve.points.size() == 1) least = (point - curve.points.front()).norm();
  const std::size_t n = curve.points.size();
  for (std::size_t i = 0; i + 1 < n + (curve.closed && n > 1); ++i)
    least = std::min(least, distance_to_segment(point, curve.points[i], curve.points[(i + 1) % n]));
  return least;
}

}  // namespace yardpass
