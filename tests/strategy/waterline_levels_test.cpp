// Waterlines by scallop height: their ridges against closed forms, and how much of them there is.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/nasty.h"
#include "support/planning.h"
#include "support/turned_parts.h"
#include "yardpass/contact/slope.h"
#include "yardpass/strategy/waterline.h"

namespace yardpass {
namespace {

using testing::all_cuts;

constexpr double kDegree = std::numbers::pi / 180;

Region square(double half) { return rectangle(Box2(Vec2(-half, -half), Vec2(half, half))); }

double length_of_cut(const Cut& cut) {
  return length(std::span<const Vec3>(cut.points)) +
         (cut.closed ? (cut.points.front() - cut.points.back()).norm() : 0);
}

/// Of neighbouring passes of a ball, in a section through a form of radius `form` (hollow: below 0): what
/// they leave.
double ridge_between(const Vec2& tip, const Vec2& next, double ball, double form) {
  const double apart = (next - tip).norm(), path = form > 0 ? form + ball : -form - ball;
  const double middle = std::sqrt(path * path - apart * apart / 4),
               up = std::sqrt(ball * ball - apart * apart / 4);
  return form > 0 ? middle - up - form : -form - middle - up;
}

TEST(Waterline, KeepsTheScallopOnASphereAndInAFilletHardlyWiderThanTheBall) {
  constexpr double tolerance = 0.0005, scallop = 0.01;
  const Tool ball = testing::ball_tool(6);
  {
    const auto part =
        make_contact_part(testing::turned_part(testing::arc_chain({0, 0}, 40, 1e-3, 89.99, 400), 540));
    const ToolSurface surface = testing::exact_surface(part, ball);
    const CutPlan plan = cuts_of(WaterlineOptions{.scallop_mm = scallop, .least_slope_deg = 20},
                                 {surface, square(50), nullptr, tolerance, 36, 10});
    const auto cuts = all_cuts(plan);
    double most = 0, length = 0;
    for (std::size_t i = 0; i + 1 < cuts.size(); ++i) {
      const auto at = [&](const Cut& cut) {
        return Vec2(std::sqrt(std::pow(43, 2) - std::pow(cut.points[0].z() + 3, 2)), cut.points[0].z());
      };
      const double ridge = ridge_between(at(cuts[i]), at(cuts[i + 1]), 3, 40);
      most = std::max(most, ridge);
    }
    for (const Cut& cut : cuts) length += length_of_cut(cut);
    EXPECT_LT(most, 1.05 * scallop);
    // Passes just so far apart from 36 down to 10.
    const double spacing = std::sqrt(8 * 3 * scallop * 43 / 40);
    double ideal = 0;
    for (double z = 10; z < 36; z += 0.01) {
      const double sine = std::sqrt(43 * 43 - (z + 3) * (z + 3)) / 43;
      ideal += 2 * std::numbers::pi * 43 * sine * 0.01 / (sine * spacing);
    }
    EXPECT_LT(length, 1.15 * ideal);
  }
  for (const double fillet : {4.0, 6.0, 12.0}) {
    // A floor, the fillet, and a wall 3 degrees off upright.
    Polyline2 chain{{1e-3, 0}};
    for (const Vec2& p : testing::arc_chain({20, fillet}, fillet, -90, -3, 200)) chain.push_back(p);
    chain.push_back(chain.back() + 15 * Vec2(std::sin(3 * kDegree), std::cos(3 * kDegree)));
    const auto part = make_contact_part(testing::turned_part(chain, 540));
    const ToolSurface surface = testing::exact_surface(part, ball);
    const CutPlan plan = cuts_of(WaterlineOptions{.scallop_mm = scallop, .least_slope_deg = 15},
                                 {surface, square(34), nullptr, tolerance, 8, 0});
    double most = 0;
    int on_fillet = 0;
    std::vector<Vec2> tips;
    for (const Cut& cut : all_cuts(plan))
      tips.emplace_back(yardpass::plan(cut.points[0]).norm(), cut.points[0].z());
    std::sort(tips.begin(), tips.end(), [](const Vec2& a, const Vec2& b) { return a.y() > b.y(); });
    const double high = fillet - (fillet - 3) * std::sin(4 * kDegree) - 3,
                 low = fillet - (fillet - 3) * std::cos(15 * kDegree) - 3;
    for (std::size_t i = 0; i + 1 < tips.size(); ++i) {
      if (tips[i].y() > high || tips[i + 1].y() < low) continue;
      // Where the formula puts them at these heights.
      const auto at = [&](double z) {
        const double dz = z + 3 - fillet, path = fillet - 3;
        return Vec2(20 + std::sqrt(std::max(0.0, path * path - dz * dz)), z);
      };
      const double ridge = ridge_between(at(tips[i].y()), at(tips[i + 1].y()), 3, -fillet);
      most = std::max(most, ridge);
      ++on_fillet;
    }
    EXPECT_GE(on_fillet, 2) << fillet;
    EXPECT_LT(most, 1.05 * scallop) << fillet;
  }
}

/// All passes together against passes that are just so far apart everywhere, where the surface is at least so
/// steep.
double against_ideal(const ToolSurface& surface, const Region& area, double scallop, double least_deg,
                     double top, double bottom) {
  const CutPlan plan = cuts_of(WaterlineOptions{.scallop_mm = scallop, .least_slope_deg = least_deg},
                               {surface, area, nullptr, 0.01, top, bottom});
  const auto steep = [&](const Vec2& p) -> std::optional<std::pair<double, double>> {  // rise, 1 + k R
    const auto touch = surface.touch(p);
    if (!touch || touch->height > top || touch->height < bottom) return std::nullopt;
    const Vec2 slope = slope_at(surface, p, *touch);
    if (slope.norm() < std::tan(least_deg * kDegree)) return std::nullopt;
    const double step = 0.25 / std::hypot(1, slope.norm());
    const Vec2 down = -slope.normalized();
    const auto a = surface.touch(p - step * down), b = surface.touch(p + step * down);
    double ratio = 1;
    if (a && b) {
      const double tips = (with_z(p + step * down, b->height) - with_z(p - step * down, a->height)).norm();
      ratio = std::clamp(tips / std::max(1e-9, (b->point - a->point).norm()), 0.1, 2.0);
    }
    return std::pair(slope.norm(), ratio);
  };
  double cut = 0;
  for (const Cut& one : all_cuts(plan)) {
    Polyline3 points = one.points;
    if (one.closed) points.push_back(points.front());
    for (std::size_t i = 0; i + 1 < points.size(); ++i)
      if (steep(yardpass::plan(Vec3(0.5 * (points[i] + points[i + 1])))))
        cut += (points[i + 1] - points[i]).norm();
  }
  double ideal = 0;
  constexpr double kCell = 0.2;
  const Box2 box = area.box();
  const double r = surface.cutter().radius();
  for (double x = box.min().x(); x < box.max().x(); x += kCell)
    for (double y = box.min().y(); y < box.max().y(); y += kCell)
      if (area.contains({x, y}))
        if (const auto here = steep({x, y})) {
          const double a = std::atan(here->first);
          ideal += kCell * kCell * std::tan(a) / (std::sin(a) * std::sqrt(8 * r * scallop * here->second));
        }
  return cut / ideal;
}

TEST(Waterline, IsNotMuchLongerThanPassesThatAreJustSoFarApart) {
  const Tool ball = testing::ball_tool(6);
  const auto ratio = [&](Mesh mesh, double half, double top, double bottom) {
    const ToolSurface surface = testing::exact_surface(make_contact_part(std::move(mesh)), ball);
    return against_ideal(surface, square(half), 0.01, 15, top, bottom);
  };
  const double sphere =
      ratio(testing::turned_part(testing::arc_chain({0, 0}, 40, 1e-3, 89.99, 300), 360), 42, 36, 5);
  EXPECT_LT(sphere, 1.15);
  EXPECT_GT(sphere, 0.9);
  Polyline2 chain{{1e-3, 0}};
  for (const Vec2& p : testing::arc_chain({20, 6}, 6, -90, -3, 100)) chain.push_back(p);
  chain.push_back(chain.back() + 15 * Vec2(std::sin(3 * kDegree), std::cos(3 * kDegree)));
  chain.push_back(chain.back() + Vec2(10, 0.5));
  EXPECT_LT(ratio(testing::turned_part(chain, 360), 18, 12, 0.1), 1.6) << "draft and fillet";
  testing::Rng rng(3);
  EXPECT_LT(ratio(testing::sheet(Box2(Vec2(-26, -26), Vec2(26, 26)), 130, 130,
                                 [&](double x, double y) {
                                   return 0.9 * std::sqrt(std::max(0.0, 1600 - x * x - 1.7 * y * y)) +
                                          2 * std::sin(0.2 * x) + rng.uniform(-0.01, 0.01);
                                 }),
                  22, 40, 5),
            1.6)
      << "scan";
  EXPECT_LT(ratio(testing::sheet(Box2(Vec2(-26, -26), Vec2(26, 26)), 200, 200,
                                 [](double x, double y) {
                                   return 4 * std::sin(0.25 * x + 0.4) * std::cos(0.2 * y) +
                                          1.5 * std::sin(0.5 * x - 0.35 * y);
                                 }),
                  22, 10, -10),
            1.6)
      << "terrain";
}

}  // namespace
}  // namespace yardpass
