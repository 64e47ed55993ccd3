// Editing curves, judged by what the words mean: distances, order, what lies where.
#include <gtest/gtest.h>

#include <numbers>

#include "support/rng.h"
#include "yardpass/curve/edit_curves.h"
#include "yardpass/part/measure.h"

namespace yardpass {
namespace {

using testing::Rng;

Curve line(Polyline3 points) { return {std::move(points), false, "line", "layer", "#000000"}; }
Curve ring(double radius, int n = 200, const Vec2& centre = {0, 0}) {
  Curve c{{}, true};
  for (int i = 0; i < n; ++i) {
    const double t = 2 * std::numbers::pi * i / n;
    c.points.emplace_back(centre.x() + radius * std::cos(t), centre.y() + radius * std::sin(t), 1.0);
  }
  return c;
}

Mesh waves(int n) {
  Mesh mesh;
  for (int j = 0; j <= n; ++j)
    for (int i = 0; i <= n; ++i)
      mesh.points.emplace_back(i, j, 3 * std::sin(0.4 * i) * std::cos(0.3 * j) + 0.1 * i);
  for (int j = 0; j < n; ++j)
    for (int i = 0; i < n; ++i) {
      const int a = j * (n + 1) + i, b = a + n + 1;
      mesh.triangles.push_back({a, a + 1, b + 1});
      mesh.triangles.push_back({a, b + 1, b});
    }
  return mesh;
}

TEST(EditCurves, PlainOnes) {
  const Curve c = line({{0, 0, 1}, {10, 0, 2}, {10, 10, 3}});
  EXPECT_EQ(flattened(c, 7).points.back().z(), 7);
  EXPECT_EQ(shifted(c, {1, 2, 3}).points.front(), Vec3(1, 2, 4));
  EXPECT_EQ(reversed(c).points.front(), c.points.back());
  EXPECT_EQ(reversed(c).name, "line");
  const Curve loop{{{0, 0, 0}, {1, 0, 0}, {1, 1, 0}}, true};
  EXPECT_EQ(reversed(loop).points, (Polyline3{{0, 0, 0}, {1, 1, 0}, {1, 0, 0}}));
}

TEST(EditCurves, SimplifiedStaysWithinTheTolerance) {
  const Curve circle = ring(20, 2000);
  const Curve few = simplified(circle, 0.01);
  EXPECT_LT(few.points.size(), 140u);
  EXPECT_TRUE(few.closed);
  for (const Vec3& p : circle.points) EXPECT_LE(distance_to(few, p), 0.01 + 1e-12);
}

TEST(EditCurves, SplittingKeepsAllOfIt) {
  const Curve c = line({{0, 0, 0}, {10, 0, 5}, {10, 10, 5}});
  const auto two = split_at(c, {4, 1});
  ASSERT_EQ(two.size(), 2u);
  EXPECT_LT((two[0].points.back() - Vec3(4, 0, 2)).norm(), 1e-9);
  EXPECT_EQ(two[1].points.front(), two[0].points.back());
  EXPECT_EQ(two[1].layer, "layer");
  EXPECT_EQ(split_at(c, {-5, 0}).size(), 1u) << "the nearest point is an end";
  const auto corners = split_at_corners(c, 30);
  ASSERT_EQ(corners.size(), 2u);
  EXPECT_EQ(corners[0].points.size(), 2u);
  const Curve square{{{0, 0, 0}, {4, 0, 0}, {8, 0, 0}, {8, 8, 0}, {0, 8, 0}}, true};
  EXPECT_EQ(split_at_corners(square, 30).size(), 4u);
  EXPECT_EQ(split_at_corners(ring(10), 30).size(), 1u);
  const auto opened = split_at(square, {8, 4});
  ASSERT_EQ(opened.size(), 1u);
  EXPECT_FALSE(opened[0].closed);
  EXPECT_NEAR(length(opened[0]), 32, 1e-9);
  EXPECT_LT((opened[0].points.front() - opened[0].points.back()).norm(), 1e-9);
}

TEST(EditCurves, CrossingsCutBothCurvesAndLoopsOfOneCurve) {
  const auto cross = cut_at_crossings({line({{-5, 0, 0}, {5, 0, 0}}), line({{0, -5, 3}, {0, 5, 3}})});
  EXPECT_EQ(cross.size(), 4u) << "seen from above, though at different heights";
  const auto self = cut_at_crossings({line({{0, 0, 0}, {10, 0, 0}, {10, 10, 0}, {5, 10, 0}, {5, -10, 0}})});
  EXPECT_EQ(self.size(), 3u);
  const auto two_rings = cut_at_crossings({ring(10), ring(10, 200, {10.01, 0.003})});
  EXPECT_EQ(two_rings.size(), 4u);
  EXPECT_EQ(cut_at_crossings({ring(10)}).size(), 1u);
  double all = 0;
  for (const Curve& c : two_rings) all += length(c);
  EXPECT_NEAR(all, 2 * length(ring(10)), 1e-6);
}

TEST(EditCurves, JoiningTakesTheNearestEndsFirst) {
  const auto one = joined(
      {line({{0, 0, 0}, {10, 0, 0}}), line({{20, 0.05, 0}, {10.05, 0, 0}}), line({{0, 0.5, 0}, {0, 9, 0}})},
      0.1);
  ASSERT_EQ(one.size(), 2u);
  EXPECT_EQ(one[0].points.front(), Vec3(0, 0, 0)) << "the direction of the first holds";
  EXPECT_EQ(one[0].points.back(), Vec3(20, 0.05, 0));
  const auto closed = joined({line({{0, 0, 0}, {10, 0, 0}, {10, 10, 0}, {0, 10, 0}, {0, 0.05, 0}})}, 0.1);
  EXPECT_TRUE(closed.at(0).closed);
}

TEST(EditCurves, JoiningPutsALargeDrawingTogether) {
  Rng rng(11);
  std::vector<Curve> pieces;
  for (int k = 0; k < 100; ++k)
    for (int i = 0; i < 50; ++i) {
      const Vec3 a(i, 2 * k + 0.3 * std::sin(i + k), 0), b(i + 1, 2 * k + 0.3 * std::sin(i + 1 + k), 0);
      pieces.push_back(rng.uniform(0, 1) < 0.5 ? line({a, b}) : line({b, a}));
    }
  for (std::size_t i = pieces.size(); i > 1; --i)
    std::swap(pieces[i - 1], pieces[static_cast<std::size_t>(rng.uniform(0, 1) * static_cast<double>(i))]);
  const Vec3 first = pieces.front().points.front(), second = pieces.front().points.back();
  const auto whole = joined(pieces, 0.01);
  ASSERT_EQ(whole.size(), 100u);
  for (const Curve& curve : whole) EXPECT_EQ(curve.points.size(), 51u);
  const auto at = std::find(whole[0].points.begin(), whole[0].points.end(), first);
  ASSERT_NE(at, whole[0].points.end());
  EXPECT_EQ(*(at + 1), second) << "the direction of the first piece";
}

TEST(EditCurves, LinesBesideKeepTheirDistanceAndSide) {
  Rng rng(7);
  for (int round = 0; round < 20; ++round) {
    Polyline3 points{{0, 0, 4}};
    for (int i = 0; i < 8; ++i)
      points.push_back(points.back() + Vec3(rng.uniform(5, 12), rng.uniform(-4, 4), 0));
    const Curve base = line(points);
    for (const double d : {2.0, -2.0}) {
      const auto lines = beside(base, d);
      ASSERT_EQ(lines.size(), 1u);
      EXPECT_EQ(lines[0].points.front().z(), 4);
      EXPECT_LT(lines[0].points.front().x(), lines[0].points.back().x()) << "runs the same way";
      for (const Vec3& p : lines[0].points) EXPECT_NEAR(distance_to(base, p), 2, 0.002);
      // Left means: turned a quarter counter-clockwise from the running direction.
      EXPECT_GT((lines[0].points.front().y() - points.front().y()) * d, 0);
      EXPECT_NEAR((lines[0].points.front() - points.front()).norm(), 2, 0.002);
      EXPECT_NEAR((lines[0].points.back() - points.back()).norm(), 2, 0.002);
    }
  }
  EXPECT_NEAR(length(beside(ring(10, 2000), -2).at(0)), 2 * std::numbers::pi * 12, 0.05)
      << "right of a counter-clockwise ring is outside";
  EXPECT_NEAR(length(beside(ring(10, 2000), 2).at(0)), 2 * std::numbers::pi * 8, 0.05);
  EXPECT_TRUE(beside(ring(10), 11).empty());
}

TEST(Projected, EveryPointLiesOnTheHighestSurface) {
  Rng rng(3);
  for (int round = 0; round < 10; ++round) {
    const Mesh ground = waves(40);
    Curve c = line({});
    for (int i = 0; i < 5; ++i) c.points.emplace_back(rng.uniform(1, 38), rng.uniform(1, 38), 99.0);
    const auto dropped = projected(c, ground);
    ASSERT_EQ(dropped.size(), 1u);
    const Polyline3& p = dropped[0].points;
    for (std::size_t i = 0; i + 1 < p.size(); ++i)
      for (const double share : {0.0, 0.37, 0.5}) {
        const Vec3 q = p[i] + share * (p[i + 1] - p[i]);
        const auto place = highest_at(ground, plan(q));
        ASSERT_TRUE(place);
        EXPECT_NEAR(place->at.z(), q.z(), 1e-7);
      }
    EXPECT_NEAR(length(std::span<const Vec2>(in_plan(dropped[0]))), length(std::span<const Vec2>(in_plan(c))),
                1e-6);
  }
}

TEST(Projected, StepsAtWallsAndGapsBesideThePart) {
  // A block 10 x 10 x 5 on a plate 30 x 30, plate top at 0.
  Mesh part;
  const auto quad = [&](const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    const auto n = static_cast<std::int32_t>(part.points.size());
    part.points.insert(part.points.end(), {a, b, c, d});
    part.triangles.push_back({n, n + 1, n + 2});
    part.triangles.push_back({n, n + 2, n + 3});
  };
  quad({-15, -15, 0}, {15, -15, 0}, {15, 15, 0}, {-15, 15, 0});
  quad({-5, -5, 5}, {5, -5, 5}, {5, 5, 5}, {-5, 5, 5});
  quad({5, -5, 0}, {5, 5, 0}, {5, 5, 5}, {5, -5, 5});
  const auto over = projected(line({{-20, 1, 0}, {20, 1, 0}}), part);
  ASSERT_EQ(over.size(), 1u);
  EXPECT_NEAR(over[0].points.front().x(), -15, 1e-6);
  EXPECT_NEAR(over[0].points.back().x(), 15, 1e-6);
  EXPECT_NEAR(length(over[0]), 30 + 2 * 5, 1e-5) << "up one wall and down the other";
  Curve around = ring(14);
  EXPECT_TRUE(projected(around, part).at(0).closed);
  const auto cut = projected(ring(17), part);
  EXPECT_EQ(cut.size(), 4u) << "a ring wider than the plate stays over its corners only";
  for (const Curve& c : cut) EXPECT_FALSE(c.closed);
  EXPECT_TRUE(projected(line({{20, 0, 0}, {30, 0, 0}}), part).empty());
}

}  // namespace
}  // namespace yardpass
