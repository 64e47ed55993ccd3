#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/plan/level_set.h"
#include "yardpass/plan/spacing.h"

namespace yardpass {
namespace {

using testing::Rng;

/// A cone standing on a plate: level sets are circles.
std::shared_ptr<const ContactPart> cone_part() {
  return make_contact_part(
      testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 240, 240,
                     [](double x, double y) { return std::max(0.0, 10 - std::hypot(x, y)); }));
}

TEST(LevelSet, AroundACone) {
  // A flat end of radius 3 meets height z of the cone 10 - z + 3 from its axis.
  const LevelGrid grid(TipSurface(cone_part(), Profile::flat(6)), Box2(Vec2(-25, -25), Vec2(25, 25)), 0.4);
  for (const double z : {2.0, 5.5, 9.0}) {
    const Region free = intersect(grid.at_or_below(z), rectangle(Box2(Vec2(-20, -20), Vec2(20, 20))));
    const double radius = 13 - z;
    EXPECT_NEAR(free.area_mm2(), 1600 - std::numbers::pi * radius * radius, 1.5);
    ASSERT_EQ(pieces(free).size(), 1u);
    EXPECT_FALSE(free.contains({0, 0}));
  }
  EXPECT_NEAR(grid.at_or_below(100).area_mm2(), 50 * 50, 300);  // all of the box and its rim
  EXPECT_TRUE(grid.at_or_below(-1).empty());
}

TEST(Spacing, StepoverAndRidgesGiveEachOther) {
  const Tool flat = completed(testing::flat_tool(10)), ball = completed(testing::ball_tool(6));
  // Ridge left by a ball of radius 3 at that stepover on flat ground.
  const double s = stepover_for(ball, 0.02, true).value;
  EXPECT_NEAR(3 - std::sqrt(9 - s * s / 4), 0.02, 1e-12);
  EXPECT_NEAR(scallop_height(ball, s), 0.02, 1e-12);
  EXPECT_EQ(stepover_for(flat, 0.02).value, 5);
  EXPECT_EQ(scallop_height(flat, 5), 0);
  // A lollipop cuts with its ball.
  Tool lollipop = ball;
  lollipop.shape = Shape::lollipop;
  EXPECT_EQ(stepover_for(lollipop, 0.02).value, s);
}

}  // namespace
}  // namespace yardpass
