#include "yardpass/curve/made_curves.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "yardpass/curve/edit_curves.h"
#include "yardpass/geom/error.h"
#include "yardpass/geom/region.h"

namespace yardpass {

namespace {

constexpr double kChord = 0.001;  // mm
constexpr double kPi = std::numbers::pi;
constexpr int kMost = 1'000'000;  // of curves or points

double longest_turn(double radius) {
  return 2 * std::acos(std::max(0.0, 1 - kChord / std::max(radius, kChord)));
}

void add_arc(const Vec2& centre, double radius, double from, double sweep, Curve& curve) {
  const int parts = std::max(8, static_cast<int>(std::ceil(sweep / longest_turn(radius))));
  const bool whole = sweep > 6.28;
  for (int k = 0; k < parts + (whole ? 0 : 1); ++k) {
    const double angle = from + sweep * k / parts;
    curve.points.emplace_back(centre.x() + radius * std::cos(angle), centre.y() + radius * std::sin(angle),
                              0);
  }
}

std::vector<Curve> copies(const std::vector<Curve>& curves, int count, const auto& placed) {
  require(count >= 1, "count", "must be at least 1");
  require(static_cast<double>(count) * static_cast<double>(curves.size()) < kMost, "count",
          "would make more than a million curves");
  std::vector<Curve> all;
  for (int k = 0; k < count; ++k)
    for (const Curve& curve : curves) all.push_back(k == 0 ? curve : placed(curve, k));
  return all;
}

}  // namespace

Curve circle_curve(const Vec2& centre, double radius_mm) {
  require(radius_mm > 0, "radius_mm", "must be above 0");
  Curve curve{{}, true};
  add_arc(centre, radius_mm, 0, 2 * kPi, curve);
  return curve;
}

Curve rectangle_curve(const Vec2& a, const Vec2& b, double corner_radius_mm) {
  const Vec2 low = a.cwiseMin(b), high = a.cwiseMax(b);
  require((high - low).minCoeff() > 0, "corners", "must differ in X and in Y");
  require(2 * corner_radius_mm <= (high - low).minCoeff(), "corner_radius_mm",
          "must be at most half of the shorter side");
  Curve curve{{}, true};
  if (!(corner_radius_mm > 0)) {
    for (const Vec2& p : {low, Vec2(high.x(), low.y()), high, Vec2(low.x(), high.y())})
      curve.points.emplace_back(p.x(), p.y(), 0);
    return curve;
  }
  const Vec2 in_low = low + Vec2::Constant(corner_radius_mm),
             in_high = high - Vec2::Constant(corner_radius_mm);
  const Vec2 centres[] = {in_high, {in_low.x(), in_high.y()}, in_low, {in_high.x(), in_low.y()}};
  for (int k = 0; k < 4; ++k) add_arc(centres[k], corner_radius_mm, 0.5 * kPi * k, 0.5 * kPi, curve);
  return curve;
}

std::vector<Curve> rings(const RingsFrom& from) {
  require(from.from_mm > 0 && from.to_mm > 0, "from_mm, to_mm", "must be above 0");
  require(from.step_mm > 0, "step_mm", "must be above 0");
  const double way = std::abs(from.to_mm - from.from_mm), sign = from.to_mm < from.from_mm ? -1 : 1;
  const double steps = std::floor(way / from.step_mm + 1e-3);
  require(steps < kMost, "step_mm", "would make more than a million rings");
  std::vector<Curve> all;
  for (int k = 0; k <= static_cast<int>(steps); ++k)
    all.push_back(circle_curve(from.centre, from.from_mm + sign * k * from.step_mm));
  return all;
}

std::vector<Curve> rays(const RaysFrom& from) {
  require(from.from_mm >= 0 && from.to_mm >= 0 && from.from_mm != from.to_mm, "from_mm, to_mm",
          "must not be negative, and differ");
  require(from.count >= 1 && from.count < kMost, "count", "must be 1 to a million");
  const bool whole = std::abs(from.sweep_deg) >= 360;
  const int gaps = std::max(1, whole ? from.count : from.count - 1);
  std::vector<Curve> all;
  for (int k = 0; k < from.count; ++k) {
    const double angle = (from.first_deg + from.sweep_deg * k / gaps) * kPi / 180;
    const Vec2 way(std::cos(angle), std::sin(angle));
    all.push_back({{with_z(Vec2(from.centre + from.from_mm * way), 0),
                    with_z(Vec2(from.centre + from.to_mm * way), 0)}});
  }
  return all;
}

Curve spiral(const SpiralFrom& from) {
  require(from.from_mm >= 0 && from.to_mm >= 0 && from.from_mm != from.to_mm, "from_mm, to_mm",
          "must not be negative, and differ");
  require(from.step_mm > 0, "step_mm", "must be above 0");
  const double turns = std::abs(from.to_mm - from.from_mm) / from.step_mm, whole = 2 * kPi * turns;
  Curve curve;
  for (double turned = 0;;) {
    const double radius = from.from_mm + (from.to_mm - from.from_mm) * turned / whole;
    const double angle = from.clockwise ? -turned : turned;
    curve.points.push_back(with_z(Vec2(from.centre + radius * Vec2(std::cos(angle), std::sin(angle))), 0));
    if (turned >= whole) return curve;
    require(curve.points.size() < kMost, "step_mm", "would make more than a million points");
    // Near the middle it bends tighter than a circle of its radius does.
    const double step = std::min(longest_turn(radius + from.step_mm / kPi), kPi / 8);
    turned = whole - turned < 1.01 * step ? whole : turned + step;
  }
}

std::vector<Curve> offsets(const std::vector<Curve>& closed, double step_mm, int count) {
  require(step_mm != 0, "step_mm", "must not be 0");
  require(count >= 1 && count < kMost, "count", "must be 1 to a million");
  Region area;
  for (const Curve& curve : closed) {
    if (!curve.closed) throw Error("offsets need closed curves, and one of these is open");
    area.loops.push_back(in_plan(curve));
  }
  area = unite(area, {});
  std::vector<Curve> all;
  for (int k = 1; k <= count; ++k) {
    const Region grown = offset(area, k * step_mm);
    if (grown.empty()) break;
    for (const Polyline2& loop : grown.loops) {
      Curve curve{{}, true, closed.front().name, closed.front().layer, closed.front().colour};
      for (const Vec2& p : loop) curve.points.push_back(with_z(p, closed.front().points.front().z()));
      all.push_back(std::move(curve));
    }
  }
  return all;
}

std::vector<Curve> in_row(const std::vector<Curve>& curves, const Vec2& step, int count) {
  return copies(curves, count,
                [&](const Curve& curve, int k) { return shifted(curve, with_z(Vec2(k * step), 0)); });
}

std::vector<Curve> in_grid(const std::vector<Curve>& curves, const Vec2& step, int columns, int rows) {
  return in_row(in_row(curves, {step.x(), 0}, columns), {0, step.y()}, rows);
}

std::vector<Curve> in_ring(const std::vector<Curve>& curves, const Vec2& centre, int count) {
  return copies(curves, count, [&](Curve curve, int k) {
    const Eigen::Rotation2Dd turn(2 * kPi * k / count);
    for (Vec3& p : curve.points) p = with_z(Vec2(centre + turn * (plan(p) - centre)), p.z());
    return curve;
  });
}

}  // namespace yardpass
