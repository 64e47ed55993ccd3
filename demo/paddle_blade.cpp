#include <algorithm>
#include <cmath>
#include <numbers>

#include "parts.h"
#include "triangulate.h"

namespace yardpass::demo {

namespace {

constexpr double kPi = std::numbers::pi;
constexpr double kLength = 180, kWidth = 120, kThick = 40, kCornerRadius = 5;
constexpr double kDraft = 5 * kPi / 180, kFillet = 4;
constexpr int kSpokes = 480, kRings = 56;

double rim_radius(double angle) {
  // Wider towards the tip (+X) and a little fuller on one side, as blades are.
  const double c = std::cos(angle), s = std::sin(angle);
  const double half_width = 34 + 6 * c - 2 * s, half_length = 68;
  return std::pow(std::pow(std::abs(c) / half_length, 2.4) + std::pow(std::abs(s) / half_width, 2.4),
                  -1 / 2.4);
}

/// Cosine of the angle between the ray from the middle and the normal of the rim.
double rim_cosine(double angle) {
  const double step = 1e-5, r = rim_radius(angle);
  const double slope = (rim_radius(angle + step) - rim_radius(angle - step)) / (2 * step);
  return r / std::sqrt(r * r + slope * slope);
}

struct Floor {
  double z;
  Vec2 slope;
};

Floor floor_at(const Vec2& p) {
  const double x = p.x(), y = p.y();
  // The ridge fades out towards both ends, so that the wall there stays higher than its fillet.
  const double tip = 1 / (1 + std::exp((x - 42) / 7)), neck = 1 / (1 + std::exp((-46 - x) / 5));
  const double ridge = 2.5 * tip * neck, bell = std::exp(-(y / 7) * (y / 7));
  const double z = -(13 + 0.02 * x - 0.0009 * x * x - 0.0022 * y * y) + ridge * bell;
  const double ridge_slope = ridge * ((1 - neck) / 5 - (1 - tip) / 7);
  return {z, {-0.02 + 0.0018 * x + ridge_slope * bell, 0.0044 * y - ridge * bell * 2 * y / 49}};
}

double cavity_at(const Vec2& p, double z, double distance_from_rim) {
  const Floor floor = floor_at(p);
  const double from_wall = (distance_from_rim + z * std::tan(kDraft)) * std::cos(kDraft);
  const double from_floor = (z - floor.z) / std::sqrt(1 + floor.slope.squaredNorm());
  if (from_wall < kFillet && from_floor < kFillet)
    return kFillet - std::hypot(kFillet - from_wall, kFillet - from_floor);
  return std::min(from_wall, from_floor);
}

double distance_from_rim(const Vec2& p) {
  const double angle = std::atan2(p.y(), p.x());
  return (rim_radius(angle) - p.norm()) * rim_cosine(angle);
}

double cavity_height(const Vec2& p, double from_rim) {
  double low = -30, high = 0;
  for (int step = 0; step < 80; ++step) {
    const double middle = 0.5 * (low + high);
    (cavity_at(p, middle, from_rim) > 0 ? high : low) = middle;
  }
  return 0.5 * (low + high);
}

/// Points of the cavity from the rim to the middle along a ray, closer together where it bends.
std::vector<Vec3> spoke(double angle) {
  const int samples = 4000;
  const double radius = rim_radius(angle), cosine = rim_cosine(angle);
  std::vector<Vec2> profile;  // along the ray, height
  for (int i = 0; i <= samples; ++i) {
    const double t = static_cast<double>(i) / samples,
                 inwards = radius * t * t;  // dense near the rim, where it is steep
    const Vec2 p = Vec2(std::cos(angle), std::sin(angle)) * (radius - inwards);
    profile.emplace_back(inwards, cavity_height(p, inwards * cosine));
  }
  profile.front().y() = 0;
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
  std::vector<Vec3> points;
  std::size_t at = 0;
  for (int k = 0; k < kRings; ++k) {
    const double wanted = weight.back() * k / kRings;
    while (weight[at + 1] < wanted) ++at;
    const double share = (wanted - weight[at]) / (weight[at + 1] - weight[at]);
    const Vec2 p = profile[at] + share * (profile[at + 1] - profile[at]);
    const Vec2 place = Vec2(std::cos(angle), std::sin(angle)) * (radius - p.x());
    points.push_back(with_z(place, k == 0 ? 0 : cavity_height(place, p.x() * cosine)));
  }
  return points;
}

Polyline2 circle(const Vec2& centre, double radius, int corners) {
  Polyline2 loop;
  for (int i = 0; i < corners; ++i) {
    const double angle = 2 * kPi * i / corners;
    loop.push_back(centre + radius * Vec2(std::cos(angle), std::sin(angle)));
  }
  return loop;
}

Polyline2 rounded_rectangle() {
  Polyline2 loop;
  const int steps = 16;
  for (int corner = 0; corner < 4; ++corner) {
    const double sx = corner == 0 || corner == 3 ? 1 : -1, sy = corner < 2 ? 1 : -1;
    const Vec2 centre(sx * (kLength / 2 - kCornerRadius), sy * (kWidth / 2 - kCornerRadius));
    for (int i = 0; i <= steps; ++i) {
      const double angle = kPi / 2 * (corner + static_cast<double>(i) / steps);
      loop.push_back(centre + kCornerRadius * Vec2(std::cos(angle), std::sin(angle)));
    }
  }
  return loop;
}

class Builder {
 public:
  int point(const Vec3& p) {
    mesh.points.push_back(p.cast<float>().cast<double>());  // as the file will hold it
    return static_cast<int>(mesh.points.size()) - 1;
  }
  std::vector<int> ring(const Polyline2& loop, double z) {
    std::vector<int> result;
    for (const Vec2& p : loop) result.push_back(point(with_z(p, z)));
    return result;
  }
  void triangle(int a, int b, int c) { mesh.triangles.push_back({a, b, c}); }
  /// Between two rings of the same number of corners; seen from outside, `lower` runs to the right below
  /// `upper`.
  void band(const std::vector<int>& lower, const std::vector<int>& upper) {
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
  void fan(const std::vector<int>& ring, int tip) {
    for (std::size_t i = 0; i < ring.size(); ++i) triangle(ring[i], ring[(i + 1) % ring.size()], tip);
  }
  Mesh mesh;

 private:
  [[nodiscard]] const Vec3& at(int i) const { return mesh.points[static_cast<std::size_t>(i)]; }
};

/// Blind hole with a small chamfer and a drill's cone at its bottom. Returns the rim.
std::vector<int> dowel_hole(Builder& builder, const Vec2& centre) {
  const int corners = 72;
  const double radius = 4, chamfer = 0.4, depth = 15;
  const auto rim = builder.ring(circle(centre, radius + chamfer, corners), 0);
  const auto neck = builder.ring(circle(centre, radius, corners), -chamfer);
  const auto bottom = builder.ring(circle(centre, radius, corners), -depth);
  builder.band(rim, neck);
  builder.band(neck, bottom);
  builder.fan(bottom, builder.point(with_z(centre, -depth - radius / std::tan(59 * kPi / 180))));
  return rim;
}

}  // namespace

double paddle_blade_cavity(const Vec3& p) { return cavity_at(plan(p), p.z(), distance_from_rim(plan(p))); }

Vec2 paddle_blade_rim(double angle_rad) {
  return rim_radius(angle_rad) * Vec2(std::cos(angle_rad), std::sin(angle_rad));
}

Mesh paddle_blade_mold() {
  Builder builder;
  // The cavity, ring by ring from the rim to the middle.
  std::vector<std::vector<int>> rings(kRings);
  for (int i = 0; i < kSpokes; ++i) {
    const auto points = spoke(2 * kPi * i / kSpokes);
    for (std::size_t k = 0; k < points.size(); ++k) rings[k].push_back(builder.point(points[k]));
  }
  for (std::size_t k = 0; k + 1 < rings.size(); ++k) builder.band(rings[k], rings[k + 1]);
  builder.fan(rings.back(), builder.point(with_z(Vec2(0, 0), cavity_height({0, 0}, rim_radius(0)))));

  // The parting face around cavity and dowel holes; then the sides and the bottom.
  const Polyline2 outline = rounded_rectangle();
  const auto top = builder.ring(outline, 0), bottom = builder.ring(outline, -kThick);
  std::vector<int> numbers = top;
  std::vector<Polyline2> holes;
  const auto add_hole = [&](const std::vector<int>& ring) {
    Polyline2 hole;
    for (auto it = ring.rbegin(); it != ring.rend(); ++it) {
      numbers.push_back(*it);
      hole.push_back(plan(builder.mesh.points[static_cast<std::size_t>(*it)]));
    }
    holes.push_back(hole);
  };
  add_hole(rings.front());
  for (const Vec2& centre : {Vec2(77, 47), Vec2(-77, 47), Vec2(-77, -47), Vec2(77, -47)})
    add_hole(dowel_hole(builder, centre));
  for (const auto& t : triangulate(outline, holes))
    builder.triangle(numbers[static_cast<std::size_t>(t[0])], numbers[static_cast<std::size_t>(t[1])],
                     numbers[static_cast<std::size_t>(t[2])]);
  builder.band(bottom, top);
  for (const auto& t : triangulate(outline, {}))
    builder.triangle(bottom[static_cast<std::size_t>(t[0])], bottom[static_cast<std::size_t>(t[2])],
                     bottom[static_cast<std::size_t>(t[1])]);
  return builder.mesh;
}

Mesh bowl(double radius_mm, double rim_radius_mm, double plate_mm, double chord_error_mm) {
  Builder builder;
  const double turn = std::acos(1 - chord_error_mm / radius_mm);
  const double half_opening = std::asin(rim_radius_mm / radius_mm);
  const int rings = std::max(2, static_cast<int>(std::ceil(half_opening / turn)));
  const int corners =
      std::max(12, static_cast<int>(std::ceil(kPi / std::acos(1 - chord_error_mm / rim_radius_mm))));
  const double middle_z = std::sqrt(radius_mm * radius_mm - rim_radius_mm * rim_radius_mm);
  std::vector<int> outer, ring;
  for (int k = 0; k < rings; ++k) {
    const double angle = half_opening * (1 - static_cast<double>(k) / rings);
    const double z = k == 0 ? 0 : middle_z - radius_mm * std::cos(angle);
    auto next = builder.ring(circle({0, 0}, radius_mm * std::sin(angle), corners), z);
    if (k == 0)
      outer = next;
    else
      builder.band(ring, next);
    ring = std::move(next);
  }
  builder.fan(ring, builder.point({0, 0, middle_z - radius_mm}));
  const double h = plate_mm / 2;
  const Polyline2 square{{h, h}, {-h, h}, {-h, -h}, {h, -h}};
  std::vector<int> numbers = builder.ring(square, 0);
  const auto top = numbers, bottom = builder.ring(square, middle_z - radius_mm - 10);
  numbers.insert(numbers.end(), outer.rbegin(), outer.rend());
  Polyline2 hole = circle({0, 0}, rim_radius_mm, corners);
  std::reverse(hole.begin(), hole.end());
  for (const auto& t : triangulate(square, {hole}))
    builder.triangle(numbers[static_cast<std::size_t>(t[0])], numbers[static_cast<std::size_t>(t[1])],
                     numbers[static_cast<std::size_t>(t[2])]);
  builder.band(bottom, top);
  builder.triangle(bottom[0], bottom[3], bottom[2]);
  builder.triangle(bottom[0], bottom[2], bottom[1]);
  return builder.mesh;
}

}  // namespace yardpass::demo
