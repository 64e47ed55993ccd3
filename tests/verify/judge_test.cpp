// The judge: clean programs are clean, and what is spoiled on purpose is found, named and measured.
#include "yardpass/verify/judge.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <sstream>

#include "parts.h"
#include "support/definition.h"
#include "support/nasty.h"
#include "support/planning.h"
#include "verify/slot.h"
#include "yardpass/link/link.h"
#include "yardpass/post/write_program.h"

namespace yardpass {
namespace {

using testing::has;
using testing::Slot;
using testing::slot_program;

class JudgeBowl : public ::testing::Test {
 protected:
  JudgeBowl() {
    const ToolSurface surface(part_, ball_);
    const Region area = rectangle(Box2(Vec2(-24, -24), Vec2(24, 24)));
    const CutPlan plan = cuts_of(ParallelOptions{.stepover_mm = 1.5}, {surface, area});
    path_ = link_cuts(plan, surface, block_, {.plane_z = 8, .steps = {.ladder = {.stay_down_mm = 4}}}).path;
  }
  [[nodiscard]] Program program() const { return program(path_); }
  [[nodiscard]] Program program(const Toolpath& path) const {
    const OperationPath operation{1, "finish the bowl", &path};
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
    if (!move.after_change) (move.rapid() ? rapid : feed) += length;
    seconds += length * 60 / (move.rapid() ? 15000 : move.feed_mm_min);
  }
  EXPECT_NEAR(operation.feed_mm, feed, 1e-6);
  EXPECT_NEAR(operation.rapid_mm, rapid, 1e-6);
  EXPECT_NEAR(operation.time.plain_s, seconds, 1e-6);
  EXPECT_GT(judgement.seconds, seconds);
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
  const LeftMap map = left_map(judgement.stock, *part_, 5);
  const LeftStatistics inside =
      statistics(map, judgement.stock, rectangle(Box2(Vec2(-10, -10), Vec2(10, 10))));
  EXPECT_NEAR(inside.area_mm2, 400, 10);
  EXPECT_GE(inside.least_mm, -1e-6);
  // Ridges between passes: d^2 / (8 R) on flat ground, less in the hollow bowl; plus the tolerance of the
  // passes.
  const double ridge = 1.5 * 1.5 / (8 * 3);
  EXPECT_LE(inside.greatest_mm, 1.55 * 1.55 / (8 * 3) + 0.021);
  EXPECT_GE(inside.greatest_mm, 0.6 * ridge);
  EXPECT_LE(inside.median_mm, inside.p95_mm);
  EXPECT_EQ(inside.within.back().limit_mm, 0.5);
  EXPECT_EQ(inside.within.back().share, 1);
  // Untouched stock, 1 mm above the plate and measured so also over its walls.
  const LeftStatistics whole =
      statistics(left_map(block_, *part_, 5), block_, rectangle(Box2(Vec2(-29, -29), Vec2(-25, -25))));
  EXPECT_NEAR(whole.median_mm, 1, 1e-6);
}

TEST_F(JudgeBowl, AHolderOrShankThatReachesThePartIsFound) {
  // The bowl is 5.36 deep and 40 wide: a wide holder 4 mm above the tip meets the plate, and the millimetre
  // of stock on it.
  Tool shorty = ball_;
  shorty.flute_length_mm = 3.5;
  shorty.stickout_mm = 4;
  shorty.holder = {{30, 60, 60}};
  const Judgement judgement = judge(program(), part_, {shorty}, block_);
  for (const FindingKind kind :
       {FindingKind::holder_into_part, FindingKind::holder_into_stock, FindingKind::deeper_than_flutes})
    EXPECT_TRUE(has(judgement, kind)) << name_of(kind);
  const double needed = judgement.operations[0].least_stickout_mm;
  EXPECT_NEAR(needed, 6.36, 0.02) << "over the millimetre of stock on the plate";
  shorty.stickout_mm = needed + 1e-6;
  const Judgement enough = judge(program(), part_, {shorty}, block_);
  EXPECT_FALSE(has(enough, FindingKind::holder_into_part));
  EXPECT_FALSE(has(enough, FindingKind::holder_into_stock));
  shorty.stickout_mm = needed - 0.01;
  EXPECT_TRUE(has(judge(program(), part_, {shorty}, block_), FindingKind::holder_into_stock));
  EXPECT_NEAR(judge(program(), part_, {shorty}, block_).operations[0].least_stickout_mm, needed, 1e-9);
  Tool thick = ball_;
  thick.flute_length_mm = 2;
  thick.shank_diameter_mm = 30;
  const Judgement shank = judge(program(), part_, {thick}, block_);
  EXPECT_TRUE(has(shank, FindingKind::shank_into_part));
  EXPECT_TRUE(has(shank, FindingKind::shank_into_stock));
  EXPECT_EQ(judged(program()).operations[0].least_stickout_mm, 0);
}

// Over cells that were cut away already nothing was met, however deep below the stock the tip went.
TEST(JudgeStock, BelowTheUndersideThereIsNothingToMeet) {
  const Slot slot;
  std::string text =
      "%\nG90 G21 G17 G94 G40 G49 G80 G54\n(operation 1: slot)\nT1 M6\nS5000 M3\nG0 X-10 Y10\nG43 H1 Z20\n"
      "G0 Z-9.5\nG1 X50 F800\nG1 Z-19.5\nG1 X-10\nG1 Z-29\nG1 X50\n";
  Slot deep = slot;
  deep.flat.flute_length_mm = 25;
  const Judgement first = judge(read_program(text + "M5\nM30\n%\n", "s"), slot.part, {deep.flat}, slot.block);
  // Back as a rapid, and 8 lower again: nothing but what is cut away stands there.
  text += "G0 X-10\nG0 Z-37\nG0 X50\nG1 X-10 F800\n";
  const Judgement judgement =
      judge(read_program(text + "M5\nM30\n%\n", "s"), slot.part, {deep.flat}, slot.block);
  EXPECT_FALSE(has(judgement, FindingKind::rapid_through_stock));
  EXPECT_EQ(has(judgement, FindingKind::deeper_than_flutes), has(first, FindingKind::deeper_than_flutes));
  EXPECT_NEAR(judgement.operations[0].air_feed_mm, first.operations[0].air_feed_mm + 60, 1e-6);
}

TEST(JudgeStock, DepthBelowTheFlutesIsMeasured) {
  Slot slot;
  EXPECT_TRUE(judge(slot_program(), slot.part, {slot.flat}, slot.block).clean());
  slot.flat.flute_length_mm = 3.2;
  const Judgement judgement = judge(slot_program(), slot.part, {slot.flat}, slot.block);
  ASSERT_EQ(judgement.findings.size(), 1u) << "one mistake";
  EXPECT_EQ(judgement.findings[0].kind, FindingKind::deeper_than_flutes);
  EXPECT_NEAR(judgement.findings[0].depth_mm, 0.8, 1e-6);
  EXPECT_EQ(judgement.findings[0].line, 9) << "the plunge is the first that does";
  slot.flat.flute_length_mm = 4;
  EXPECT_TRUE(judge(slot_program(), slot.part, {slot.flat}, slot.block).clean()) << "just long enough";
}

TEST(JudgeStock, AHolderAndAThickShankMeetTheStockBeside) {
  Slot slot;
  slot.flat.flute_length_mm = 5;
  slot.flat.stickout_mm = 3.5;
  slot.flat.holder = {{20, 12, 12}};
  const Judgement holder = judge(slot_program(), slot.part, {slot.flat}, slot.block);
  ASSERT_TRUE(has(holder, FindingKind::holder_into_stock));
  EXPECT_NEAR(holder.findings[0].depth_mm, 0.5, 1e-6);
  slot.flat.stickout_mm = 4.001;
  EXPECT_TRUE(judge(slot_program(), slot.part, {slot.flat}, slot.block).clean());
  slot.flat.stickout_mm = 30;
  slot.flat.flute_length_mm = 4;
  slot.flat.shank_diameter_mm = 8;
  EXPECT_TRUE(judge(slot_program(), slot.part, {slot.flat}, slot.block).clean())
      << "passes over the top face";
  const Judgement shank = judge(slot_program(5), slot.part, {slot.flat}, slot.block);
  EXPECT_TRUE(has(shank, FindingKind::shank_into_stock));
}

TEST(JudgeLimits, TravelGuardsDogLegsAndStatedDepths) {
  const Slot slot;
  JudgeOptions options;
  options.travel = Box3(Vec3(0, 0, -50), Vec3(34, 100, 500));
  Judgement judgement = judge(slot_program(), slot.part, {slot.flat}, slot.block, options);
  ASSERT_EQ(judgement.findings.size(), 1u);
  EXPECT_EQ(judgement.findings[0].kind, FindingKind::outside_travel);
  EXPECT_NEAR(judgement.findings[0].depth_mm, 1, 1e-9);
  // A clamp whose side is 1 mm beside the slot, and another 1.5.
  options = {};
  options.keep_away = {
      {"clamp", make_contact_part(testing::box_mesh(Box3(Vec3(10, 14, -5), Vec3(20, 18, 5)))), 1.5}};
  judgement = judge(slot_program(), slot.part, {slot.flat}, slot.block, options);
  ASSERT_EQ(judgement.findings.size(), 1u);
  EXPECT_EQ(judgement.findings[0].kind, FindingKind::too_near);
  EXPECT_EQ(judgement.findings[0].keep_away, "clamp");
  EXPECT_NEAR(judgement.findings[0].depth_mm, 0.5, 1e-6);
  options.keep_away[0].clearance_mm = 1;
  EXPECT_TRUE(judge(slot_program(), slot.part, {slot.flat}, slot.block, options).clean());
  // Straight, this rapid passes over the corner of the block; as a dog-leg it goes down first.
  options = {};
  const std::string across =
      "%\nG90 G21 G17 G94 G40 G49 G80 G54\n(operation 1: over)\nT1 M6\nS5000 M3\nG0 X-25 Y10\nG43 H1 Z10\n"
      "G0 X35 Y10 Z1\nG0 X-35 Z-2\nM5\nM30\n%\n";
  EXPECT_TRUE(judge(read_program(across, "x.nc"), slot.part, {slot.flat},
                    Stock(Box3(Vec3(30, 0, -20), Vec3(40, 20, 0)), 0.1), options)
                  .clean());
  options.dog_leg_rapids = true;
  const Judgement bent = judge(read_program(across, "x.nc"), slot.part, {slot.flat},
                               Stock(Box3(Vec3(30, 0, -20), Vec3(40, 20, 0)), 0.1), options);
  ASSERT_EQ(bent.findings.size(), 1u);
  EXPECT_EQ(bent.findings[0].kind, FindingKind::rapid_through_stock);
  EXPECT_EQ(bent.findings[0].line, 9);
  EXPECT_EQ(bent.operations[0].moves, 3) << "a dog-leg is one move";
  EXPECT_NEAR(bent.operations[0].rapid_mm, Vec3(60, 0, -9).norm() + Vec3(-70, 0, -3).norm(), 1e-6);
  // With Z far slower than X it is over the block before it is down.
  options.machine.rapid_mm_min = {15000, 15000, 300};
  EXPECT_TRUE(judge(read_program(across, "x.nc"), slot.part, {slot.flat},
                    Stock(Box3(Vec3(30, 0, -20), Vec3(40, 20, 0)), 0.1), options)
                  .clean());
  // A slot 0.3 into the part is no gouge where and as deep as its operation says.
  const auto high = make_contact_part(testing::box_mesh(Box3(Vec3(0, 0, -20), Vec3(40, 20, -3.7))));
  options = {};
  EXPECT_TRUE(has(judge(slot_program(), high, {slot.flat}, slot.block, options), FindingKind::gouge));
  options.intended = {{1, 0.3, rectangle(Box2(Vec2(0, 0), Vec2(40, 20)))}};
  EXPECT_TRUE(judge(slot_program(), high, {slot.flat}, slot.block, options).clean());
  options.intended[0].depth_mm = 0.25;
  EXPECT_TRUE(has(judge(slot_program(), high, {slot.flat}, slot.block, options), FindingKind::gouge));
  options.intended[0] = {1, 0.3, rectangle(Box2(Vec2(0, 0), Vec2(30, 20)))};
  EXPECT_TRUE(has(judge(slot_program(), high, {slot.flat}, slot.block, options), FindingKind::gouge))
      << "leaves its place";
}

TEST(JudgeLimits, AcceptedFindingsStayWithTheirReason) {
  Slot slot;
  slot.flat.flute_length_mm = 3.2;
  JudgeOptions options;
  options.accepted = {{FindingKind::deeper_than_flutes, 1, 1, "soft board"}};
  const Judgement judgement = judge(slot_program(), slot.part, {slot.flat}, slot.block, options);
  EXPECT_TRUE(judgement.clean());
  ASSERT_EQ(judgement.findings.size(), 1u);
  EXPECT_EQ(judgement.findings[0].accepted_because, "soft board");
  options.accepted[0].up_to_mm = 0.5;
  EXPECT_FALSE(judge(slot_program(), slot.part, {slot.flat}, slot.block, options).clean())
      << "deeper than was accepted";
}

TEST(JudgeLimits, UpToALine) {
  const Slot slot;
  JudgeOptions options;
  options.up_to_line = 9;  // the plunge, not the slot
  const Judgement judgement = judge(slot_program(), slot.part, {slot.flat}, slot.block, options);
  EXPECT_NEAR(slot.block.volume_mm3() - judgement.stock.volume_mm3(), std::numbers::pi * 9 * 4, 3);
  EXPECT_EQ(judgement.operations[0].moves, 3);
}

// Where the tool runs down outside the part below the stock's bottom, the next retract was called a rapid
// through stock, as deep as the tool stood below the bottom.
TEST(JudgeStock, BelowTheBottomThereIsNothingToMeet) {
  const Slot slot;  // a block from X 0 to 40, Y 0 to 20, its bottom at -20
  const auto program = [](const std::string& moves) {
    return read_program("G90 G21 G17\n(operation 1: around)\nT1 M6\nS5000 M3\nG0 X-10 Y-10\nG43 H1 Z20\n" +
                            moves + "\nG0 Z20\nM5\nM30\n",
                        "x.nc");
  };
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(10, 8, -60), Vec3(30, 12, -30))));
  // Beside the block, then through its edge, 8 below its bottom; back along the way that is cut, and up.
  const Program p = program("G0 Z-19\nG1 Z-28 F300\nX4 Y4\nX4 Y16\nX4 Y4\nX-10 Y-10");
  const Judgement judgement = judge(p, part, {slot.flat}, slot.block);
  EXPECT_FALSE(has(judgement, FindingKind::rapid_through_stock));
  const Program up = program("G0 Z-19\nG1 Z-28 F300\nX4 Y4\nX4 Y16");
  EXPECT_FALSE(has(judge(up, part, {slot.flat}, slot.block), FindingKind::rapid_through_stock))
      << "the retract stands in what is cut away";
  // Coming back over cells that are cut through takes nothing.
  const double back = Vec2(0, 12).norm() + Vec2(14, 14).norm();
  EXPECT_GE(judgement.operations[0].air_feed_mm, back - 1e-6);
  // A rapid through what still stands is found as deep as that is, not as deep as the tool.
  const Program through = program("G0 Z-28\nG0 X20 Y10");
  bool found = false;
  for (const Finding& finding : judge(through, part, {slot.flat}, slot.block).findings)
    if (finding.kind == FindingKind::rapid_through_stock) {
      found = true;
      EXPECT_NEAR(finding.depth_mm, 20, 0.01);
    }
  EXPECT_TRUE(found);
}

TEST_F(JudgeBowl, CanBePrinted) {
  const Judgement clean = judged(program());
  EXPECT_EQ(in_words(clean).rfind("clean: 0 findings; ", 0), 0u) << in_words(clean);
  Program p = program();
  p.moves[100].to.z() -= 1;
  const Judgement spoiled = judged(p);
  std::ostringstream out;
  out << spoiled;
  EXPECT_EQ(out.str(), in_words(spoiled));
  EXPECT_NE(out.str().find("line " + std::to_string(spoiled.findings[0].line) + ": gouge, "),
            std::string::npos)
      << out.str();
  EXPECT_NE(out.str().find("operation 1, T"), std::string::npos) << out.str();
}

TEST_F(JudgeBowl, CanBeStopped) {
  EXPECT_THROW((void)judge(program(), part_, {ball_}, block_, {}, [](double) { return false; }), Stopped);
}

// Guards and holders: the place told was the end of the move, far from where it came too near.
TEST(Judge, FindingsNameThePlaceAndNotTheEndOfTheMove) {
  Slot slot;
  const auto post = make_contact_part(testing::box_mesh(Box3(Vec3(19, 14, -20), Vec3(21, 16, 30))));
  JudgeOptions options;
  options.keep_away.push_back({"post", post, 3, {}});
  const Judgement judgement = judge(slot_program(), slot.part, {slot.flat}, slot.block, options);
  for (const Finding& finding : judgement.findings)
    if (finding.kind == FindingKind::too_near) {
      EXPECT_GT(finding.at.x(), 15) << "beside the post";
      EXPECT_LT(finding.at.x(), 25);
    }
  EXPECT_TRUE(has(judgement, FindingKind::too_near));
}

}  // namespace
}  // namespace yardpass
