// Limits on random areas and ground: what is kept touches inside, what is dropped does not.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/plan/limits.h"

namespace yardpass {
namespace {

Region random_star(testing::Rng& rng) {
  Polyline2 loop;
  const int corners = 7 + rng.pick(12);
  for (int i = 0; i < corners; ++i) {
    const double angle = 2 * std::numbers::pi * i / corners, radius = rng.uniform(4, 12);
    loop.push_back(radius * Vec2(std::cos(angle), std::sin(angle)));
  }
  return unite({{loop}}, {});
}

TEST(LimitRules, NestAsTheToolsRimsDo) {
  for (int seed = 1; seed <= testing::rounds(30); ++seed) {
    testing::Rng rng(static_cast<std::uint64_t>(seed));
    const Region area = random_star(rng);
    const double radius = rng.uniform(0.3, 2), margin = rng.uniform(-0.5, 0.5);
    const Region far = centre_area(area, radius, {LimitBy::cutter, margin}),
                 centre = centre_area(area, radius, {LimitBy::axis, margin}),
                 near = centre_area(area, radius, {LimitBy::axis, margin + radius});
    EXPECT_LT(subtract(far, centre).area_mm2(), 1e-4) << seed;
    EXPECT_LT(subtract(centre, near).area_mm2(), 1e-4) << seed;
    // By definition: with the far rim held back, a disc of the tool's radius around any centre stays inside.
    const Region moved = offset(area, margin);
    for (const Polyline2& loop : far.loops)
      for (const Vec2& p : loop)
        for (int k = 0; k < 24; ++k) {
          const double angle = 2 * std::numbers::pi * k / 24;
          const Vec2 rim = p + (radius - 0.003) * Vec2(std::cos(angle), std::sin(angle));
          ASSERT_TRUE(moved.contains(rim)) << seed;
        }
  }
}

TEST(LimitRules, ExceptionsEverywhereAreTheRuleItself) {
  for (int seed = 1; seed <= testing::rounds(10); ++seed) {
    testing::Rng rng(static_cast<std::uint64_t>(seed));
    const Region area = random_star(rng), everywhere = rectangle(Box2(Vec2(-50, -50), Vec2(50, 50)));
    for (const LimitBy by : {LimitBy::axis, LimitBy::cutter}) {
      const Region plain = centre_area(area, 1, {by, 0.2});
      const Region odd = centre_area(area, 1, {LimitBy::axis, 0}, {{everywhere, {by, 0.2}}});
      EXPECT_NEAR(subtract(plain, odd).area_mm2() + subtract(odd, plain).area_mm2(), 0, 0.05)
          << seed << " " << name_of(by);
    }
  }
}

TEST(LimitRules, ByTouchKeepsExactlyWhatTouchesInside) {
  for (int seed = 1; seed <= testing::rounds(8); ++seed) {
    testing::Rng rng(static_cast<std::uint64_t>(seed));
    const double a = rng.uniform(0.5, 2), b = rng.uniform(3, 6);
    Tool tool = testing::ball_tool(4);
    if (rng.pick(2) != 0) tool.shape = Shape::bull, tool.corner_radius_mm = 0.8;
    const ToolSurface surface = testing::exact_surface(
        make_contact_part(
            testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 80, 80,
                           [=](double x, double y) { return a * std::sin(x / b) * std::cos(y / b); })),
        tool);
    const Region area = random_star(rng);
    const Region wide = centre_area(area, 2, {LimitBy::contact, 0});
    double kept_length = 0, expected_length = 0;
    for (const Cut& cut : testing::parallel_cuts(surface, wide, {.stepover_mm = 1.5})) {
      for (const Polyline3& piece : pieces_that_belong(surface, cut.points, TouchRule(area), 0.05).pieces) {
        kept_length += length(std::span<const Vec3>(piece));
        for (std::size_t i = 1; i + 1 < piece.size(); ++i) {
          const auto touch = surface.touch(plan(piece[i]));
          ASSERT_TRUE(touch);
          EXPECT_TRUE(offset(area, 0.01).contains(plan(touch->point))) << seed;
        }
      }
      // The same length, sampled finely along the uncut pass.
      for (std::size_t i = 0; i + 1 < cut.points.size(); ++i) {
        const Vec3 step = cut.points[i + 1] - cut.points[i];
        const int samples = std::max(1, static_cast<int>(step.norm() / 0.01));
        for (int k = 0; k < samples; ++k) {
          const auto touch = surface.touch(plan(Vec3(cut.points[i] + (k + 0.5) / samples * step)));
          if (touch && area.contains(plan(touch->point))) expected_length += step.norm() / samples;
        }
      }
    }
    EXPECT_NEAR(kept_length, expected_length, 0.01 * expected_length) << seed;
    EXPECT_GT(kept_length, 50) << seed;
  }
}

}  // namespace
}  // namespace yardpass
