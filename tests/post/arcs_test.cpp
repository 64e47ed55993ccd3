// Arcs in programs: what their words mean, and what is refused.
#include <gtest/gtest.h>

#include <cmath>
#include <cstdio>
#include <numbers>

#include "support/nasty.h"
#include "yardpass/post/read_program.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

/// A program that stands at X0 Y0 Z1 and then does these lines.
Program program_of(const std::string& lines) {
  return read_program(
      "G21 G90 G17\nT1 M6\nS1000 M3\nG0 X0 Y0\nG43 H1 Z10\nG1 F100 Z1\n" + lines + "\nM5\nM30\n", "x.nc");
}

Arc last_arc(const std::string& lines) {
  const Program program = program_of(lines);
  const Arc* arc = program.arc_of(program.moves.back());
  EXPECT_NE(arc, nullptr) << lines;
  return arc ? *arc : Arc{};
}

TEST(Arcs, ByTheirAxis) {
  const Arc left = last_arc("G3 X2 Y2 I0 J2");
  EXPECT_NEAR(left.turn_rad, kPi / 2, 1e-12);
  EXPECT_LT((left.at(0.5) - Vec3(std::sqrt(2), 2 - std::sqrt(2), 1)).norm(), 1e-12);
  const Arc right = last_arc("G2 X2 Y2 J2");
  EXPECT_NEAR(right.turn_rad, -1.5 * kPi, 1e-12);
  const Arc helix = last_arc("G91.1\nG3 X2 Y2 Z-1 J2");
  EXPECT_NEAR(helix.at(0.5).z(), 0, 1e-12);
  for (const char* circle : {"G3 I2", "G2 X0 Y0 I2", "G2 X0 I2 J0"}) {
    const Arc arc = last_arc(circle);
    EXPECT_NEAR(std::abs(arc.turn_rad), 2 * kPi, 1e-12) << circle;
    EXPECT_LT((arc.at(0.5) - Vec3(4, 0, 1)).norm(), 1e-12) << circle;
  }
  EXPECT_LT(last_arc("G2 I2").turn_rad, 0);
}

TEST(Arcs, ByTheirRadius) {
  EXPECT_LT((last_arc("G3 X2 Y2 R2").at(0.5) - Vec3(std::sqrt(2), 2 - std::sqrt(2), 1)).norm(), 1e-12);
  EXPECT_LT((last_arc("G2 X2 Y2 R2").at(0.5) - Vec3(2 - std::sqrt(2), std::sqrt(2), 1)).norm(), 1e-12);
  EXPECT_NEAR(last_arc("G2 X2 Y2 R-2").turn_rad, -1.5 * kPi, 1e-12);
  EXPECT_NEAR(last_arc("G3 X4 R2").turn_rad, kPi, 1e-12);
  EXPECT_NEAR(last_arc("G3 X4 R1.999").turn_rad, kPi, 0.1);  // half a turn, rounded
}

TEST(Arcs, InTheUprightPlanes) {
  // Seen from +Y, with Z to the right and X up, G3 from X0 Z1 about X0 Z0 goes to X1 Z0.
  const Arc zx = last_arc("G18 G3 X1 Z0 K-1");
  EXPECT_LT((zx.at(0.5) - Vec3(std::sqrt(0.5), 0, std::sqrt(0.5))).norm(), 1e-12);
  // From Y0 Z1 about Y0 Z0, seen from +X, counter-clockwise goes to Y-1 Z0.
  const Arc yz = last_arc("G19 G3 Y-1 Z0 J0 K-1");
  EXPECT_LT((yz.at(0.5) - Vec3(0, -std::sqrt(0.5), std::sqrt(0.5))).norm(), 1e-12);
  EXPECT_EQ(last_arc("G18 G3 X1 Z0 K-1\nG17 G3 X2 Y1 J1").plane, ArcPlane::xy);
}

TEST(Arcs, InInches) {
  const Program program = read_program(
      "G20 G90\nT1 M6\nS5 M3\nG0 X1 Y0\nG43 H1 Z1\nG1 Z0.5 F10\nG3 X0 Y1 I-1\nM5\nM30\n", "x.nc");
  const Arc* arc = program.arc_of(program.moves.back());
  ASSERT_NE(arc, nullptr);
  EXPECT_NEAR(program.length_of(program.moves.back()), 25.4 * kPi / 2, 1e-9);
  EXPECT_NEAR(arc->start_radius(), 25.4, 1e-12);
}

TEST(Arcs, WrittenWithThreeDecimalsTheyComeBack) {
  testing::Rng rng(7);
  for (int round = 0; round < 500; ++round) {
    const double radius = rng.uniform(0.3, 50), from = rng.uniform(0, 6.28), turn = rng.uniform(0.05, 6.2);
    const bool clockwise = rng.pick(2) == 1;
    const Vec2 start = Vec2(rng.uniform(-30, 30), rng.uniform(-30, 30));
    const Vec2 centre = start - radius * Vec2(std::cos(from), std::sin(from));
    const double to = from + (clockwise ? -turn : turn);
    const Vec2 end = centre + radius * Vec2(std::cos(to), std::sin(to));
    char text[160];
    std::snprintf(text, sizeof text, "X%.3f Y%.3f\nG%d X%.3f Y%.3f I%.3f J%.3f", start.x(), start.y(),
                  clockwise ? 2 : 3, end.x(), end.y(), centre.x() - start.x(), centre.y() - start.y());
    const Arc arc = last_arc(text);
    EXPECT_NEAR(arc.turn_rad, clockwise ? -turn : turn, 0.003 / radius + 1e-9) << text;
    const double half = from + (clockwise ? -turn : turn) / 2;
    const Vec2 middle = centre + radius * Vec2(std::cos(half), std::sin(half));
    EXPECT_LT((plan(arc.at(0.5)) - middle).norm(), 0.004) << text;
    EXPECT_EQ(arc.at(1), arc.end);
  }
}

TEST(Arcs, RefusesWhatIsNoArc) {
  const struct {
    const char* text;
    const char* why;
  } wrong[] = {{"G2 X1 Y1", "needs its axis"},
               {"G2 X1 Y1 I1 R1", "either R or"},
               {"G2 X1 Y1 I1 K1", "K does not belong"},
               {"G18 G2 X1 J1", "J does not belong"},
               {"G2 X0 Y0 R5", "full circle"},
               {"G2 X10 R4", "too small"},
               {"G2 X1 Y1 I1 J0.1", "does not end on its circle"},
               {"G2 X0 Y0 I0 J0", "without a radius"},
               {"G1 X1 I1", "belong to arcs"},
               {"G90.1", "absolute"},
               {"G2 X1 Y1 I1 J0 P2", "word P"},
               {"G2 X1 Y1 I1 J0\nX2 Y2", "needs its axis"},
               {"M5\nG2 X1 Y1 I1 J0", "stands still"},
               {"T2 M6\nS5 M3\nG2 X1 Y1 I1 J0", "rapids"}};
  for (const auto& r : wrong) {
    try {
      (void)program_of(r.text);
      ADD_FAILURE() << "accepted: " << r.text;
    } catch (const Error& error) {
      const std::string what = error.what();
      EXPECT_EQ(what.rfind("x.nc:", 0), 0u) << what;
      EXPECT_NE(what.find(r.why), std::string::npos) << r.text << " -> " << what;
    }
  }
}

}  // namespace
}  // namespace yardpass
