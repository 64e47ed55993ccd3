// Where what an operation finishes meets what others did.
#include "yardpass/plan/seams.h"

#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/link/link.h"
#include "yardpass/strategy/rest_finishing.h"

namespace yardpass {
namespace {

std::shared_ptr<const ContactPart> groove() {
  return make_contact_part(
      testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 4, 4, [](double, double y) { return std::abs(y); }));
}

TEST(Seams, AreTheBordersWithinThePart) {
  const Region part = rectangle(Box2(Vec2(-20, -20), Vec2(20, 20)));
  const Region area = rectangle(Box2(Vec2(-5, -20), Vec2(5, 20)));
  double along = 0;
  for (const Polyline2& line : seam_lines(area, part, 1)) {
    along += length(std::span<const Vec2>(line));
    for (const Vec2& p : line) EXPECT_NEAR(std::abs(p.x()), 5, 1e-9);
  }
  EXPECT_NEAR(along, 2 * 38, 1e-3);
  EXPECT_TRUE(seam_lines(part, part, 1).empty());
}

TEST(Seams, FeatheredPassesRiseTowardsThemAndStayFree) {
  const auto part = groove();
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(4));
  const Region area = rectangle(Box2(Vec2(-10, -3), Vec2(10, 3)));
  CutPlan plan = plan_of(testing::parallel_cuts(surface, area, {.angle_deg = 90, .stepover_mm = 1}));
  const CutPlan before = plan;
  const std::vector<Polyline2> seam{{{-12, 3}, {12, 3}}};
  feather(plan, seam, {.height_mm = 0.08, .over_mm = 2});
  ASSERT_EQ(plan.cut_count(), before.cut_count());
  int risen = 0;
  for (const Cut& cut : testing::all_cuts(plan))
    for (std::size_t i = 0; i < cut.points.size(); ++i) {
      const Vec3& p = cut.points[i];
      const double meant = std::max(0.0, 0.08 * (1 - (3 - p.y()) / 2)),
                   off = p.z() - surface.height(yardpass::plan(p));
      EXPECT_GE(off, meant - 1e-6);
      EXPECT_LE(off, meant + 0.0105);
      risen += meant > 0.01;
      if (i > 0) EXPECT_GE(surface.clearance(cut.points[i - 1], p, 0).room, -kTouchError);
    }
  EXPECT_GT(risen, 30);
  CutPlan same = before;
  feather(same, seam, {.height_mm = 0});
  EXPECT_EQ(testing::all_cuts(same)[0].points, testing::all_cuts(before)[0].points);
}

TEST(Seams, ThePredictedStepIsTheOneMeasuredOnTheMaterial) {
  const auto part = groove();
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(4));
  // The part as a ball of 5 leaves it, with an allowance of its own beside the corner.
  for (const double kept : {0.0, 0.02}) {
    SCOPED_TRACE(kept);
    Stock before(Box3(Vec3(-9, -9, -1), Vec3(9, 9, 10)), 0.04);
    for (int row = 0; row < before.rows(); ++row)
      for (int column = 0; column < before.columns(); ++column) {
        const double y = std::abs(before.centre(column, row).y()), radius = 5,
                     up = (radius + kept) * std::sqrt(2);
        before.set_height(
            column, row,
            y > radius / std::sqrt(2) ? y + kept * std::sqrt(2) : up - std::sqrt(radius * radius - y * y));
      }
    RestFinishingOptions options;
    options.reference.tool = testing::ball_tool(10);
    options.threshold_mm = 0.03, options.overlap_mm = 0.3, options.stepover_mm = 0.1;
    const Region area = rectangle(Box2(Vec2(-8, -8), Vec2(8, 8)));
    const CutPlan plan = cuts_of(options, {surface, area, nullptr, 0.002});
    ASSERT_TRUE(plan.seam);
    const std::vector<Polyline2> seam = seam_lines(*plan.seam, rectangle(Box2(Vec2(-7, -9), Vec2(7, 9))), 0);
    const SeamStep step = seam_step(seam, surface, before, 0);
    ASSERT_GT(step.places, 50);
    const Stock after = link_cuts(plan, surface, before, {.plane_z = 40}).stock;
    const double border = plan.seam->box().max().y();
    const auto left = [&](double y) {
      // Where the ball touches from a tip at y, on the flank.
      const double at = y + 2 / std::sqrt(2);
      const auto columns = static_cast<std::size_t>(after.columns());
      const std::size_t cell = *after.cell_at({0.5, at});
      const Vec2 c = after.centre(static_cast<int>(cell % columns), static_cast<int>(cell / columns));
      return (after.heights()[cell] - c.y()) / std::sqrt(2);
    };
    double highest = 0;
    for (double y = border; y < border + 0.6; y += 0.02) highest = std::max(highest, left(y));
    EXPECT_NEAR(highest - std::max(0.0, left(border - 0.03)), step.half_mm, 0.005);
    EXPECT_GT(step.half_mm, kept > 0 ? 0.015 : 0.001);
  }
}

}  // namespace
}  // namespace yardpass
