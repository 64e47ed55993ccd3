// The rules at a boundary, on a slope where each has a closed form; and walls that passes must not ride.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/plan/limits.h"
#include "yardpass/plan/wall_rides.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

/// A plane that rises by an angle along X.
TipSurface slope(double angle_deg, const Profile& cutter) {
  const double rise = std::tan(angle_deg * kPi / 180);
  return {make_contact_part(testing::sheet(Box2(Vec2(-50, -50), Vec2(50, 50)), 10, 10,
                                           [=](double x, double) { return rise * x; })),
          cutter};
}

const Region kArea = rectangle(Box2(Vec2(-20, -10), Vec2(20, 10)));

TEST(LimitRules, DifferByTheToolsRadiusInPlan) {
  const double radius = 3;
  const auto reach = [&](LimitBy by, double margin) {
    return centre_area(kArea, radius, {by, margin}).box().max().x();
  };
  EXPECT_NEAR(reach(LimitBy::axis, 0), 20, 1e-5);
  EXPECT_NEAR(reach(LimitBy::axis, 0.5), 20.5, 1e-5);
  EXPECT_NEAR(reach(LimitBy::cutter, 0), 17, 1e-5);
  EXPECT_NEAR(reach(LimitBy::cutter, -1), 16, 1e-5);
  EXPECT_NEAR(reach(LimitBy::contact, 0), 23, 1e-5) << "candidates for the touch";
}

TEST(LimitRules, ByTouchOnASlopeIsExact) {
  // A ball of radius r on a slope of t touches r sin(t) uphill of its axis; a flat one of radius r, r uphill.
  for (const double angle : {5.0, 20.0, 45.0, 70.0}) {
    for (const bool flat : {false, true}) {
      const TipSurface surface = slope(angle, flat ? Profile::flat(6) : Profile::ball(6));
      const Vec2 a(-30, 1.5), b(30, 1.5);
      const Polyline3 path{with_z(a, surface.height(a)), with_z(b, surface.height(b))};
      const auto pieces = pieces_that_belong(surface, path, TouchRule(kArea), 0.3).pieces;
      ASSERT_EQ(pieces.size(), 1u) << angle;
      const double shift = flat ? 3 : 3 * std::sin(angle * kPi / 180);
      EXPECT_NEAR(pieces[0].front().x(), -20 - shift, 1e-4) << angle;
      EXPECT_NEAR(pieces[0].back().x(), 20 - shift, 1e-4) << angle;
    }
  }
}

TEST(LimitRules, ByTouchKeepsPassesThatLeaveAndComeBack) {
  const TipSurface surface = slope(0, Profile::ball(6));
  Region two = rectangle(Box2(Vec2(-20, -10), Vec2(-5, 10)));
  two = unite(two, rectangle(Box2(Vec2(5, -10), Vec2(20, 10))));
  const Polyline3 path{Vec3(-30, 0, 0), Vec3(0, 0, 0), Vec3(30, 0, 0)};
  const auto pieces = pieces_that_belong(surface, path, TouchRule(two), 0.5).pieces;
  ASSERT_EQ(pieces.size(), 2u);
  EXPECT_NEAR(pieces[0].front().x(), -20, 1e-4);
  EXPECT_NEAR(pieces[0].back().x(), -5, 1e-4);
  EXPECT_NEAR(pieces[1].front().x(), 5, 1e-4);
  EXPECT_NEAR(pieces[1].back().x(), 20, 1e-4);
  EXPECT_TRUE(
      pieces_that_belong(surface, {Vec3(-30, 20, 0), Vec3(30, 20, 0)}, TouchRule(two), 0.5).pieces.empty());
}

TEST(LimitRules, MayDifferAlongOneBoundary) {
  // The whole tool inside on the left (a wall), a radius beyond on the right (open).
  const Region right = rectangle(Box2(Vec2(19, -30), Vec2(40, 30)));
  const Region area = centre_area(kArea, 3, {LimitBy::cutter, 0}, {{right, {LimitBy::axis, 3}}});
  EXPECT_TRUE(area.contains({22.9, 0}));
  EXPECT_FALSE(area.contains({23.1, 0}));
  EXPECT_TRUE(area.contains({-16.9, 0}));
  EXPECT_FALSE(area.contains({-17.1, 0}));
  EXPECT_FALSE(area.contains({0, 7.1}));
  EXPECT_TRUE(area.contains({0, 6.9}));
  EXPECT_THROW((void)centre_area(kArea, 3, {LimitBy::contact, 0}, {{right, {LimitBy::axis, 0}}}), Error);
}

TEST(LimitRules, HolesAreHeldBackTheOtherWay) {
  const Region ring = subtract(kArea, rectangle(Box2(Vec2(-5, -5), Vec2(5, 5))));
  const Region area = centre_area(ring, 2, {LimitBy::cutter, 0});
  EXPECT_FALSE(area.contains({6.9, 0}));
  EXPECT_TRUE(area.contains({7.1, 0}));
}

/// A floor with an upright wall of 8 mm at x = 12.
std::shared_ptr<const ContactPart> walled_floor() {
  Mesh mesh = testing::box_mesh(Box3(Vec3(-40, -40, -5), Vec3(40, 40, 0)));
  const Mesh wall = testing::box_mesh(Box3(Vec3(12, -40, 0), Vec3(40, 40, 8)));
  for (const auto& t : wall.triangles) mesh.triangles.push_back({t[0] + 8, t[1] + 8, t[2] + 8});
  mesh.points.insert(mesh.points.end(), wall.points.begin(), wall.points.end());
  return make_contact_part(mesh);
}

std::vector<Polyline3> passes(const ToolSurface& surface, const Region& area) {
  std::vector<Polyline3> lines;
  for (const Cut& cut : testing::parallel_cuts(surface, area, {.stepover_mm = 1}))
    lines.push_back(cut.points);
  return lines;
}

TEST(WallRides, AreNoticedWithTheMarginThatStopsThem) {
  // The boundary is the wall's foot: an axis on it would stand on top of the wall.
  const ToolSurface surface = testing::exact_surface(walled_floor(), testing::ball_tool(6));
  const Region floor = rectangle(Box2(Vec2(-20, -10), Vec2(12, 10)));
  const auto rides = wall_rides(surface, passes(surface, floor), floor, floor);
  ASSERT_FALSE(rides.empty());
  EXPECT_GT(rides.front().height_mm, 4);
  EXPECT_NEAR(rides.front().at.x(), 12, 3);
  double inside = 0;
  for (const WallRide& ride : rides) inside = std::max(inside, ride.inside_mm);
  EXPECT_NEAR(inside, 3, 0.01) << "the ball's radius";
  const Region held = centre_area(floor, 3, {LimitBy::axis, -inside - 0.005});
  EXPECT_TRUE(wall_rides(surface, passes(surface, held), floor, held).empty());
  // On the open side nothing rides, so a boundary away from the wall gives no warning.
  const Region open = rectangle(Box2(Vec2(-20, -10), Vec2(5, 10)));
  EXPECT_TRUE(wall_rides(surface, passes(surface, open), open, open).empty());
}

TEST(WallRides, PassesAlongTheWallAreNoticedToo) {
  const ToolSurface surface = testing::exact_surface(walled_floor(), testing::ball_tool(6));
  const Region floor = rectangle(Box2(Vec2(-20, -10), Vec2(12, 10)));
  std::vector<Polyline3> lines;
  for (const Cut& cut : testing::parallel_cuts(surface, floor, {.angle_deg = 90, .stepover_mm = 1}))
    lines.push_back(cut.points);
  const auto rides = wall_rides(surface, lines, floor, floor);
  ASSERT_FALSE(rides.empty());
  EXPECT_GT(rides.front().at.x(), 8.9);
  EXPECT_NEAR(rides.front().height_mm, 8, 1e-6) << "onto the wall";
}

TEST(WallRides, RollingOverAnEdgeIsNoClimb) {
  // A block whose outline is the boundary: at its edge the ball turns around the edge.
  const ToolSurface surface = testing::exact_surface(
      make_contact_part(testing::box_mesh(Box3(Vec3(-20, -10, -9), Vec3(20, 10, 0)))), testing::ball_tool(6));
  EXPECT_TRUE(wall_rides(surface, passes(surface, kArea), kArea, kArea).empty());
  const Region wider = offset(kArea, 2);
  EXPECT_TRUE(wall_rides(surface, passes(surface, wider), wider, wider).empty());
}

TEST(WallRides, GoingDownBesideAnOuterEdgeIsOneToo) {
  // A block on a plate: beyond its edge the axis may go 5 mm, so the ball comes down to the plate.
  const ToolSurface surface = testing::exact_surface(walled_floor(), testing::ball_tool(6));
  const Region top = rectangle(Box2(Vec2(12, -10), Vec2(30, 10)));
  const Region axis = centre_area(top, 3, {LimitBy::axis, 5});
  const auto rides = wall_rides(surface, passes(surface, axis), top, axis);
  ASSERT_FALSE(rides.empty());
  double inside = 0;
  for (const WallRide& ride : rides) {
    EXPECT_NEAR(ride.height_mm, -8, 1e-6) << "down to the floor";
    EXPECT_LT(ride.at.x(), 9.1);
    inside = std::max(inside, ride.inside_mm);
  }
  EXPECT_NEAR(inside, 2, 0.02) << "it touches nothing but the edge until its axis is a radius beside it";
  const Region held = centre_area(top, 3, {LimitBy::axis, 5 - 2.02});
  EXPECT_TRUE(wall_rides(surface, passes(surface, held), top, held).empty());
}

TEST(WallRides, SlopesInsideTheAreaAreNoClimbs) {
  const ToolSurface surface = testing::exact_surface(walled_floor(), testing::ball_tool(6));
  const Region both = rectangle(Box2(Vec2(-20, -10), Vec2(30, 10)));
  EXPECT_TRUE(wall_rides(surface, passes(surface, both), both, both).empty()) << "the wall lies inside";
}

}  // namespace
}  // namespace yardpass
