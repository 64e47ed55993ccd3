// Passes square to a curve.
#include "yardpass/strategy/square_to_curve.h"

#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <numbers>

#include "support/grounds.h"
#include "support/turned_parts.h"
#include "yardpass/curve/made_curves.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

Curve curve_of(const Polyline2& line, bool closed = false) {
  Curve curve{{}, closed};
  for (const Vec2& p : line) curve.points.push_back(with_z(p, 0));
  return curve;
}
SquareOptions square_to(const Curve& curve, double left, double right, double stepover) {
  SquareOptions options;
  options.curves.curves = {curve};
  options.left_mm = left, options.right_mm = right, options.stepover_mm = stepover;
  return options;
}

/// How many pairs of passes cross or touch; passes that fan out from one place share it.
int crossings(const std::vector<Polyline2>& passes) {
  const auto side = [](const Vec2& a, const Vec2& b, const Vec2& p) {
    return cross2(Vec2(b - a), Vec2(p - a));
  };
  int found = 0;
  for (std::size_t i = 0; i < passes.size(); ++i)
    for (std::size_t k = i + 1; k < passes.size(); ++k)
      for (std::size_t a = 1; a < passes[i].size(); ++a)
        for (std::size_t b = 1; b < passes[k].size(); ++b) {
          const Vec2 &p = passes[i][a - 1], &q = passes[i][a], &r = passes[k][b - 1], &s = passes[k][b];
          if ((p - r).norm() < 1e-6 || (p - s).norm() < 1e-6 || (q - r).norm() < 1e-6 ||
              (q - s).norm() < 1e-6)
            continue;
          found += side(p, q, r) * side(p, q, s) < 0 && side(r, s, p) * side(r, s, q) < 0;
        }
  return found;
}

TEST(SquareToCurve, OnAStraightLineTheyAreEvenlySpreadAndAsLongAsAsked) {
  const auto passes = square_passes(square_to(curve_of({{0, 0}, {10, 0}}), 4, 2, 0.3));
  ASSERT_EQ(passes.size(), 35u);  // 34 gaps of 0.294
  for (std::size_t i = 0; i < passes.size(); ++i) {
    const double x = 10.0 * static_cast<double>(i) / 34;
    EXPECT_LT((passes[i].front() - Vec2(x, 4)).norm(), 1e-9) << "from the left of the curve";
    EXPECT_LT((passes[i].back() - Vec2(x, -2)).norm(), 1e-9);
  }
  EXPECT_EQ(square_passes(square_to(curve_of({{0, 0}, {10, 0}}), 4, 0, 20)).size(), 2u);
  EXPECT_EQ(square_passes(square_to(circle_curve({0, 0}, 5), 1, 1, 0.5)).size(), 63u) << "round and back";
}

TEST(SquareToCurve, NoTwoCrossOnBendsDownToHalfTheirLengthAndTighter) {
  for (const double radius : {10.0, 5.0, 3.0}) {
    SCOPED_TRACE(radius);
    // An S of two arcs, then a closed oval.
    Polyline2 ess = testing::arc_chain({0, 0}, radius, 180, 0, 90);
    for (const Vec2& p : testing::arc_chain({2 * radius, 0}, radius, 180, 360, 90)) ess.push_back(p);
    for (const Curve& curve :
         {curve_of(ess), circle_curve({0, 0}, radius), curve_of({{0, 0}, {10, 0}, {10, 10}, {3, 4}}),
          rectangle_curve({0, 0}, {20, 8}), spiral({.from_mm = 2, .to_mm = 14, .step_mm = 4})}) {
      const auto passes = square_passes(square_to(curve, 10, 10, 0.4));
      EXPECT_GT(passes.size(), 20u);
      EXPECT_EQ(crossings(passes), 0);
    }
  }
}

TEST(SquareToCurve, OutsideOfBendsTheyAreWholeAndInsideTheyEndAtTheMiddle) {
  const auto passes = square_passes(square_to(circle_curve({0, 0}, 6), 10, 7, 0.5));  // left is inside
  for (const Polyline2& pass : passes) {
    EXPECT_NEAR(pass.back().norm(), 13, 0.0015);
    EXPECT_LT(pass.front().norm(), 0.2);
    EXPECT_NEAR(
        std::abs(cross2(Vec2(pass.front() - pass.back()).normalized(), Vec2(pass.back().normalized()))), 0,
        0.002)
        << "square to the circle, not to its chords";
  }
  // Round the outer side of a corner none is missing: the far ends are no wider apart than asked.
  const auto corner = square_passes(square_to(curve_of({{-10, 0}, {0, 0}, {0, 10}}), 5, 5, 0.5));
  double widest = 0;
  for (std::size_t i = 1; i < corner.size(); ++i)
    widest = std::max(widest, (corner[i].back() - corner[i - 1].back()).norm());
  EXPECT_LT(widest, 0.51);
}

TEST(SquareToCurve, NeverGougesAndKeepsInsideItsArea) {
  const SquareOptions options = square_to(curve_of({{-12, -8}, {0, 2}, {12, -3}}), 9, 9, 0.7);
  const Region area = rectangle(Box2(Vec2(-13, -13), Vec2(13, 13)));
  for (const testing::Ground& ground : testing::grounds())
    for (const Shape shape : {Shape::ball, Shape::flat, Shape::bull, Shape::taper}) {
      SCOPED_TRACE(ground.name);
      const ToolSurface surface = testing::exact_surface(make_contact_part(ground.mesh),
                                                         testing::tool_of(shape), {.allowance_mm = 0.05});
      testing::expect_no_gouge(cuts_of(options, {surface, area, nullptr, 0.01}), surface, area, 300);
    }
  SquareOptions none;
  EXPECT_THROW((void)square_passes(none), Error);
  none = square_to(curve_of({{0, 0}, {1, 0}}), 0, 0, 1);
  EXPECT_THROW((void)square_passes(none), Error);
}

TEST(SquareToCurve, ZigzagTurnsEverySecondPass) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 4, 4,
                                                              [](double, double) { return 0.0; })),
                             testing::ball_tool(4));
  SquareOptions options = square_to(curve_of({{-5, 0}, {5, 0}}), 3, 3, 1);
  const Region area = rectangle(Box2(Vec2(-10, -10), Vec2(10, 10)));
  for (const bool zigzag : {true, false}) {
    options.zigzag = zigzag;
    const std::vector<Cut> cuts = testing::all_cuts(cuts_of(options, {surface, area, nullptr, 0.01}));
    ASSERT_EQ(cuts.size(), 11u);
    for (std::size_t i = 0; i < cuts.size(); ++i)
      EXPECT_NEAR(cuts[i].points.front().y(), zigzag && i % 2 == 1 ? -3 : 3, 1e-9);
  }
  EXPECT_EQ(cuts_of(options, {surface, rectangle(Box2(Vec2(50, 50), Vec2(60, 60))), nullptr, 0.01})
                .notes.back()
                .about,
            "nothing");
}

}  // namespace
}  // namespace yardpass
