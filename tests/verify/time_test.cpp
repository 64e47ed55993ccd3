// Times against closed forms of trapezes and corners.
#include "yardpass/verify/time.h"

#include <gtest/gtest.h>

#include <cmath>

namespace yardpass {
namespace {

Program line_of(const std::vector<Vec3>& places, double feed) {
  Program program;
  program.operations = {{1, "one"}};
  program.tools = {1};
  for (std::size_t i = 0; i + 1 < places.size(); ++i)
    program.moves.push_back({places[i], places[i + 1], feed, static_cast<std::int32_t>(i), 1, 0});
  return program;
}

double total(const Program& program, const MachineMotion& machine) {
  double sum = 0;
  for (const double s : seconds_of_moves(program, machine)) sum += s;
  return sum;
}

const MachineMotion kMachine{.rapid_mm_min = {12000, 12000, 12000},
                             .acceleration_mm_s2 = 1000,
                             .corner_jump_mm_min = 600,
                             .tool_change_s = 7};

TEST(Time, OneMoveIsATrapezeOrATriangle) {
  // 100 mm at 6000 mm/min (100 mm/s): 0.1 s up, 0.1 s down over 5 mm each, 90 mm at speed.
  EXPECT_NEAR(total(line_of({{0, 0, 0}, {100, 0, 0}}, 6000), kMachine), 0.2 + 0.9, 1e-12);
  // 2.5 mm: never at speed; up and down with 1000 mm/s2 takes 2 sqrt(2.5 / 1000).
  EXPECT_NEAR(total(line_of({{0, 0, 0}, {2.5, 0, 0}}, 6000), kMachine), 2 * std::sqrt(0.0025), 1e-12);
}

TEST(Time, StraightBlocksCostNothing) {
  std::vector<Vec3> places;
  for (int i = 0; i <= 400; ++i) places.emplace_back(0.25 * i, 0, 0);
  EXPECT_NEAR(total(line_of(places, 6000), kMachine), 1.1, 1e-9);
}

TEST(Time, ARightCornerIsTakenAtTheJumpOverRootTwo) {
  // Stops are sqrt(2) / jump: 10 mm/s / 1.4142 = 7.07 mm/s at the corner.
  const double v = 10 / std::sqrt(2.0), top = 100, a = 1000;
  const double leg =
      top / a + (top - v) / a + (50 - top * top / (2 * a) - (top * top - v * v) / (2 * a)) / top;
  EXPECT_NEAR(total(line_of({{0, 0, 0}, {50, 0, 0}, {50, 50, 0}}, 6000), kMachine), 2 * leg, 1e-12);
}

TEST(Time, AnArcIsHeldByTheAccelerationTowardsItsAxis) {
  Program program = line_of({{5, 0, 0}, {-5, 0, 0}}, 6000);
  program.arcs = {Arc::in_plan({5, 0, 0}, {0, 0}, M_PI, 0)};
  program.moves[0].arc = 0;
  // v^2 / 5 = 1000: 70.7 mm/s instead of 100; up to it and down again over 2.5 mm each.
  const double v = std::sqrt(5000.0);
  EXPECT_NEAR(total(program, kMachine), 2 * v / 1000 + (5 * M_PI - v * v / 1000) / v, 1e-9);
  // A line in the direction of its end goes over without a stop, one back does not.
  Program on = line_of({{5, 0, 0}, {-5, 0, 0}, {-5, -50, 0}}, 6000), back = on;
  on.arcs = back.arcs = program.arcs;
  on.moves[0].arc = back.moves[0].arc = 0;
  back.moves[1].to.y() = 50;
  EXPECT_LT(total(on, kMachine) + 0.05, total(back, kMachine));
  EXPECT_NEAR(times_of(program, kMachine)[0].plain_s, 7 + 5 * M_PI / 100, 1e-12);
}

TEST(Time, RapidsAreAsFastAsTheSlowestAxisAllows) {
  MachineMotion machine = kMachine;
  machine.rapid_mm_min = {6000, 6000, 3000};
  machine.acceleration_mm_s2 = 1e9;
  Program program = line_of({{0, 0, 0}, {60, 0, 30}}, 600);
  program.moves[0].feed_mm_min = 0;
  EXPECT_NEAR(total(program, machine), 0.6, 1e-6) << "both axes need as long";
  program.moves[0].to.z() = 60;
  EXPECT_NEAR(total(program, machine), 1.2, 1e-6) << "Z holds it back";
}

TEST(Time, ShortBlocksInACurveSlowDown) {
  const auto circle = [](int n) {
    std::vector<Vec3> places;
    for (int i = 0; i <= n; ++i)
      places.emplace_back(5 * std::cos(2 * M_PI * i / n), 5 * std::sin(2 * M_PI * i / n), 0);
    return line_of(places, 6000);
  };
  const double plain = 2 * M_PI * 5 / 100;
  EXPECT_GT(total(circle(12), kMachine), 1.9 * plain) << "corners of 30 degrees: 19 mm/s";
  EXPECT_LT(total(circle(300), kMachine), 1.5 * plain) << "corners of 1.2 degrees are taken at full feed";
}

TEST(Time, FarCornersAreSeenAhead) {
  // 200 short blocks straight, then straight back: it must begin to slow down many blocks before.
  std::vector<Vec3> places;
  for (int i = 0; i <= 200; ++i) places.emplace_back(0.05 * i, 0, 0);
  for (int i = 199; i >= 0; --i) places.emplace_back(0.05 * i, 0, 0);
  const auto seconds = seconds_of_moves(line_of(places, 6000), kMachine);
  EXPECT_GT(seconds[199], seconds[100]);
  // Each way by itself: 10 mm, up from rest and down to 5 mm/s.
  const double peak = std::sqrt((0 + 25) / 2.0 + 1000 * 10);
  double way = 0;
  for (int i = 0; i < 200; ++i) way += seconds[static_cast<std::size_t>(i)];
  EXPECT_NEAR(way, (2 * peak - 5) / 1000, 1e-3);
}

TEST(Time, KindsAreToldApart) {
  Program program = line_of({{0, 0, 10}, {30, 0, 10}, {30, 0, 0}, {60, 0, 0}, {60, 0, 10}}, 600);
  program.moves[0].feed_mm_min = program.moves[3].feed_mm_min = 0;
  const OperationTime time = times_of(program, kMachine).at(0);
  EXPECT_NEAR(time.rapid_s, 2 * std::sqrt(30 / 1000.0), 1e-9) << "a triangle of speed";
  EXPECT_NEAR(time.retract_s, 2 * std::sqrt(10 / 1000.0), 1e-9);
  EXPECT_EQ(time.tool_change_s, 7);
  EXPECT_NEAR(time.plain_s, 7 + 40 / 200.0 + 40 / 10.0, 1e-9);
  EXPECT_GT(time.feed_s, 4);
  EXPECT_LT(time.feed_s, 4.1);
}

}  // namespace
}  // namespace yardpass
