// How far apart passes really lie, what would suit better, and how much material they meet.
#include "yardpass/plan/true_spacing.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/plan/material_met.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

template <typename Height>
std::shared_ptr<const ContactPart> ground(const Height& height, int columns = 160) {
  return make_contact_part(testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), columns, columns, height));
}

CutPlan passes(const ToolSurface& surface, const Region& area, double angle, double stepover = 0.8) {
  return cuts_of(ParallelOptions{.angle_deg = angle, .stepover_mm = stepover},
                 {surface, area, nullptr, 0.005});
}

const Region kArea = rectangle(Box2(Vec2(-20, -20), Vec2(20, 20)));

TEST(TrueSpacing, IsTheStepoverOnLevelGroundAndMoreAcrossASlope) {
  for (const double rise : {0.0, 0.5, 1.0, 2.0}) {
    const ToolSurface surface =
        testing::exact_surface(ground([&](double, double y) { return rise * y; }, 8), testing::ball_tool(6));
    const TrueSpacing along = true_spacing(passes(surface, kArea, 0), 0.8);
    EXPECT_NEAR(along.half_mm, 0.8 * std::hypot(1, rise), 0.002);
    EXPECT_NEAR(along.greatest_mm, 0.8 * std::hypot(1, rise), 0.002);
    EXPECT_EQ(along.share_above > 0.99, rise > 0.21) << along.share_above;
    const TrueSpacing up = true_spacing(passes(surface, kArea, 90), 0.8);
    EXPECT_NEAR(up.greatest_mm, 0.8, 0.002) << "passes up the slope";
    EXPECT_EQ(up.share_above, 0);
  }
}

TEST(TrueSpacing, SeesTheWallBetweenTwoPassesAndTheEndOfANeighbour) {
  const ToolSurface surface = testing::exact_surface(
      ground([](double, double y) { return y > 0.2 ? 9.0 : 0.0; }, 800), testing::ball_tool(2));
  const TrueSpacing spacing = true_spacing(passes(surface, kArea, 0), 0.8);
  EXPECT_GT(spacing.greatest_mm, 7);
  EXPECT_NEAR(spacing.at.y(), -0.8, 1.3);
  EXPECT_NEAR(spacing.half_mm, 0.8, 0.002);
  // In a triangle each pass is shorter than the one before: its neighbour ends beside it.
  const Region triangle{{{{-20, -20}, {20, -20}, {0, 20}}}};
  const ToolSurface level =
      testing::exact_surface(ground([](double, double) { return 0.0; }, 2), testing::ball_tool(6));
  EXPECT_NEAR(true_spacing(passes(level, triangle, 0), 0.8).greatest_mm, 0.8, 0.001);
}

TEST(TrueSpacing, IsTheSameForAnyOrderOfCutsAndWithoutNumbersThereIsNone) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(demo::bowl(40, 20, 60, 0.02)), testing::ball_tool(6));
  CutPlan plan = passes(surface, rectangle(Box2(Vec2(-12, -12), Vec2(12, 12))), 30);
  const TrueSpacing spacing = true_spacing(plan, 0.8);
  EXPECT_GT(spacing.places.size(), 100u);
  EXPECT_GT(spacing.share_above, 0);
  std::reverse(plan.groups[0].cuts.begin(), plan.groups[0].cuts.end());
  for (Cut& cut : plan.groups[0].cuts) std::reverse(cut.points.begin(), cut.points.end());
  const TrueSpacing turned = true_spacing(plan, 0.8);
  EXPECT_NEAR(static_cast<double>(turned.places.size()) / static_cast<double>(spacing.places.size()), 1,
              0.01);
  EXPECT_NEAR(turned.half_mm, spacing.half_mm, 1e-3) << "at other places of the same passes";
  EXPECT_NEAR(turned.most_mm, spacing.most_mm, 1e-3);
  EXPECT_NEAR(turned.share_above, spacing.share_above, 0.002);
  for (Cut& cut : plan.groups[0].cuts) cut.pass = 0;
  EXPECT_TRUE(true_spacing(plan, 0.8).places.empty());
  EXPECT_THROW((void)true_spacing(plan, 0), Error);
}

struct Pair {
  const char* name;
  std::function<double(double, double)> height;
  double angle;
  Tool tool;
  PatternHint::Better better;
  double other_angle = 0;  // or half a turn from it
};

double dome(double x, double y) { return std::sqrt(30.0 * 30 - std::min(860.0, x * x + y * y)); }

TEST(PatternHint, NamesWhatWouldSuitBetterAndIsSilentWhereThePatternFits) {
  using enum PatternHint::Better;
  const Tool ball = testing::ball_tool(6), flat = testing::flat_tool(10);
  const auto slope = [](double degrees, double towards) {
    const double rise = std::tan(degrees * kPi / 180), a = towards * kPi / 180;
    return [=](double x, double y) { return rise * (x * std::cos(a) + y * std::sin(a)); };
  };
  const auto valley = [](double degrees, double along) {
    const double rise = std::tan(degrees * kPi / 180), a = along * kPi / 180;
    return [=](double x, double y) { return rise * std::abs(y * std::cos(a) - x * std::sin(a)); };
  };
  const auto cone = [](double rise) { return [=](double x, double y) { return -rise * std::hypot(x, y); }; };
  const auto level = [](double, double) { return 1.5; };
  const Pair pairs[] = {
      {"slope of 45 across", slope(45, 90), 0, ball, other_angle, 90},
      {"slope of 60 across", slope(60, 0), 90, ball, other_angle, 0},
      {"slope of 50 towards 30", slope(50, 30), 120, ball, other_angle, 30},
      {"valley along X", valley(50, 0), 0, ball, other_angle, 90},
      {"valley along 45", valley(55, 45), 45, ball, other_angle, -45},
      {"steep cone", cone(2), 0, ball, waterline},
      {"steeper cone", cone(4), 30, ball, waterline},
      {"pyramid, steep", [](double x, double y) { return -2 * std::max(std::abs(x), std::abs(y)); }, 0, ball,
       waterline},
      {"dome", dome, 0, ball, scallop},
      {"saddle", [](double x, double y) { return (x * x - y * y) / 30; }, 0, ball, scallop},
      {"level, with a flat tool", level, 0, flat, flats},
      {"level at an angle, bull", level, 30,
       [] {
         Tool tool = testing::flat_tool(10);
         tool.shape = Shape::bull;
         tool.corner_radius_mm = 1;
         return tool;
       }(),
       flats},
      {"slope along", slope(45, 0), 0, ball, none},
      {"gentle slope", slope(15, 90), 0, ball, none},
      {"level, with a ball", level, 0, ball, none},
      {"waves", [](double x, double y) { return 0.5 * std::sin(x / 3) + 0.4 * std::cos(y / 4); }, 0, ball,
       none},
      {"valley across", valley(50, 0), 90, ball, none},
      {"gentle bowl", [](double x, double y) { return (x * x + y * y) / 200; }, 45, ball, none},
  };
  for (const Pair& pair : pairs) {
    SCOPED_TRACE(pair.name);
    const ToolSurface surface = testing::exact_surface(ground(pair.height), pair.tool);
    const PatternHint hint = pattern_hint(passes(surface, kArea, pair.angle), surface, pair.angle, 0.8);
    EXPECT_EQ(hint.better, pair.better)
        << hint.share_above << " " << hint.angle_deg << " " << hint.share_better;
    if (pair.better == other_angle)
      EXPECT_NEAR(std::remainder(hint.angle_deg - pair.other_angle, 180), 0, 16);
  }
}

TEST(MaterialMet, IsWhatStandsAboveTheCuts) {
  const ToolSurface surface =
      testing::exact_surface(ground([](double, double) { return 0.0; }, 2), testing::ball_tool(6));
  Stock stock(Box3(Vec3(-40, -40, -5), Vec3(40, 40, 0.3)), 0.25);
  const CutPlan plan = passes(surface, kArea, 0, 2);
  const MaterialMet met = material_met(plan, stock, surface.cutter(), 0.01);
  EXPECT_NEAR(met.half_mm, 0.3, 0.01);
  EXPECT_NEAR(met.greatest_mm, 0.3, 0.005) << "cells lie a little beside";
  EXPECT_EQ(met.share_at_size, 0);
  // Half of it at size, and a ridge of 1.2 mm.
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column) {
      const double x = stock.centre(column, row).x();
      stock.set_height(column, row, x < 0 ? 0 : std::abs(x - 10) < 0.5 ? 1.2 : 0.3);
    }
  const MaterialMet half = material_met(plan, stock, surface.cutter(), 0.01);
  EXPECT_NEAR(half.share_at_size, 0.47, 0.03) << "half, without what the ball reaches to";
  EXPECT_NEAR(half.greatest_mm, 1.2, 0.03);
  EXPECT_NEAR(half.at.x(), 10, 0.7);
  EXPECT_EQ(material_met({}, stock, surface.cutter(), 0.01).greatest_mm, 0);
}

TEST(DepthInside, IsTheMostACutterCanBeThinnerAndStillHoldThePlace) {
  const std::vector<Profile::OutlinePoint> outline{{2, 0}, {4, 2, 4}, {5, 9}};
  const Profile profiles[] = {Profile::ball(6), Profile::bull(10, 1.5), Profile::taper(4, 10, 1, 20),
                              Profile::flat(8), Profile::from_outline(outline)};
  for (const Profile& profile : profiles)
    for (int i = 0; i < 60; ++i)
      for (int k = 0; k < 40; ++k) {
        const double r = profile.radius() * i / 59.0, z = 0.2 * k;
        const double depth = depth_inside(profile, r, z);
        for (const double by : {0.05, 0.3, 0.9}) {
          const auto thin = resized(profile, -by);
          if (!thin || std::abs(depth - by) < 1e-6) continue;
          const bool holds = r < thin->profile.radius() && z - thin->tip_z_mm > thin->profile.height(r);
          EXPECT_EQ(holds, depth > by) << r << " " << z << " " << depth << " " << by;
        }
        if (depth == 0) EXPECT_TRUE(r >= profile.radius() || z <= profile.height(r) + 1e-12);
      }
}

}  // namespace
}  // namespace yardpass
