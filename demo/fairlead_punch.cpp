#include <algorithm>
#include <cmath>
#include <numbers>

#include "builder.h"
#include "parts.h"

namespace yardpass::demo {

namespace {

constexpr double kPi = std::numbers::pi;
constexpr double kPlateLength = 130, kPlateWidth = 90, kPlateThick = 16, kPlateCorner = 8;
constexpr double kPlateZ = -36, kDraft = 3 * kPi / 180, kRound = 3, kFillet = 5;
constexpr int kSpokes = 360, kRings = 64;

/// Rim of the boss where it would meet the plate without its fillet.
double foot_radius(double angle) {
  const double c = std::abs(std::cos(angle)) / 42, s = std::abs(std::sin(angle)) / 27;
  return std::pow(std::pow(c, 2.6) + std::pow(s, 2.6), -1 / 2.6);
}

double foot_cosine(double angle) {
  const double step = 1e-5, r = foot_radius(angle);
  const double slope = (foot_radius(angle + step) - foot_radius(angle - step)) / (2 * step);
  return r / std::sqrt(r * r + slope * slope);
}

/// The saddle: a line runs up over it lengthwise and down across it.
double saddle_z(const Vec2& p) { return -6 + 0.0036 * p.x() * p.x() - 0.0065 * p.y() * p.y(); }

/// Above 0 in the air, below 0 in the steel, close to the distance near the surface.
double punch_at(const Vec2& p, double z, double outside_of_foot) {
  const Vec2 slope(0.0072 * p.x(), -0.013 * p.y());
  const double above_top = (z - saddle_z(p)) / std::sqrt(1 + slope.squaredNorm());
  const double off_wall = (outside_of_foot + (z - kPlateZ) * std::tan(kDraft)) * std::cos(kDraft);
  const double boss = above_top > -kRound && off_wall > -kRound
                          ? std::hypot(above_top + kRound, off_wall + kRound) - kRound
                          : std::max(above_top, off_wall);
  const double above_plate = z - kPlateZ;
  if (boss < kFillet && above_plate < kFillet)
    return kFillet - std::hypot(kFillet - boss, kFillet - above_plate);
  return std::min(boss, above_plate);
}

double punch_height(const Vec2& p, double outside_of_foot) {
  double low = kPlateZ - 1, high = 5;
  for (int step = 0; step < 60; ++step) {
    const double middle = 0.5 * (low + high);
    (punch_at(p, middle, outside_of_foot) > 0 ? high : low) = middle;
  }
  return 0.5 * (low + high);
}

/// Points from the plate up the wall and over the saddle to the middle, closer together where it bends.
std::vector<Vec3> spoke(double angle) {
  const double foot = foot_radius(angle), cosine = foot_cosine(angle), outer = foot + 9;
  const Vec2 ray(std::cos(angle), std::sin(angle));
  const auto height = [&](double r) { return punch_height(ray * r, (r - foot) * cosine); };
  Polyline2 profile;
  // Dense where the wall stands: from 3 mm inside to 6 mm outside of the foot.
  for (int i = 0; i <= 300; ++i) profile.emplace_back(outer - 3.0 * i / 300, 0);
  for (int i = 1; i <= 9000; ++i) profile.emplace_back(outer - 3 - 10.0 * i / 9000, 0);
  for (int i = 1; i <= 600; ++i) profile.emplace_back((outer - 13) * (1 - i / 600.0), 0);
  for (Vec2& p : profile) p.y() = height(p.x());
  std::vector<Vec3> points;
  for (const Vec2& p : spread_by_bend(profile, kRings))
    points.push_back(with_z(ray * p.x(), points.empty() ? kPlateZ : height(p.x())));
  return points;
}

}  // namespace

Mesh fairlead_punch() {
  Builder builder;
  std::vector<std::vector<int>> rings(kRings);
  for (int i = 0; i < kSpokes; ++i) {
    const auto points = spoke(2 * kPi * i / kSpokes);
    for (std::size_t k = 0; k < points.size(); ++k) rings[k].push_back(builder.point(points[k]));
  }
  for (std::size_t k = 0; k + 1 < rings.size(); ++k) builder.band(rings[k], rings[k + 1]);
  builder.fan(rings.back(), builder.point({0, 0, saddle_z({0, 0})}));
  const Polyline2 outline = rounded_rectangle(kPlateLength, kPlateWidth, kPlateCorner);
  const auto top = builder.ring(outline, kPlateZ), bottom = builder.ring(outline, kPlateZ - kPlateThick);
  // Two locating holes go through the plate.
  std::vector<std::vector<int>> above{rings.front()}, below;
  for (const Vec2& centre : {Vec2(54, 34), Vec2(-54, -34)}) {
    const Polyline2 hole = circle(centre, 3, 60);
    above.push_back(builder.ring(hole, kPlateZ));
    below.push_back(builder.ring(hole, kPlateZ - kPlateThick));
    builder.band(above.back(), below.back());
  }
  builder.face(top, above);
  builder.band(bottom, top);
  builder.face_below(bottom, below);
  return builder.mesh;
}

}  // namespace yardpass::demo
