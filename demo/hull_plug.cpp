#include <algorithm>
#include <cmath>
#include <numbers>

#include "builder.h"
#include "parts.h"

namespace yardpass::demo {

namespace {

constexpr double kPi = std::numbers::pi;
constexpr double kPlateLength = 150, kPlateWidth = 70, kPlateThick = 14, kPlateCorner = 8;
constexpr double kPlateZ = -26, kFillet = 7;
constexpr double kHalfLength = 60, kHalfBreadth = 21;
constexpr double kFoot = 0.985;  // of the way from the keel to where the side would stand upright
constexpr int kSpokes = 360, kRings = 60;

/// Where the side would stand upright: a fine bow at +X, a fuller stern.
double breadth_radius(double angle) {
  const double power = 2.3 - 0.35 * std::cos(angle);
  const double c = std::abs(std::cos(angle)) / kHalfLength, s = std::abs(std::sin(angle)) / kHalfBreadth;
  return std::pow(std::pow(c, power) + std::pow(s, power), -1 / power);
}

double fullness(double share) { return std::pow(1 - std::pow(share, 2.4), 0.72); }

/// The skin at a share of the way out along a spoke: the keel rises a little towards bow and stern.
double skin_z(double angle, double share) {
  const double x = share * breadth_radius(angle) * std::cos(angle) / kHalfLength;
  const double keel = -kPlateZ * (1 - 0.16 * x * x + 0.05 * x) / 1.00390625;  // 1 at its highest
  return kPlateZ + keel * (fullness(share) - fullness(kFoot)) / (1 - fullness(kFoot));
}

/// From the plate up the fillet and the side to the keel, in the upright plane of a spoke.
Polyline2 section(double angle) {
  constexpr int kFine = 6000;
  const double breadth = breadth_radius(angle);
  Polyline2 skin;  // from the foot inwards
  for (int i = 0; i <= kFine; ++i) {
    // Closer together where it stands up.
    const double t = 1.0 * i / kFine, share = kFoot * (1 - t * t);
    skin.emplace_back(share * breadth, skin_z(angle, share));
  }
  // The fillet's middle lies its radius above the plate and as far off the skin.
  const auto off = [&](double r) {
    double least = 1e9;
    for (const Vec2& p : skin) least = std::min(least, (p - Vec2(r, kPlateZ + kFillet)).norm());
    return least;
  };
  double low = skin.front().x(), high = low + 2 * kFillet;
  for (int step = 0; step < 40; ++step) {
    const double middle = 0.5 * (low + high);
    (off(middle) < kFillet ? low : high) = middle;
  }
  const Vec2 centre(high, kPlateZ + kFillet);
  std::size_t touch = 0;
  for (std::size_t i = 0; i < skin.size(); ++i)
    if ((skin[i] - centre).norm() < (skin[touch] - centre).norm()) touch = i;
  const Vec2 out = skin[touch] - centre;
  const double last = std::atan2(out.y(), out.x()) < 0 ? std::atan2(out.y(), out.x()) + 2 * kPi
                                                       : std::atan2(out.y(), out.x());
  Polyline2 profile;
  for (int i = 0; i <= 60; ++i) profile.emplace_back(high + 5 * (1 - i / 60.0), kPlateZ);
  for (int i = 1; i < 400; ++i) {
    const double a = 1.5 * kPi + (last - 1.5 * kPi) * i / 400;
    profile.push_back(centre + kFillet * Vec2(std::cos(a), std::sin(a)));
  }
  profile.insert(profile.end(), skin.begin() + static_cast<std::ptrdiff_t>(touch), skin.end());
  return profile;
}

}  // namespace

Mesh hull_plug() {
  Builder builder;
  std::vector<std::vector<int>> rings(kRings);
  for (int i = 0; i < kSpokes; ++i) {
    // Closer together at bow and stern, where the hull bends most.
    const double turn = 2 * kPi * i / kSpokes;
    const double angle = std::atan2(kHalfBreadth * std::sin(turn), kHalfLength * std::cos(turn));
    const Vec2 ray(std::cos(angle), std::sin(angle));
    const Polyline2 points = spread_by_bend(section(angle), kRings);
    for (std::size_t k = 0; k < points.size(); ++k)
      rings[k].push_back(builder.point(with_z(ray * points[k].x(), k == 0 ? kPlateZ : points[k].y())));
  }
  for (std::size_t k = 0; k + 1 < rings.size(); ++k) builder.band(rings[k], rings[k + 1]);
  builder.fan(rings.back(), builder.point({0, 0, skin_z(0, 0)}));
  const Polyline2 outline = rounded_rectangle(kPlateLength, kPlateWidth, kPlateCorner);
  const auto top = builder.ring(outline, kPlateZ), bottom = builder.ring(outline, kPlateZ - kPlateThick);
  builder.face(top, {rings.front()});
  builder.band(bottom, top);
  builder.face_below(bottom, {});
  return builder.mesh;
}

}  // namespace yardpass::demo
