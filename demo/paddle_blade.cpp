#include <algorithm>
#include <cmath>
#include <numbers>

#include "builder.h"
#include "parts.h"

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
  const Vec2 ray(std::cos(angle), std::sin(angle));
  const auto place = [&](double inwards) { return Vec2(ray * (radius - inwards)); };
  const auto height = [&](double inwards) { return cavity_height(place(inwards), inwards * cosine); };
  Polyline2 profile;  // along the ray, height
  for (int i = 0; i <= samples; ++i) {
    const double t = static_cast<double>(i) / samples;
    const double inwards = radius * t * t;  // dense near the rim, where it is steep
    profile.emplace_back(inwards, height(inwards));
  }
  profile.front().y() = 0;
  std::vector<Vec3> points;
  for (const Vec2& p : spread_by_bend(profile, kRings))
    points.push_back(with_z(place(p.x()), points.empty() ? 0 : height(p.x())));
  return points;
}

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
  const Polyline2 outline = rounded_rectangle(kLength, kWidth, kCornerRadius);
  const auto top = builder.ring(outline, 0), bottom = builder.ring(outline, -kThick);
  std::vector<std::vector<int>> holes{rings.front()};
  for (const Vec2& centre : {Vec2(77, 47), Vec2(-77, 47), Vec2(-77, -47), Vec2(77, -47)})
    holes.push_back(dowel_hole(builder, centre));
  builder.face(top, holes);
  builder.band(bottom, top);
  builder.face_below(bottom, {});
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
  const auto top = builder.ring(square, 0), bottom = builder.ring(square, middle_z - radius_mm - 10);
  builder.face(top, {outer});
  builder.band(bottom, top);
  builder.face_below(bottom, {});
  return builder.mesh;
}

}  // namespace yardpass::demo
