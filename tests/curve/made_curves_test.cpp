#include "yardpass/curve/made_curves.h"

#include <gtest/gtest.h>

#include <numbers>

#include "yardpass/geom/error.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

TEST(MadeCurves, RingsRaysAndSpiralsByTheirFormulas) {
  const auto circles = rings({.centre = {1, 2}, .from_mm = 2, .to_mm = 5, .step_mm = 1});
  ASSERT_EQ(circles.size(), 4u);
  for (std::size_t k = 0; k < 4; ++k) {
    EXPECT_TRUE(circles[k].closed);
    for (const Vec3& p : circles[k].points)
      EXPECT_NEAR((plan(p) - Vec2(1, 2)).norm(), 2.0 + static_cast<double>(k), 1e-12);
    EXPECT_NEAR(length(circles[k]), 2 * kPi * (2.0 + static_cast<double>(k)), 0.02);
  }
  EXPECT_EQ(rings({.from_mm = 5, .to_mm = 2, .step_mm = 1}).size(), 4u) << "inwards too";
  const auto spokes = rays({.from_mm = 1, .to_mm = 3, .count = 4, .first_deg = 45});
  ASSERT_EQ(spokes.size(), 4u);
  EXPECT_LT((spokes[1].points[1] - Vec3(-3 / std::sqrt(2), 3 / std::sqrt(2), 0)).norm(), 1e-12);
  const auto fan = rays({.to_mm = 2, .count = 3, .sweep_deg = 90});
  EXPECT_LT((fan[2].points[1] - Vec3(0, 2, 0)).norm(), 1e-12) << "the last lies at the end of the sweep";
  for (const bool clockwise : {false, true}) {
    const Curve snail = spiral({.centre = {3, 0}, .to_mm = 6, .step_mm = 1.5, .clockwise = clockwise});
    double turned = 0;
    for (std::size_t i = 2; i < snail.points.size(); ++i) {
      const Vec2 a = plan(snail.points[i - 1]) - Vec2(3, 0), b = plan(snail.points[i]) - Vec2(3, 0);
      turned += std::atan2(cross2(a, b), a.dot(b));
      // Chords stay within 0.001 of r = step * angle / 2 pi.
      const Vec2 m = 0.5 * (a + b);
      EXPECT_NEAR(m.norm(), 1.5 * std::abs(turned) / (2 * kPi), 1.5 * 0.4) << i;
    }
    EXPECT_NEAR(std::abs(turned), 8 * kPi, kPi / 2);
    EXPECT_EQ(turned < 0, clockwise);
    EXPECT_NEAR((plan(snail.points.back()) - Vec2(3, 0)).norm(), 6, 1e-9);
  }
}

TEST(MadeCurves, OffsetsAreBordersOfTheAreaAndEndWhereNothingIsLeft) {
  const std::vector<Curve> frame{rectangle_curve({0, 0}, {10, 6}), rectangle_curve({4, 2}, {6, 4})};
  const auto in = offsets(frame, -0.5, 10);
  for (const Curve& loop : in) EXPECT_TRUE(loop.closed);
  EXPECT_EQ(in.size(), 3u + 2) << "two sides for 0.5, pieces about the hole at 1.0 (its border) and beyond";
  const auto out = offsets({rectangle_curve({0, 0}, {10, 6})}, 1, 2);
  ASSERT_EQ(out.size(), 2u);
  EXPECT_NEAR(length(out[0]), 32 + 2 * kPi, 0.01);
  EXPECT_NEAR(length(out[1]), 32 + 4 * kPi, 0.01);
  EXPECT_THROW((void)offsets({Curve{{{0, 0, 0}, {1, 0, 0}}}}, 1, 1), Error);
}

TEST(MadeCurves, CopiesInRowsGridsAndRings) {
  const std::vector<Curve> dot{circle_curve({5, 0}, 0.5)};
  const auto middle = [](const Curve& curve) {
    Vec3 sum(0, 0, 0);
    for (const Vec3& p : curve.points) sum += p;
    return Vec3(sum / static_cast<double>(curve.points.size()));
  };
  const auto row = in_row(dot, {2, 1}, 4);
  ASSERT_EQ(row.size(), 4u);
  EXPECT_LT((middle(row[3]) - Vec3(11, 3, 0)).norm(), 1e-9);
  const auto grid = in_grid(dot, {2, 3}, 3, 2);
  ASSERT_EQ(grid.size(), 6u);
  EXPECT_LT((middle(grid[5]) - Vec3(9, 3, 0)).norm(), 1e-9);
  const auto ring = in_ring(dot, {0, 0}, 4);
  ASSERT_EQ(ring.size(), 4u);
  EXPECT_LT((middle(ring[1]) - Vec3(0, 5, 0)).norm(), 1e-9);
  EXPECT_THROW((void)in_row(dot, {1, 0}, 0), Error);
}

}  // namespace
}  // namespace yardpass
