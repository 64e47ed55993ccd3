// The judge: clean programs are clean, and what is spoiled on purpose is found, named and measured.
#include "yardpass/verify/judge.h"

#include <gtest/gtest.h>

#include <cmath>

#include "parts.h"
#include "support/definition.h"
#include "support/nasty.h"
#include "yardpass/link/link.h"
#include "yardpass/plan/parallel.h"
#include "yardpass/post/write_program.h"

namespace yardpass {
namespace {

class JudgeBowl : public ::testing::Test {
 protected:
  JudgeBowl() {
    const TipSurface surface(part_, profile_of(ball_), {.allowance_mm = rounding_reserve({})});
    const auto cuts =
        plan_parallel(surface, rectangle(Box2(Vec2(-24, -24), Vec2(24, 24))), {.stepover_mm = 1.5});
    Stock stock = block_;
    path_ = link_cuts(cuts, surface, ball_, stock, {.clearance_z = 8, .link_distance_mm = 4});
  }
  [[nodiscard]] Program program() const { return program(path_); }
  [[nodiscard]] Program program(const Toolpath& path) const {
    const OperationPath operation{"finish the bowl", "parallel", &ball_, &path};
    return read_program(write_program("bowl", {&operation, 1}).text, "bowl.nc");
  }
  [[nodiscard]] Judgement judged(const Program& p) const { return judge(p, part_, {ball_}, block_); }

  Mesh mesh_ = demo::bowl(40, 20, 60, 0.02);
  std::shared_ptr<const ContactPart> part_ = make_contact_part(mesh_);
  Tool ball_ =
      completed({.name = "ball6", .number = 2, .diameter_mm = 6, .spindle_rpm = 9000, .feed_mm_min = 1800});
  Stock block_{Box3(Vec3(-30, -30, -16), Vec3(30, 30, 1)), 0.2};
  Toolpath path_;
};

TEST_F(JudgeBowl, AnHonestProgramIsClean) {
  const Program p = program();
  const Judgement judgement = judged(p);
  EXPECT_TRUE(judgement.clean());
  ASSERT_EQ(judgement.operations.size(), 1u);
  const OperationJudgement& operation = judgement.operations[0];
  EXPECT_GE(operation.least_clearance_mm, -1e-6);
  EXPECT_LE(operation.least_clearance_mm, 0.002);
  // Lengths and times by hand.
  double feed = 0, rapid = 0, seconds = 10;
  for (const ProgramMove& move : p.moves) {
    const double length = (move.to - move.from).norm();
    if (move.from.z() < kChangeHeight) (move.rapid() ? rapid : feed) += length;
    seconds += length * 60 / (move.rapid() ? 15000 : move.feed_mm_min);
  }
  EXPECT_NEAR(operation.feed_mm, feed, 1e-6);
  EXPECT_NEAR(operation.rapid_mm, rapid, 1e-6);
  EXPECT_NEAR(judgement.seconds, seconds, 1e-6);
}

TEST_F(JudgeBowl, ADeeperMoveIsFoundWithLinePlaceAndDepth) {
  // By the distance of the ball's middle from the mesh: a judge that shares no code with contact.
  Program p = program();
  int edited = 0;
  for (std::size_t i = 60; i < p.moves.size(); i += 97) {
    if (p.moves[i].rapid() || p.moves[i + 1].rapid()) continue;
    Program spoiled = p;
    spoiled.moves[i].to.z() -= 0.1;
    spoiled.moves[i + 1].from.z() -= 0.1;
    const Vec3 up(0, 0, 3);
    const double into_a =
        3 - testing::segment_to_mesh(spoiled.moves[i].from + up, spoiled.moves[i].to + up, mesh_);
    if (into_a < 0.01) continue;
    ++edited;
    const Judgement judgement = judged(spoiled);
    ASSERT_EQ(judgement.findings.size(), 1u) << "line " << p.moves[i].line;
    const Finding& finding = judgement.findings[0];
    EXPECT_EQ(finding.kind, FindingKind::gouge);
    EXPECT_EQ(finding.line, p.moves[i].line);
    EXPECT_NEAR(finding.depth_mm, into_a, 0.005);
    EXPECT_LT((finding.at - spoiled.moves[i].to).norm(), (p.moves[i].to - p.moves[i].from).norm() + 1);
    EXPECT_NEAR(judgement.operations[0].least_clearance_mm, -finding.depth_mm, 1e-9);
    if (edited == 6) break;
  }
  EXPECT_GE(edited, 4);
}

TEST_F(JudgeBowl, TheWrongToolIsFound) {
  Tool larger = ball_;
  larger.diameter_mm = 8;
  const Judgement judgement = judge(program(), part_, {larger}, block_);
  EXPECT_FALSE(judgement.clean());
  EXPECT_LT(judgement.findings.size(), 30u);  // one mistake, not a row for each move
  double deepest = 0;
  for (const Finding& finding : judgement.findings) deepest = std::max(deepest, finding.depth_mm);
  // A ball of radius 4 with its tip where one of 3 was, on a wall of slope angle a: deeper by (1 - cos a); at
  // the rim of the bowl the wall has 30 degrees, and on the sharp edge more.
  EXPECT_GT(deepest, 1 - std::cos(30 * 3.14159 / 180) - 0.02);
  EXPECT_LT(deepest, 1);
  EXPECT_THROW((void)judge(program(), part_, {completed({.number = 9, .diameter_mm = 6})}, block_), Error);
}

TEST_F(JudgeBowl, RapidsThroughStockAndPartAreFound) {
  Toolpath path = path_;
  for (std::size_t i = 20; i < path.moves.size(); ++i) {
    if (path.moves[i].kind != MoveKind::cut) continue;
    // A feed move into fresh material turned rapid.
    path.moves[i].kind = MoveKind::rapid;
    path.moves[i].feed_mm_min = 0;
    break;
  }
  const Judgement through_stock = judged(program(path));
  ASSERT_FALSE(through_stock.clean());
  EXPECT_EQ(through_stock.findings[0].kind, FindingKind::rapid_through_stock);

  path = path_;
  path.moves.push_back({{0, 0, 8}, MoveKind::rapid, 0});
  path.moves.push_back({{0, 0, -8}, MoveKind::rapid, 0});
  const Judgement into_part = judged(program(path));
  bool found = false;
  for (const Finding& finding : into_part.findings) {
    if (finding.kind != FindingKind::rapid_into_part) continue;
    found = true;
    // The bowl's lowest point is at -5.359; the tip goes 2.641 below it, no deeper than the ball is thick.
    EXPECT_NEAR(finding.depth_mm, 2.641, 0.02);
  }
  EXPECT_TRUE(found);
}

TEST_F(JudgeBowl, WhatIsBelowTheLimitRaisesNothing) {
  Program p = program();
  for (ProgramMove& move : p.moves)
    if (!move.rapid()) move.from.z() -= 0.0005, move.to.z() -= 0.0005;
  EXPECT_TRUE(judged(p).clean());
  EXPECT_LT(judged(p).operations[0].least_clearance_mm, 0.0004);
}

TEST_F(JudgeBowl, ExcessIsTheDistanceToThePart) {
  const Judgement judgement = judged(program());
  const ExcessMap map = excess_map(judgement.stock, *part_, 5);
  const ExcessStatistics inside =
      statistics(map, judgement.stock, rectangle(Box2(Vec2(-10, -10), Vec2(10, 10))));
  EXPECT_NEAR(inside.area_mm2, 400, 10);
  EXPECT_GE(inside.least_mm, -1e-6);
  // Ridges between passes: d^2 / (8 R) on flat ground, less in the hollow bowl; plus the tolerance of the
  // passes.
  const double ridge = 1.5 * 1.5 / (8 * 3);
  EXPECT_LE(inside.greatest_mm, 1.55 * 1.55 / (8 * 3) + 0.02);
  EXPECT_GE(inside.greatest_mm, 0.6 * ridge);
  EXPECT_LE(inside.median_mm, inside.p95_mm);
  EXPECT_EQ(inside.within.back().limit_mm, 0.5);
  EXPECT_EQ(inside.within.back().share, 1);
  // Untouched stock, 1 mm above the plate and measured so also over its walls.
  const ExcessStatistics whole =
      statistics(excess_map(block_, *part_, 5), block_, rectangle(Box2(Vec2(-29, -29), Vec2(-25, -25))));
  EXPECT_NEAR(whole.median_mm, 1, 1e-6);
}

TEST_F(JudgeBowl, AHolderOrShankThatReachesThePartIsFound) {
  // The bowl is 5.36 deep and 40 wide: a wide holder 4 mm above the tip meets the plate.
  Tool shorty = ball_;
  shorty.flute_length_mm = 3.5;
  shorty.stickout_mm = 4;
  shorty.holder = {{30, 60, 60}};
  const Judgement judgement = judge(program(), part_, {shorty}, block_);
  ASSERT_FALSE(judgement.clean());
  EXPECT_EQ(judgement.findings[0].kind, FindingKind::holder_into_part);
  const double needed = judgement.operations[0].least_stickout_mm;
  EXPECT_NEAR(needed, 5.36, 0.02);
  shorty.stickout_mm = needed + 1e-6;
  EXPECT_TRUE(judge(program(), part_, {shorty}, block_).clean());
  Tool thick = ball_;
  thick.flute_length_mm = 2;
  thick.shank_diameter_mm = 30;
  const Judgement shank = judge(program(), part_, {thick}, block_);
  ASSERT_FALSE(shank.clean());
  EXPECT_EQ(shank.findings[0].kind, FindingKind::shank_into_part);
  EXPECT_EQ(judged(program()).operations[0].least_stickout_mm, 0);
}

TEST_F(JudgeBowl, CanBeStopped) {
  EXPECT_THROW((void)judge(program(), part_, {ball_}, block_, {}, [](double) { return false; }), Stopped);
}

}  // namespace
}  // namespace yardpass
