// The list of strategies: each can be asked by its name as it can be asked straight.
#include "yardpass/strategy/all.h"

#include <gtest/gtest.h>

#include <set>

#include "support/nasty.h"
#include "support/planning.h"

namespace yardpass {
namespace {

TEST(Strategies, AreListedByTheWorkTheyDoEachWithANameOfItsOwn) {
  std::set<std::string> names;
  Work last = Work::clear;
  for (const Strategy& strategy : all_strategies()) {
    EXPECT_TRUE(names.insert(strategy.name).second) << strategy.name;
    EXPECT_GE(strategy.work, last) << "the list goes by the work";
    last = strategy.work;
    EXPECT_NE(std::string(strategy.says), "");
    EXPECT_EQ(strategy_named(strategy.name), &strategy);
  }
  EXPECT_EQ(strategy_named("rowing"), nullptr);
  EXPECT_GE(names.size(), 2u);
}

TEST(Strategies, APatternGivesWhatItsFunctionsGive) {
  const ToolSurface surface = testing::exact_surface(
      make_contact_part(testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 8, 8,
                                       [](double x, double y) { return 0.02 * x * y; })),
      testing::ball_tool(6));
  const Region area = rectangle(Box2(Vec2(-10, -10), Vec2(10, 10)));
  const ParallelOptions options{.angle_deg = 30, .stepover_mm = 1.5};
  const PatternOf<ParallelOptions> pattern(options);
  EXPECT_EQ(pattern.usual(surface.tool()).spacing_mm, 1.5);
  const auto by_pattern = testing::all_cuts(pattern.cuts({surface, area}, {}));
  const auto straight = testing::parallel_cuts(surface, area, options);
  ASSERT_EQ(by_pattern.size(), straight.size());
  for (std::size_t i = 0; i < straight.size(); ++i) EXPECT_EQ(by_pattern[i].points, straight[i].points);
}

}  // namespace
}  // namespace yardpass
