// What is in the way of the cutter: refused, left out, or ridden over.
#include "yardpass/plan/obstacles.h"

#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/part/guides.h"

namespace yardpass {
namespace {

/// A floor with a block of 10 mm on it from X 5 to 9, in a group of its own.
std::shared_ptr<const ContactPart> floor_with_block() {
  Mesh mesh = testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 1, 1, [](double, double) { return 0.0; });
  const std::size_t floor = mesh.triangles.size();
  append(mesh, testing::box_mesh(Box3(Vec3(5, -4, -1), Vec3(9, 4, 10))));
  std::vector<std::uint8_t> groups(mesh.triangles.size(), 1);
  std::fill_n(groups.begin(), floor, std::uint8_t{0});
  return make_contact_part(std::move(mesh), {}, std::move(groups));
}

class ObstaclesOnFloor : public ::testing::Test {
 protected:
  std::shared_ptr<const ContactPart> part_ = floor_with_block();
  ToolSurface surface_ = testing::exact_surface(part_, testing::ball_tool(6));
  Obstacles guarded_{.guards = {{1, "clamp", InTheWay::skip}}};

  [[nodiscard]] CutPlan passes(double angle = 0) const {
    return cuts_of(ParallelOptions{.angle_deg = angle, .stepover_mm = 2},
                   {surface_, rectangle(Box2(Vec2(-20, -20), Vec2(20, 20))), nullptr, 0.01});
  }
  static double length_of(const CutPlan& plan) {
    double sum = 0;
    for (const Cut& cut : testing::all_cuts(plan)) sum += length(std::span<const Vec3>(cut.points));
    return sum;
  }
};

TEST_F(ObstaclesOnFloor, SkippedBitsAreLeftOutAndTold) {
  CutPlan plan = passes();
  const std::size_t before = plan.cut_count();
  const double length_before = length_of(plan);
  heed(guarded_, surface_, 0.01, plan);
  EXPECT_GT(plan.cut_count(), before) << "passes over the block are in two pieces";
  for (const Cut& cut : testing::all_cuts(plan))
    for (const Vec3& p : cut.points) EXPECT_NEAR(p.z(), 0, 0.011) << "nothing rides on the block";
  ASSERT_EQ(plan.notes.size(), 1u);
  const double share = plan.notes[0].values[0].value[0];
  EXPECT_NEAR(share, 1 - length_of(plan) / length_before, 1e-6);
  EXPECT_GT(share, 0.02);
  EXPECT_NE(plan.notes[0].says.find("\"clamp\" is in the way"), std::string::npos);
  // Whatever is left begins and ends where the tool just touches the block.
  std::size_t touching = 0;
  for (const Cut& cut : testing::all_cuts(plan))
    for (const Vec3* end : {&cut.points.front(), &cut.points.back()})
      if (std::abs(end->x()) < 19) {
        ++touching;
        EXPECT_LT(room_around(surface_, *end, *end, 1), 0.011);
        const Box2 block(Vec2(5, -4), Vec2(9, 4));
        EXPECT_NEAR(block.exteriorDistance(yardpass::plan(*end)), 3, 0.02);
      }
  EXPECT_GT(touching, 4u);
}

TEST_F(ObstaclesOnFloor, OnlyTheLongestPieceIsKeptIfAsked) {
  CutPlan plan = passes();
  const std::size_t before = plan.cut_count();
  guarded_.only_longest = true;
  heed(guarded_, surface_, 0.01, plan);
  EXPECT_EQ(plan.cut_count(), before);
  for (const Cut& cut : testing::all_cuts(plan))
    if (std::abs(cut.points.front().y()) < 3)
      EXPECT_LT(std::max(cut.points.front().x(), cut.points.back().x()), 3) << "the longer side";
}

TEST_F(ObstaclesOnFloor, RefusedWithThePlace) {
  CutPlan plan = passes();
  guarded_.guards[0].rule = InTheWay::refuse;
  try {
    heed(guarded_, surface_, 0.01, plan);
    FAIL();
  } catch (const Error& error) {
    const std::string says = error.what();
    EXPECT_EQ(says.find("\"clamp\" is in the way at X "), 0u) << says;
    EXPECT_NE(says.find("pass "), std::string::npos) << says;
  }
  // What is nowhere in the way refuses nothing.
  CutPlan beside = cuts_of(ParallelOptions{.stepover_mm = 2},
                           {surface_, rectangle(Box2(Vec2(-20, -20), Vec2(1, 20))), nullptr, 0.01});
  const double length_before = length_of(beside);
  EXPECT_NO_THROW(heed(guarded_, surface_, 0.01, beside));
  EXPECT_EQ(length_of(beside), length_before);
}

TEST_F(ObstaclesOnFloor, RiddenOverIsLeftAlone) {
  CutPlan plan = passes();
  const double length_before = length_of(plan);
  guarded_.guards[0].rule = InTheWay::over;
  heed(guarded_, surface_, 0.01, plan);
  EXPECT_EQ(length_of(plan), length_before);
  EXPECT_TRUE(plan.notes.empty());
}

// A holder that is wide and near meets the block before the ball does.
TEST_F(ObstaclesOnFloor, HolderAndShankHaveRulesOfTheirOwn) {
  Tool tool = testing::ball_tool(6);
  tool.flute_length_mm = 6, tool.stickout_mm = 8, tool.shank_diameter_mm = 6;
  tool.holder = {{20, 14, 14}};
  const ToolSurface low = testing::exact_surface(part_, tool);
  const auto cuts = [&] {
    return cuts_of(ParallelOptions{.stepover_mm = 4},
                   {low, rectangle(Box2(Vec2(-12, -8), Vec2(12, 8))), nullptr, 0.01});
  };
  CutPlan skipped = cuts();
  Obstacles holder{.holder = InTheWay::skip};
  heed(holder, low, 0.01, skipped);
  ASSERT_EQ(skipped.notes.size(), 1u);
  EXPECT_EQ(skipped.notes[0].says.find("the holder is in the way"), 0u) << skipped.notes[0].says;
  for (const Cut& cut : testing::all_cuts(skipped))
    for (std::size_t i = 0; i + 1 < cut.points.size(); ++i) {
      const Vec3 middle = 0.5 * (cut.points[i] + cut.points[i + 1]);
      const auto touch = low.touch(yardpass::plan(middle));
      EXPECT_TRUE(touch && (touch->body == 0 || middle.z() > touch->height + 0.01)) << middle.transpose();
    }
  CutPlan refused = cuts();
  holder.holder = InTheWay::refuse;
  EXPECT_THROW(heed(holder, low, 0.01, refused), Error);
  CutPlan other = cuts();
  const double length_before = length_of(other);
  heed(Obstacles{.shank = InTheWay::skip}, low, 0.01, other);
  EXPECT_NEAR(length_of(other), length_before, 1e-6) << "it is not the shank";
}

TEST_F(ObstaclesOnFloor, ClosedCutsBecomeOpenPieces) {
  Cut ring{.points = {}, .closed = true};
  for (int k = 0; k < 72; ++k)
    ring.points.push_back(Vec3(7 + 6 * std::cos(k * 0.0872664626), 6 * std::sin(k * 0.0872664626), 0));
  for (Vec3& p : ring.points) p.z() = surface_.height(yardpass::plan(p));
  CutPlan plan = plan_of({ring});
  heed(guarded_, surface_, 0.01, plan);
  ASSERT_GE(plan.cut_count(), 2u);
  for (const Cut& cut : testing::all_cuts(plan)) {
    EXPECT_FALSE(cut.closed);
    EXPECT_GE(cut.points.size(), 2u);
  }
}

}  // namespace
}  // namespace yardpass
