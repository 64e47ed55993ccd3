#include "builder.h"

#include <cmath>
#include <numbers>

#include "triangulate.h"

namespace yardpass::demo {

constexpr double kPi = std::numbers::pi;

Polyline2 circle(const Vec2& centre, double radius, int corners) {
  Polyline2 loop;
  for (int i = 0; i < corners; ++i) {
    const double angle = 2 * kPi * i / corners;
    loop.push_back(centre + radius * Vec2(std::cos(angle), std::sin(angle)));
  }
  return loop;
}

Polyline2 rounded_rectangle(double length, double width, double corner_radius) {
  Polyline2 loop;
  const int steps = 16;
  for (int corner = 0; corner < 4; ++corner) {
    const double sx = corner == 0 || corner == 3 ? 1 : -1, sy = corner < 2 ? 1 : -1;
    const Vec2 centre(sx * (length / 2 - corner_radius), sy * (width / 2 - corner_radius));
    for (int i = 0; i <= steps; ++i) {
      const double angle = kPi / 2 * (corner + static_cast<double>(i) / steps);
      loop.push_back(centre + corner_radius * Vec2(std::cos(angle), std::sin(angle)));
    }
  }
  return loop;
}

Polyline2 spread_by_bend(const Polyline2& profile, int count) {
  std::vector<double> weight{0};
  for (std::size_t i = 1; i < profile.size(); ++i) {
    const Vec2 step = profile[i] - profile[i - 1];
    double bend = 0;
    if (i + 1 < profile.size()) {
      const Vec2 next = profile[i + 1] - profile[i];
      bend = std::abs(std::atan2(cross2(step, next), step.dot(next)));
    }
    weight.push_back(weight.back() + step.norm() / 4 + bend * 8);
  }
  Polyline2 points;
  std::size_t at = 0;
  for (int k = 0; k < count; ++k) {
    const double wanted = weight.back() * k / count;
    while (weight[at + 1] < wanted) ++at;
    const double share = (wanted - weight[at]) / (weight[at + 1] - weight[at]);
    points.push_back(profile[at] + share * (profile[at + 1] - profile[at]));
  }
  return points;
}

int Builder::point(const Vec3& p) {
  mesh.points.push_back(p.cast<float>().cast<double>());  // as the file will hold it
  return static_cast<int>(mesh.points.size()) - 1;
}

std::vector<int> Builder::ring(const Polyline2& loop, double z) {
  std::vector<int> result;
  for (const Vec2& p : loop) result.push_back(point(with_z(p, z)));
  return result;
}

void Builder::band(const std::vector<int>& lower, const std::vector<int>& upper) {
  const std::size_t n = lower.size();
  for (std::size_t i = 0; i < n; ++i) {
    const std::size_t j = (i + 1) % n;
    // The shorter diagonal follows the surface better.
    const double one = (at(lower[i]) - at(upper[j])).norm(), two = (at(lower[j]) - at(upper[i])).norm();
    if (one < two)
      triangle(lower[i], lower[j], upper[j]), triangle(lower[i], upper[j], upper[i]);
    else
      triangle(lower[i], lower[j], upper[i]), triangle(lower[j], upper[j], upper[i]);
  }
}

void Builder::fan(const std::vector<int>& ring, int tip) {
  for (std::size_t i = 0; i < ring.size(); ++i) triangle(ring[i], ring[(i + 1) % ring.size()], tip);
}

void Builder::level(const std::vector<int>& outer, const std::vector<std::vector<int>>& holes,
                    bool downwards) {
  std::vector<int> numbers = outer;
  Polyline2 outline;
  for (const int i : outer) outline.push_back(plan(at(i)));
  std::vector<Polyline2> loops;
  for (const auto& hole : holes) {
    Polyline2 loop;
    for (auto it = hole.rbegin(); it != hole.rend(); ++it) {
      numbers.push_back(*it);
      loop.push_back(plan(at(*it)));
    }
    loops.push_back(loop);
  }
  const auto number = [&](int i) { return numbers[static_cast<std::size_t>(i)]; };
  for (const auto& t : triangulate(outline, loops))
    downwards ? triangle(number(t[0]), number(t[2]), number(t[1]))
              : triangle(number(t[0]), number(t[1]), number(t[2]));
}

}  // namespace yardpass::demo
