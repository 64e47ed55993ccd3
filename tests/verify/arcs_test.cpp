// Programs with arcs before the judge: a bowl of radius 40, whose level circles a ball follows exactly.
#include <gtest/gtest.h>

#include <cmath>
#include <cstdio>
#include <numbers>

#include "parts.h"
#include "support/rng.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/verify/judge.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

class JudgeArcs : public ::testing::Test {
 protected:
  /// The tip that touches the bowl at this distance from its axis, from above and by `more`.
  [[nodiscard]] double tip_at(double s, double more = 0) const {
    return TipSurface(part_, Profile::ball(6)).height({s, 0}) + more;
  }
  [[nodiscard]] static Program program_of(const std::string& lines) {
    return read_program("G21 G90 G17\nT2 M6\nS9000 M3\nG0 X0 Y0\nG43 H2 Z5\n" + lines + "\nG0 Z20\nM5\nM30\n",
                        "x.nc");
  }
  [[nodiscard]] Judgement judged(const Program& p, const JudgeOptions& options = {}) const {
    return judge(p, part_, {ball_}, block_, options);
  }
  static std::string text(const char* format, double a, double b = 0, double c = 0, double d = 0) {
    char buffer[200];
    std::snprintf(buffer, sizeof buffer, format, a, b, c, d);
    return buffer;
  }

  Mesh mesh_ = demo::bowl(40, 20, 60, 0.002);
  std::shared_ptr<const ContactPart> part_ = make_contact_part(mesh_);
  Tool ball_ = completed({.name = "ball6",
                          .number = 2,
                          .diameter_mm = 6,
                          .flute_length_mm = 30,
                          .stickout_mm = 60,
                          .spindle_rpm = 9000,
                          .feed_mm_min = 1800,
                          .steepest_entry_deg = 90});
  Stock block_{Box3(Vec3(-30, -30, -16), Vec3(30, 30, 1)), 0.2};
};

TEST_F(JudgeArcs, ACircleOnTheBowlIsCleanAndADeeperOneIsNot) {
  const double z = std::ceil(1000 * tip_at(12, 0.003)) / 1000;
  const std::string circle = "G1 X12 Z%.3f F900\nG3 X12 I-12 J0\nG1 X0 Z0";
  const Judgement good = judged(program_of(text(circle.c_str(), z)));
  EXPECT_TRUE(good.clean()) << name_of(good.findings[0].kind);
  EXPECT_NEAR(good.operations[0].least_clearance_mm, 0.004, 0.004);
  EXPECT_NEAR(good.operations[0].feed_mm, 2 * kPi * 12 + std::hypot(12, 5 - z) + std::hypot(12, z), 1e-9);
  // The whole ring is carved to the bowl: half a turn away from where it starts as well.
  const auto cell = good.stock.cells_between({-12.1, -0.1}, {-11.9, 0.1});
  const Vec2 p = good.stock.centre(cell.first_column, cell.first_row);
  const double off = std::abs(p.norm() - 12);
  EXPECT_NEAR(good.stock.height(cell.first_column, cell.first_row), z + 3 - std::sqrt(9 - off * off), 1e-9);

  const Judgement deep = judged(program_of(text(circle.c_str(), z - 0.1)));
  ASSERT_FALSE(deep.clean());
  EXPECT_EQ(deep.findings[0].kind, FindingKind::gouge);
  // A ball's middle 0.1 lower, on a wall of slope s / (R - r): deeper by 0.1 cos.
  const double depth = 0.1 * std::sqrt(1 - std::pow(12.0 / 37, 2));
  EXPECT_NEAR(deep.findings[0].depth_mm, depth, 0.006);
}

TEST_F(JudgeArcs, OnlyTheArcsMiddleGouges) {
  // Ends and chord are clear: the chord runs through the bowl's middle, the arc swings out into its wall.
  const double z = std::ceil(1000 * tip_at(12, 0.003)) / 1000;
  const Judgement out = judged(program_of(text("G1 X0 Y-12 Z%.3f F900\nG3 X0 Y12 R12.2\nG1 Z5", z)));
  EXPECT_TRUE(out.clean()) << "flatter than the ring";
  const Judgement wide = judged(program_of(text("G1 X0 Y-12 Z%.3f F900\nG3 X0 Y12 I4 J12\nG1 Z5", z)));
  ASSERT_FALSE(wide.clean());
  EXPECT_EQ(wide.findings[0].line, 7);
  EXPECT_EQ(wide.findings.size(), 1u);
  EXPECT_GT(wide.findings[0].at.x(), 12);
  EXPECT_GT(wide.findings[0].depth_mm, 1);
  EXPECT_TRUE(judged(program_of("G1 X0 Y-12 Z-1 F900\nG1 X0 Y12\nG1 Z5")).clean());
}

TEST_F(JudgeArcs, AHelixIntoTheFloorIsFoundAndTravelHoldsForItsBulge) {
  const double floor = tip_at(4, 0.01);
  EXPECT_TRUE(judged(program_of(text("G1 X4 Z0 F900\nG3 X4 Z%.3f I-4\nG3 I-4\nG0 Z5", floor))).clean());
  const Judgement deep = judged(program_of(text("G1 X4 Z0 F900\nG3 X4 Z%.3f I-4\nG0 Z5", floor - 0.2)));
  ASSERT_FALSE(deep.clean());
  EXPECT_EQ(deep.findings[0].kind, FindingKind::gouge);
  EXPECT_EQ(deep.findings[0].line, 7);
  JudgeOptions options;
  options.travel = Box3(Vec3(-5, -3.5, -20), Vec3(20, 20, 1e4));
  const Judgement travel = judged(program_of("G1 X4 Z0 F900\nG2 X-4 I-4\nG0 Z5"), options);
  ASSERT_FALSE(travel.clean());
  EXPECT_EQ(travel.findings[0].kind, FindingKind::outside_travel);
  EXPECT_NEAR(travel.findings[0].depth_mm, 0.5, 1e-3);
  EXPECT_NEAR(travel.findings[0].at.y(), -4, 1e-3);
}

// The same program with every arc as many short lines must be judged alike, but for what the chords miss.
TEST_F(JudgeArcs, JudgedAsTheirChordsAre) {
  testing::Rng rng(11);
  int found = 0;
  for (int round = 0; round < testing::rounds(40); ++round) {
    const double s = rng.uniform(3, 14), z = std::round(1000 * (tip_at(s) + rng.uniform(-0.2, 0.5))) / 1000;
    const double turn = rng.uniform(-6, 6), drop = round % 3 ? 0 : rng.uniform(-0.3, 0.3);
    const Arc arc = Arc::in_plan({s, 0, z}, {rng.uniform(-2, 2), rng.uniform(-2, 2)}, turn, z + drop);
    Program curved = program_of("G1 X0 Y0 Z2 F900");
    ProgramMove way = curved.moves.back();
    way.line = 7, way.feed_mm_min = 900;
    Program chords = curved;
    const auto go = [&](Program& p, const Vec3& to, std::int32_t index) {
      ProgramMove move = way;
      move.from = p.moves.back().to, move.to = to, move.arc = index;
      p.moves.push_back(move);
    };
    curved.arcs.push_back(arc);
    go(curved, arc.start, -1);
    go(curved, arc.end, 0);
    go(chords, arc.start, -1);
    for (int i = 1; i <= 3000; ++i) go(chords, arc.at(i / 3000.0), -1);
    const Judgement a = judged(curved), b = judged(chords);
    EXPECT_EQ(a.clean(), b.clean()) << round;
    EXPECT_NEAR(a.operations[0].least_clearance_mm, b.operations[0].least_clearance_mm, 2.1e-4) << round;
    EXPECT_NEAR(a.operations[0].feed_mm, b.operations[0].feed_mm, 1e-3);
    // Chords of two stretches of the arc may be two findings.
    double deepest = 0;
    for (const Finding& finding : b.findings) deepest = std::max(deepest, finding.depth_mm);
    EXPECT_EQ(a.findings.size(), b.findings.empty() ? 0u : 1u) << round;
    if (a.findings.empty()) continue;
    ++found;
    EXPECT_NEAR(a.findings[0].depth_mm, deepest, 2.1e-4) << round;
  }
  EXPECT_GT(found, 5);
}

}  // namespace
}  // namespace yardpass
