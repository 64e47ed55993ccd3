// Limits of height.
#include <gtest/gtest.h>

#include "parts.h"
#include "yardpass/plan/parallel.h"
#include "yardpass/plan/roughing.h"

namespace yardpass {
namespace {

const std::shared_ptr<const ContactPart>& bowl_part() {
  static const auto part = make_contact_part(weld(demo::bowl(30, 25, 80, 0.02)));
  return part;
}

TEST(Limits, RoughingLevelsStayBetweenThem) {
  const TipSurface surface(bowl_part(), Profile::flat(8), {.allowance_mm = 0.2});
  const Region area = rectangle(Box2(Vec2(-40, -40), Vec2(40, 40)));
  RoughingOptions options;
  options.top_z = 2;
  options.stepdown_mm = 2;
  const RoughingPlan whole = plan_roughing(surface, area, options);
  options.top_z = -1;
  options.bottom_z = -6.5;
  const RoughingPlan limited = plan_roughing(surface, area, options);
  ASSERT_FALSE(limited.levels_z.empty());
  EXPECT_EQ(limited.levels_z.front(), -3) << "a stepdown below the top";
  EXPECT_EQ(limited.levels_z.back(), -6.5) << "one on the limit itself";
  EXPECT_LT(whole.levels_z.back(), -6.5);
  EXPECT_GT(whole.levels_z.front(), -1);
  for (const Cut& cut : limited.cuts)
    for (const Vec3& p : cut.points) ASSERT_GE(p.z(), -6.5 - 1e-9);
}

TEST(Limits, ParallelPassesAreCutAtThem) {
  const TipSurface surface(bowl_part(), Profile::ball(6));
  const Region area = rectangle(Box2(Vec2(-24, -24), Vec2(24, 24)));
  ParallelOptions options;
  options.stepover_mm = 2;
  const auto whole = plan_parallel(surface, area, options);
  options.top_z = -3;
  options.bottom_z = -9;
  const auto limited = plan_parallel(surface, area, options);
  double low = 0, high = -100, kept = 0, expected = 0;
  for (const Cut& cut : limited) {
    kept += length(std::span<const Vec3>(cut.points));
    for (const Vec3& p : cut.points) low = std::min(low, p.z()), high = std::max(high, p.z());
  }
  EXPECT_NEAR(low, -9, 1e-9);
  EXPECT_NEAR(high, -3, 1e-9);
  for (const Cut& cut : whole)
    for (const Polyline3& piece : between_heights(cut.points, -9, -3))
      expected += length(std::span<const Vec3>(piece));
  EXPECT_NEAR(kept, expected, 1e-9);
  EXPECT_GT(limited.size(), whole.size()) << "passes fall into a left and a right piece";
}

}  // namespace
}  // namespace yardpass
