// How tools go down into material, and cutters that cannot be proved.
#include <gtest/gtest.h>

#include "verify/slot.h"

namespace yardpass {
namespace {

using testing::has;
using testing::Slot;
using testing::slot_program;

/// A program of these lines, from 1 mm above the block at X5 Y10.
Program program_of(const std::string& lines) {
  return read_program("G90 G21 G17\n(operation 1: slot)\nT1 M6\nS5000 M3\nG0 X5 Y10\nG43 H1 Z20\nG0 Z1\n" +
                          lines + "\nG0 Z20\nM5\nM30\n",
                      "x.nc");
}

// Whatever the cutter, a plunge through solid was nobody's business unless its table said so.
TEST(JudgeEntry, APlungeThroughSolidIsAFindingForEveryCutter) {
  const Slot slot;
  for (const Shape shape : {Shape::ball, Shape::flat, Shape::bull, Shape::lollipop}) {
    Tool tool{.name = "t",
              .number = 1,
              .shape = shape,
              .diameter_mm = 6,
              .corner_radius_mm = shape == Shape::bull ? 1.0 : 0,
              .stickout_mm = 30,
              .spindle_rpm = 5000,
              .feed_mm_min = 800};
    const Judgement deep = judge(slot_program(4), slot.part, {tool}, slot.block);
    ASSERT_TRUE(has(deep, FindingKind::plunge_too_steep)) << name_of(shape);
    // Half a radius is what finishing may find at its entries.
    EXPECT_FALSE(
        has(judge(slot_program(1.45), slot.part, {tool}, slot.block), FindingKind::plunge_too_steep));
    EXPECT_TRUE(has(judge(slot_program(1.55), slot.part, {tool}, slot.block), FindingKind::plunge_too_steep));
    tool.steepest_entry_deg = 90;
    EXPECT_FALSE(has(judge(slot_program(4), slot.part, {tool}, slot.block), FindingKind::plunge_too_steep))
        << "it says that it drills";
  }
}

TEST(JudgeEntry, OnlyWhatTheToolSaysIsAFinding) {
  Slot slot;
  EXPECT_TRUE(judge(slot_program(), slot.part, {slot.flat}, slot.block).clean()) << "it may plunge";
  slot.flat.steepest_entry_deg = 5;
  const Judgement steep = judge(slot_program(), slot.part, {slot.flat}, slot.block);
  ASSERT_EQ(steep.findings.size(), 1u);
  EXPECT_EQ(steep.findings[0].kind, FindingKind::plunge_too_steep);
  EXPECT_EQ(steep.findings[0].line, 9);
  EXPECT_NEAR(steep.findings[0].depth_mm, 4, 1e-6) << "so much stands under its middle";
  slot.flat.steepest_entry_deg = 90;
  slot.flat.plunge_limit_mm_min = 200;
  const Judgement fast = judge(slot_program(), slot.part, {slot.flat}, slot.block);
  ASSERT_EQ(fast.findings.size(), 1u);
  EXPECT_EQ(fast.findings[0].kind, FindingKind::plunge_too_fast);
  slot.flat.plunge_limit_mm_min = 300;
  EXPECT_TRUE(judge(slot_program(), slot.part, {slot.flat}, slot.block).clean());
}

TEST(JudgeEntry, RampsAreMeasuredByTheirSlope) {
  Slot slot;
  slot.flat.steepest_entry_deg = 5;
  // 30 mm for 2 mm is 3.8 degrees, 20 mm for 2 mm 5.7.
  EXPECT_TRUE(judge(program_of("G1 Z0 F300\nX35 Z-2\nX5"), slot.part, {slot.flat}, slot.block).clean());
  const Judgement steep = judge(program_of("G1 Z0 F300\nX25 Z-2\nX5"), slot.part, {slot.flat}, slot.block);
  EXPECT_TRUE(has(steep, FindingKind::plunge_too_steep));
  // A helix of 4 mm round: 12.6 mm a turn; 1 mm a turn is 4.6 degrees, 1.5 mm 6.8.
  EXPECT_TRUE(judge(program_of("G1 Z0 F300\nG3 Z-1 I2\nG3 I2"), slot.part, {slot.flat}, slot.block).clean());
  EXPECT_TRUE(has(judge(program_of("G1 Z0 F300\nG3 Z-1.5 I2\nG3 I2"), slot.part, {slot.flat}, slot.block),
                  FindingKind::plunge_too_steep));
}

TEST(JudgeEntry, ThroughAirAnySlopeWillDo) {
  Slot slot;
  slot.flat.steepest_entry_deg = 2;
  slot.flat.plunge_limit_mm_min = 100;
  // Beside the block, and into a slot that is there already.
  EXPECT_TRUE(judge(program_of("G0 X-10\nG1 Z-5 F800\nX-4"), slot.part, {slot.flat}, slot.block).clean());
  Stock open = slot.block;
  for (double& z : open.heights()) z = -5;
  EXPECT_TRUE(judge(program_of("G1 Z-5 F800\nX20"), slot.part, {slot.flat}, open).clean());
}

TEST(JudgeEntry, AProgramWithAnUndercutCutterIsNeverClean) {
  Slot slot;
  slot.flat = completed({.name = "lolly",
                         .number = 1,
                         .shape = Shape::lollipop,
                         .diameter_mm = 6,
                         .stickout_mm = 30,
                         .spindle_rpm = 5000,
                         .feed_mm_min = 800});
  JudgeOptions options;
  options.accepted = {{FindingKind::undercut_cutter, 1, 100, "wished away"}};
  const Judgement judgement = judge(slot_program(), slot.part, {slot.flat}, slot.block, options);
  ASSERT_TRUE(has(judgement, FindingKind::undercut_cutter));
  EXPECT_FALSE(judgement.clean());
  EXPECT_EQ(judgement.findings[0].line, 9);
  EXPECT_EQ(std::count_if(judgement.findings.begin(), judgement.findings.end(),
                          [](const Finding& f) { return f.kind == FindingKind::undercut_cutter; }),
            1);
}

TEST(JudgeEntry, EachOperationsStockIsToldInOrder) {
  const Slot slot;
  const Program program = read_program(
      "G90 G21 G17\n(operation 1: one)\nT1 M6\nS5000 M3\nG0 X5 Y10\nG43 H1 Z20\nG1 Z-2 F300\nX35\nG0 Z20\n"
      "(operation 2: two)\nG0 X5\nG1 Z-4\nX35\nG0 Z20\nM5\nM30\n",
      "x.nc");
  std::vector<std::int32_t> order;
  std::vector<double> volumes;
  JudgeOptions options;
  options.after_operation = [&](std::int32_t operation, const Stock& stock) {
    order.push_back(operation);
    volumes.push_back(stock.volume_mm3());
  };
  const Judgement judgement = judge(program, slot.part, {slot.flat}, slot.block, options);
  EXPECT_EQ(order, (std::vector<std::int32_t>{0, 1}));
  const double slot_area = 30 * 6 + 9 * 3.14159;
  EXPECT_NEAR(slot.block.volume_mm3() - volumes[0], 2 * slot_area, 2);
  EXPECT_NEAR(volumes[0] - volumes[1], 2 * slot_area, 2);
  EXPECT_EQ(volumes[1], judgement.stock.volume_mm3());
  // The last cut counts moves of the whole program.
  EXPECT_EQ(program.moves[static_cast<std::size_t>(judgement.last_cut[slot.block.index(200, 100)])].line, 13);
}

// Only what has changed is measured again, and the result is that of measuring everything.
TEST(RunningLeft, IsTheMapOfTheStockAsItIs) {
  const auto part = make_contact_part(testing::sheet(
      Box2(Vec2(-10, -10), Vec2(10, 10)), 30, 30, [](double x, double y) { return 0.1 * x + 0.02 * y * y; }));
  Stock stock(Box3(Vec3(-12, -10, -5), Vec3(10, 10, 4)), 0.25);
  RunningLeft running(*part, 5);
  const Profile ball = Profile::ball(4);
  for (int pass = 0; pass < 4; ++pass) {
    const SweptMove move{{-8.0 + 4 * pass, -9, 1.0 - pass}, {-8.0 + 4 * pass, 9, 2}, 0, true};
    carve(stock, {&ball, 1}, {&move, 1});
    const LeftMap whole = left_map(stock, *part, 5), &map = running.update(stock);
    ASSERT_EQ(map.left_mm.size(), whole.left_mm.size());
    for (std::size_t i = 0; i < whole.left_mm.size(); ++i)
      ASSERT_TRUE(map.left_mm[i] == whole.left_mm[i] ||
                  (std::isnan(map.left_mm[i]) && std::isnan(whole.left_mm[i])));
  }
}

}  // namespace
}  // namespace yardpass
