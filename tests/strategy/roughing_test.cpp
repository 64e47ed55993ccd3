// Z-level roughing.
#include <gtest/gtest.h>

#include <cmath>

#include "parts.h"
#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/plan/level_area.h"

namespace yardpass {
namespace {

struct Roughed {
  CutPlan plan;
  Stock left;
};

Roughed rough(const ToolSurface& surface, const Region& area, double top, const RoughingOptions& options) {
  Box3 block = surface.part().box();
  block.max().z() = top;
  Stock left(block, 0.2);
  CutPlan plan = cuts_of(options, {surface, area, &left, 0.05});
  const Profile cutter[] = {surface.cutter()};
  std::vector<SweptMove> moves;
  for (const Cut& cut : testing::all_cuts(plan)) {
    for (std::size_t i = 1; i < cut.points.size(); ++i)
      moves.push_back({cut.points[i - 1], cut.points[i], 0, true});
    if (cut.closed) moves.push_back({cut.points.back(), cut.points.front(), 0, true});
  }
  carve(left, cutter, moves);
  return {std::move(plan), std::move(left)};
}

/// Wherever the tool's centre may stand at a level, the material is gone down to it: no peg, with narrow and
/// wide stepovers.
TEST(Roughing, LeavesNoPeg) {
  const auto part = make_contact_part(demo::bowl(40, 20, 60, 0.01));
  const ToolSurface surface = testing::exact_surface(part, testing::flat_tool(6), {.allowance_mm = 0.2});
  const Region area = rectangle(Box2(Vec2(-28, -28), Vec2(28, 28)));
  for (const double stepover : {1.3, 2.7, 3.0, 4.0, 5.5}) {
    const Roughed result = rough(surface, area, 1, {.stepdown_mm = 2, .stepover_mm = stepover});
    ASSERT_FALSE(result.plan.empty());
    const LevelAreas areas(surface, area.box(), {.tolerance_mm = 0.05});
    for (const double z : testing::levels_of(result.plan)) {
      const Region free = offset(intersect(areas.at(z).area, area), -0.1);
      int pegs = 0;
      for (int row = 0; row < result.left.rows(); ++row)
        for (int column = 0; column < result.left.columns(); ++column)
          pegs +=
              result.left.height(column, row) > z + 1e-6 && free.contains(result.left.centre(column, row));
      EXPECT_EQ(pegs, 0) << "stepover " << stepover << " level " << z;
    }
  }
}

TEST(Roughing, LeavesTheAllowanceAndCutsTheFlats) {
  const auto part = make_contact_part(demo::bowl(40, 20, 60, 0.01));
  const ToolSurface surface = testing::exact_surface(part, testing::flat_tool(6), {.allowance_mm = 0.2});
  const TipSurface plain(part, Profile::flat(6));
  const Region area = rectangle(Box2(Vec2(-28, -28), Vec2(28, 28)));
  const CutPlan plan = cuts_of(RoughingOptions{.stepdown_mm = 2}, {surface, area, nullptr, 0.05, 1});
  EXPECT_NEAR(testing::levels_of(plan).front(), 0.2, 1e-9);  // the plate's face, with its allowance
  for (const Cut& cut : testing::all_cuts(plan))
    for (std::size_t i = 1; i < cut.points.size(); ++i)
      ASSERT_GE(room_around(plain, cut.points[i - 1], cut.points[i], 0.2), 0.2 - 1e-8);
}

TEST(Roughing, WantsWhatItsToolGives) {
  const Tool flat = completed(testing::flat_tool(10));
  const Usual usual = usual_of(RoughingOptions{.stepover_mm = 4.5}, flat);
  EXPECT_EQ(usual.allowance_mm.value, 0.3);
  EXPECT_NEAR(usual.tolerance_mm.value, 0.05, 1e-12);
  EXPECT_EQ(usual.spacing_mm, 4.5);
  EXPECT_TRUE(usual.at_levels);
}

TEST(Roughing, LevelsStayBetweenTopAndBottom) {
  const ToolSurface surface = testing::exact_surface(make_contact_part(weld(demo::bowl(30, 25, 80, 0.02))),
                                                     testing::flat_tool(8), {.allowance_mm = 0.2});
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

/// Two pits: below the rim each level has two areas.
struct TwoPits {
  ToolSurface surface = testing::exact_surface(
      make_contact_part(testing::sheet(
          Box2(Vec2(-40, -20), Vec2(40, 20)), 160, 80,
          [](double x, double y) { return std::hypot(std::abs(x) - 20, y) < 12 ? -9.0 : 0.0; })),
      testing::flat_tool(6));
  Region area = rectangle(Box2(Vec2(-36, -16), Vec2(36, 16)));
  [[nodiscard]] CutPlan plan(LevelOrder order) const {
    return cuts_of(RoughingOptions{.stepdown_mm = 3, .order = order}, {surface, area, nullptr, 0.05, 3});
  }
};

TEST(Roughing, AGroupIsAnAreaOfALevel) {
  const CutPlan plan = TwoPits().plan(LevelOrder::by_level);
  std::int32_t pass = 0;
  double z = 100;
  int pairs = 0;
  for (std::size_t g = 0; g < plan.groups.size(); ++g) {
    const CutGroup& group = plan.groups[g];
    if (group.level_z < z) ++pass, z = group.level_z;
    EXPECT_EQ(group.level_z, z) << "level by level";
    for (const Cut& cut : group.cuts) {
      EXPECT_EQ(cut.pass, pass);
      for (const Vec3& p : cut.points) EXPECT_GE(p.z(), group.level_z - 1e-9);
    }
    EXPECT_EQ(group.cuts.front().entry, Entry::helix) << "nothing is known to be open";
    for (const std::int32_t above : group.after)
      EXPECT_GT(plan.groups[static_cast<std::size_t>(above)].level_z, group.level_z);
    EXPECT_EQ(group.after.empty(), pass == 1);
    pairs += g > 0 && plan.groups[g - 1].level_z == group.level_z;
  }
  EXPECT_EQ(pairs, 3) << "three levels in two pits";
  EXPECT_EQ(plan.facts[0].value.value[0], pass);
}

TEST(Roughing, EachAreaIsCutToItsBottomBeforeTheNext) {
  const CutPlan plan = TwoPits().plan(LevelOrder::by_area);
  int changes = 0;
  bool right = false;
  for (std::size_t g = 0; g < plan.groups.size(); ++g) {
    const bool here = plan.groups[g].cuts.front().points.front().x() > 0;
    if (g > 1) changes += here != right;  // the first one is the whole rim
    right = here;
    for (const std::int32_t above : plan.groups[g].after) EXPECT_LT(above, static_cast<std::int32_t>(g));
  }
  EXPECT_EQ(plan.groups.size(), 7u);
  EXPECT_EQ(changes, 1);
}

}  // namespace
}  // namespace yardpass
