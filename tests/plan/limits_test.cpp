// Limits of height.
#include <gtest/gtest.h>

#include "parts.h"
#include "support/planning.h"

namespace yardpass {
namespace {

const std::shared_ptr<const ContactPart>& bowl_part() {
  static const auto part = make_contact_part(weld(demo::bowl(30, 25, 80, 0.02)));
  return part;
}

TEST(Limits, RoughingLevelsStayBetweenThem) {
  const ToolSurface surface = testing::exact_surface(bowl_part(), testing::flat_tool(8), {.allowance_mm = 0.2});
  const Region area = rectangle(Box2(Vec2(-40, -40), Vec2(40, 40)));
  const RoughingOptions options{.stepdown_mm = 2};
  Site site{surface, area, nullptr, 0.05, 2};
  const std::vector<double> whole = testing::levels_of(cuts_of(options, site));
  site.top_z = -1;
  site.bottom_z = -6.5;
  const CutPlan limited = cuts_of(options, site);
  const std::vector<double> levels = testing::levels_of(limited);
  ASSERT_FALSE(levels.empty());
  EXPECT_EQ(levels.front(), -3) << "a stepdown below the top";
  EXPECT_EQ(levels.back(), -6.5) << "one on the limit itself";
  EXPECT_LT(whole.back(), -6.5);
  EXPECT_GT(whole.front(), -1);
  for (const Cut& cut : testing::all_cuts(limited))
    for (const Vec3& p : cut.points) ASSERT_GE(p.z(), -6.5 - 1e-9);
}

TEST(Limits, ParallelPassesAreCutAtThem) {
  const ToolSurface surface = testing::exact_surface(bowl_part(), testing::ball_tool(6));
  const Region area = rectangle(Box2(Vec2(-24, -24), Vec2(24, 24)));
  const ParallelOptions options{.stepover_mm = 2};
  const auto whole = testing::parallel_cuts(surface, area, options);
  const auto limited = testing::all_cuts(cuts_of(options, {surface, area, nullptr, 0.01, -3, -9}));
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
