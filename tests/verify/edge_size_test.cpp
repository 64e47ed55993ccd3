// Broken edges measured: against closed forms, and where nothing can be said.
#include "yardpass/verify/edge_size.h"

#include <gtest/gtest.h>

#include "support/nasty.h"
#include "support/ridge.h"
#include "support/rng.h"
#include "yardpass/plan/edge_break.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

Tool ball(double diameter) {
  return completed({.name = "ball",
                    .number = 1,
                    .shape = Shape::ball,
                    .diameter_mm = diameter,
                    .flute_length_mm = 12,
                    .stickout_mm = 40});
}

/// Cutting moves from place to place, an operation each.
Program program_of(const std::vector<std::vector<Vec3>>& operations) {
  Program program;
  for (std::size_t k = 0; k < operations.size(); ++k) {
    program.operations.push_back({static_cast<std::int32_t>(k) + 1});
    for (std::size_t i = 0; i + 1 < operations[k].size(); ++i)
      program.moves.push_back(
          {operations[k][i], operations[k][i + 1], 800, ++program.lines, 1, static_cast<std::int32_t>(k)});
  }
  program.tools = {1};
  return program;
}

/// A ridge, and the middle 20 mm of its edge to be measured.
struct Broken {
  testing::Ridge ridge;
  std::shared_ptr<const ContactPart> part;
  Stock stock;
  EdgesAsked asked;
  Broken(double material_deg, double lean_deg, double slope_deg, double round_deg, double size,
         BreakMeasure measure = BreakMeasure::width)
      : ridge(material_deg, lean_deg, slope_deg, round_deg),
        part(make_contact_part(ridge.mesh)),
        stock(Box3(Vec3(-30, -30, -30), Vec3(30, 30, 30)), 1) {
    asked = {measure, size, {{7, {}}}};
    for (int k = 0; k < 20; ++k) {
      EdgeSection here = ridge.section;
      here.at += (k - 9.5) * here.along;
      asked.edges[0].stretches.push_back({here, 1});
    }
  }
  /// A tip beside the middle of the edge, run along it.
  [[nodiscard]] std::vector<Vec3> along(const Vec3& tip, double from = -20, double to = 20) const {
    return {tip + from * ridge.section.along, tip + to * ridge.section.along};
  }
  [[nodiscard]] EdgeSizes measured(const Program& program, const Tool& tool, std::int32_t operation = 1,
                                   const Program* done = nullptr) const {
    return measure_edges(asked, program, operation, {tool}, *part, stock, done);
  }
};

TEST(MeasuredEdges, AgreeWithClosedFormsOnEdgesOfEveryAngle) {
  testing::Rng rng(5);
  for (int round = 0; round < testing::rounds(100); ++round) {
    const double material = rng.uniform(60, 150), size = rng.uniform(0.2, 1.2);
    const Broken broken(material, rng.uniform(5, 0.5 * material - 1), round % 2 ? rng.uniform(-25, 25) : 0,
                        rng.uniform(0, 360), size);
    SCOPED_TRACE(::testing::Message() << round << ": " << material);
    const Tool tool = ball(rng.uniform(3, 8));
    const EdgeFlat flat = even_flat(broken.ridge.section, size, BreakSize::across);
    const auto tip = ball_tip(broken.ridge.section, flat, 0.5 * tool.diameter_mm);
    if (!tip) continue;
    const EdgeSizes sizes = broken.measured(program_of({broken.along(*tip)}), tool);
    EXPECT_NEAR(sizes.all.measured_mm, 20, 1e-9);
    EXPECT_NEAR(sizes.all.least_mm, size, 1e-5);
    EXPECT_NEAR(sizes.all.median_mm, size, 1e-5);
    EXPECT_NEAR(sizes.all.greatest_mm, size, 1e-5);
    EXPECT_EQ(sizes.all.held_share, 1);
    ASSERT_EQ(sizes.edges.size(), 1u);
    EXPECT_EQ(sizes.edges[0].edge, 7);
    EXPECT_EQ(sizes.all.least_edge, 7);
  }
}

TEST(MeasuredEdges, ChamfersHaveTheirLegDownTheSteeperFace) {
  testing::Rng rng(6);
  int made = 0;
  for (int round = 0; round < 40; ++round) {
    const Broken broken(rng.uniform(70, 120), rng.uniform(20, 34), rng.uniform(-20, 20), rng.uniform(0, 360),
                        0.6, BreakMeasure::steeper_leg);
    Tool tool{.name = "chamfer", .number = 1, .shape = Shape::chamfer, .diameter_mm = 12};
    tool.taper_angle_deg = 45, tool.tip_diameter_mm = 0.5, tool.stickout_mm = 40;
    tool = completed(tool);
    const EdgeSection& section = broken.ridge.section;
    const bool one = std::abs(section.one.z()) < std::abs(section.other.z());
    const auto cut =
        chamfer_break(section, tool, 0.6, one ? BreakSize::down_one : BreakSize::down_other, 0.2);
    if (!cut) continue;
    ++made;
    const EdgeSizes sizes = broken.measured(program_of({broken.along(cut->tip)}), tool);
    EXPECT_NEAR(sizes.all.least_mm, 0.6, 1e-5) << round;
    EXPECT_NEAR(sizes.all.greatest_mm, 0.6, 1e-5) << round;
  }
  EXPECT_GT(made, 25);
}

TEST(MeasuredEdges, ThreeMicrometresTooDeepShowOnABluntEdge) {
  // Of 150 degrees: 0.02 of width is 3 micrometres of depth.
  const Broken broken(150, 20, 0, 30, 0.7);
  const Tool tool = ball(6);
  const EdgeFlat flat = even_flat(broken.ridge.section, 0.7, BreakSize::across);
  const Vec3 tip = *ball_tip(broken.ridge.section, flat, 3) - 0.003 * flat.normal;
  const EdgeSizes sizes = broken.measured(program_of({broken.along(tip)}), tool);
  EXPECT_GT(sizes.all.median_mm, 0.712);
  EXPECT_LT(sizes.all.median_mm, 0.725);
}

TEST(MeasuredEdges, RoundingsHaveTheirRadiusAndRidges) {
  for (const double material : {60.0, 90.0, 130.0}) {
    const Broken broken(material, 20, 10, 50, 0.8, BreakMeasure::radius);
    const Tool tool = ball(6);
    const auto tips = rounded_tips(broken.ridge.section, 0.8, 3, 7);
    ASSERT_TRUE(tips);
    std::vector<Vec3> way;
    for (std::size_t k = 0; k < tips->size(); ++k)
      for (const Vec3& p : broken.along((*tips)[k], k % 2 ? 20 : -20, k % 2 ? -20 : 20)) way.push_back(p);
    const EdgeSizes sizes = broken.measured(program_of({way}), tool);
    const double ridge = rounded_ridge_mm(broken.ridge.section, 0.8, 3, 7);
    EXPECT_NEAR(sizes.all.median_mm, 0.8, 0.002) << material;
    EXPECT_NEAR(sizes.all.ridge_mm, ridge, 0.1 * ridge + 2e-4) << material;
  }
}

TEST(MeasuredEdges, WhereNoCutPassesNothingIsMeasured) {
  const Broken broken(90, 30, 0, 20, 0.5);
  const Tool tool = ball(6);
  const Vec3 tip =
      *ball_tip(broken.ridge.section, even_flat(broken.ridge.section, 0.5, BreakSize::across), 3);
  const EdgeSizes sizes = broken.measured(program_of({broken.along(tip, -20, 3)}), tool);
  EXPECT_NEAR(sizes.all.measured_mm, 13, 1e-9);
  EXPECT_NEAR(sizes.all.passed_by_mm, 7, 1e-9);
  EXPECT_NEAR(sizes.all.least_mm, 0.5, 1e-5);
  const EdgeSizes none = broken.measured(program_of({broken.along(tip + Vec3(0, 0, 2))}), tool);
  EXPECT_EQ(none.all.measured_mm, 0);
  EXPECT_NEAR(none.all.passed_by_mm, 20, 1e-9);
  EXPECT_EQ(none.all.median_mm, 0);
}

TEST(MeasuredEdges, WhatWasGoneBeforeIsNoSize) {
  Broken broken(90, 30, 0, 20, 0.5);
  const Tool tool = ball(6);
  const Vec3 tip =
      *ball_tip(broken.ridge.section, even_flat(broken.ridge.section, 0.5, BreakSize::across), 3);
  const std::vector<Vec3> own = broken.along(tip), deep = broken.along(tip - Vec3(0, 0, 0.1), 2, 20);
  // By an operation before it, or by a program before that; not by one that comes later.
  EXPECT_NEAR(broken.measured(program_of({deep, own}), tool, 2).all.missing_mm, 8, 1.5);
  const Program before = program_of({deep});
  EXPECT_NEAR(broken.measured(program_of({own}), tool, 1, &before).all.missing_mm, 8, 1.5);
  const EdgeSizes later = broken.measured(program_of({own, deep}), tool, 1);
  EXPECT_EQ(later.all.missing_mm, 0);
  EXPECT_NEAR(later.all.greatest_mm, 0.5, 1e-5);
  // The same cut twice is no less a break.
  EXPECT_NEAR(broken.measured(program_of({own, own}), tool, 2).all.measured_mm, 20, 1e-9);
  // A block that ends below the edge.
  broken.stock = Stock(Box3(Vec3(-30, -30, -30), Vec3(30, 30, -1)), 1);
  EXPECT_NEAR(broken.measured(program_of({own}), tool).all.missing_mm, 20, 1e-9);
}

TEST(MeasuredEdges, ArcsAreFollowedAsTheyRun) {
  // The rim of a pin of 16, broken by a ball on one full circle.
  EdgesAsked asked{BreakMeasure::width, 0.6, {{1, {}}}};
  Mesh cone;
  constexpr int kSides = 720;
  for (int k = 0; k < kSides; ++k) {
    const double angle = 2 * kPi * k / kSides;
    cone.points.emplace_back(8 * std::cos(angle), 8 * std::sin(angle), 0);
    cone.points.emplace_back(8 * std::cos(angle), 8 * std::sin(angle), -10);
  }
  cone.points.emplace_back(0, 0, 0);
  for (std::int32_t k = 0; k < kSides; ++k) {
    const std::int32_t a = 2 * k, b = 2 * ((k + 1) % kSides);
    cone.triangles.push_back({a, b + 1, b}), cone.triangles.push_back({a, a + 1, b + 1});
    cone.triangles.push_back({a, b, 2 * kSides});
  }
  const auto at = [](double angle) {
    return EdgeSection{Vec3(8 * std::cos(angle), 8 * std::sin(angle), 0),
                       Vec3(-std::sin(angle), std::cos(angle), 0), Vec3(0, 0, 1),
                       Vec3(std::cos(angle), std::sin(angle), 0)};
  };
  for (int k = 0; k < 50; ++k) asked.edges[0].stretches.push_back({at(2 * kPi * (k + 0.3) / 50), 1});
  const Vec3 tip = *ball_tip(at(0), even_flat(at(0), 0.6, BreakSize::across), 2);
  Program program;
  program.operations = {{1}}, program.tools = {1}, program.lines = 1;
  program.arcs = {Arc::in_plan(tip, Vec2(0, 0), 2 * kPi, tip.z())};
  program.moves = {{tip, tip, 500, 1, 1, 0, 0}};
  const EdgeSizes sizes = measure_edges(asked, program, 1, {ball(4)}, *make_contact_part(cone),
                                        Stock(Box3(Vec3(-12, -12, -10), Vec3(12, 12, 0)), 0.5));
  EXPECT_NEAR(sizes.all.measured_mm, 50, 1e-9);
  // The faces are facets: up to 0.00008 inside the circle.
  EXPECT_NEAR(sizes.all.least_mm, 0.6, 3e-4);
  EXPECT_NEAR(sizes.all.greatest_mm, 0.6, 3e-4);
}

TEST(MeasuredEdges, RefuseASizeOfNothingAndAToolThatIsNotThere) {
  Broken broken(90, 30, 0, 20, 0.5);
  const Program program = program_of({broken.along(Vec3(0, 0, 0))});
  Tool other = ball(6);
  other.number = 4;
  EXPECT_THROW((void)broken.measured(program, other), Error);
  broken.asked.size_mm = 0;
  EXPECT_THROW((void)broken.measured(program, ball(6)), Error);
}

}  // namespace
}  // namespace yardpass
