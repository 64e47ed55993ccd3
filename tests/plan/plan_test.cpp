#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/plan/spacing.h"

namespace yardpass {
namespace {

using testing::Rng;

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
