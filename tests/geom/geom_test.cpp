#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/nasty.h"
#include "support/rng.h"
#include "yardpass/geom/mesh.h"
#include "yardpass/geom/polyline.h"
#include "yardpass/geom/region.h"

namespace yardpass {
namespace {

using testing::Rng;

Polyline2 square(double half, const Vec2& at = {0, 0}) {
  return {at + Vec2(-half, -half), at + Vec2(half, -half), at + Vec2(half, half), at + Vec2(-half, half)};
}

TEST(Region, NestedLoopsCountOddDepthAsInside) {
  const Region region{{square(10), square(6), square(2)}};
  EXPECT_TRUE(region.contains({8, 0}));
  EXPECT_FALSE(region.contains({4, 0}));
  EXPECT_TRUE(region.contains({0, 0}));
  EXPECT_NEAR(unite(region, {}).area_mm2(), 400 - 144 + 16, 1e-6);
  EXPECT_EQ(pieces(region).size(), 2u);
}

TEST(Region, BooleanAreasAddUp) {
  for (int seed = 1; seed <= 50; ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    const auto blob = [&] {
      Polyline2 loop;
      const Vec2 at(rng.uniform(-5, 5), rng.uniform(-5, 5));
      for (int i = 0; i < 30; ++i)
        loop.push_back(at + rng.uniform(2, 9) * Vec2(std::cos(i * 0.2094), std::sin(i * 0.2094)));
      return Region{{loop}};
    };
    const Region a = blob(), b = blob();
    const double both = intersect(a, b).area_mm2();
    EXPECT_NEAR(unite(a, b).area_mm2(), a.area_mm2() + b.area_mm2() - both, 1e-3);
    EXPECT_NEAR(subtract(a, b).area_mm2(), a.area_mm2() - both, 1e-3);
  }
}

TEST(Region, OffsetIsTheSetOfPointsThatFarFromTheRim) {
  const Region region{{square(10), square(3)}};
  EXPECT_NEAR(offset(region, 2).area_mm2(), 400 + 4 * 20 * 2 + std::numbers::pi * 4 - 4, 0.05);
  // Shrinking the ring of width 7 by 3 leaves one of width 1; its inner rim has round corners.
  EXPECT_NEAR(offset(region, -3).area_mm2(), 14 * 14 - (36 + 4 * 6 * 3 + std::numbers::pi * 9), 0.05);
  EXPECT_TRUE(offset(region, -4.2).empty());
}

TEST(Region, PiecesOfALineInside) {
  const Region region{{square(10), square(3)}};
  const auto parts = inside(region, {-20, 0}, {20, 0});
  ASSERT_EQ(parts.size(), 2u);
  EXPECT_NEAR(parts[0].from, 0.25, 1e-12);
  EXPECT_NEAR(parts[0].to, 17.0 / 40, 1e-12);
  EXPECT_NEAR(parts[1].to, 0.75, 1e-12);
  // Through corners, along a diagonal.
  const auto diagonal = inside(Region{{square(10)}}, {-20, -20}, {20, 20});
  ASSERT_EQ(diagonal.size(), 1u);
  EXPECT_NEAR(diagonal[0].to - diagonal[0].from, 0.5, 1e-12);
}

TEST(Polyline, SimplifyStaysWithinTolerance) {
  Rng rng(4);
  Polyline2 line;
  for (int i = 0; i < 500; ++i) line.emplace_back(i * 0.1, std::sin(i * 0.05) + rng.uniform(-0.004, 0.004));
  const Polyline2 fewer = simplify(line, 0.02);
  EXPECT_LT(fewer.size(), line.size() / 8);
  for (const Vec2& p : line) {
    double nearest = 1e9;
    for (std::size_t i = 1; i < fewer.size(); ++i)
      nearest = std::min(nearest, distance_to_segment(p, fewer[i - 1], fewer[i]));
    EXPECT_LE(nearest, 0.02 + 1e-12);
  }
  EXPECT_EQ(fewer.front(), line.front());
  EXPECT_EQ(fewer.back(), line.back());
}

TEST(Mesh, WeldJoinsEqualCornersAndNearOnesWhenAsked) {
  Mesh mesh;
  mesh.points = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1 + 1e-6, 0}};
  mesh.triangles = {{0, 1, 2}, {3, 4, 5}};
  EXPECT_EQ(weld(mesh).points.size(), 5u);
  EXPECT_EQ(weld(mesh, 1e-5).points.size(), 4u);
  EXPECT_EQ(edge_report(weld(mesh, 1e-5)).edges, 5);
  Mesh signed_zero;
  signed_zero.points = {{0.0, 0, 0}, {-0.0, 0, 0}, {0, 1, 0}};
  signed_zero.triangles = {{0, 1, 2}};
  EXPECT_EQ(weld(signed_zero).points.size(), 2u);
}

TEST(Mesh, EdgeReportCountsEachTrouble) {
  Mesh mesh = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(1, 2, 3)));
  EXPECT_TRUE(edge_report(mesh).closed());
  EXPECT_EQ(edge_report(mesh).edges, 18);
  EXPECT_EQ(edge_report(mesh).flipped, 0);
  std::swap(mesh.triangles[0][0], mesh.triangles[0][1]);
  EXPECT_EQ(edge_report(mesh).flipped, 3);
  mesh.triangles.push_back(mesh.triangles[1]);
  EXPECT_EQ(edge_report(mesh).crowded, 3);
  mesh.triangles.pop_back();
  mesh.triangles.pop_back();
  EXPECT_EQ(edge_report(mesh).open, 3);
  mesh.triangles.push_back({1, 1, 2});
  EXPECT_EQ(edge_report(mesh).zero_area, 1);
  EXPECT_FALSE(edge_report({}).closed());
}

TEST(Mesh, FlatsAreUpwardLevelFaces) {
  const Mesh mesh = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 20, 3)));
  const auto found = flats(mesh, 1);
  ASSERT_EQ(found.size(), 1u);
  EXPECT_EQ(found[0].z_mm, 3);
  EXPECT_NEAR(found[0].area_mm2, 200, 1e-9);
}

TEST(SelfCrossing, IsFoundWhereALoopCrossesItself) {
  const Polyline2 bow{{0, 0}, {20, 20}, {20, 0}, {0, 20}};
  ASSERT_TRUE(self_crossing(bow));
  EXPECT_NEAR((*self_crossing(bow) - Vec2(10, 10)).norm(), 0, 1e-12);
  Polyline2 circle;
  for (int i = 0; i < 200; ++i)
    circle.emplace_back(10 * std::cos(0.0314159 * i), 10 * std::sin(0.0314159 * i));
  EXPECT_FALSE(self_crossing(circle));
  std::swap(circle[50], circle[60]);
  EXPECT_TRUE(self_crossing(circle));
  // Touching itself, or a scrap that rounding makes, is no crossing.
  EXPECT_FALSE(self_crossing(Polyline2{{0, 0}, {10, 0}, {10, 10}, {5, 0}, {0, 10}}));
  EXPECT_FALSE(self_crossing(
      Polyline2{{0, 0}, {10, 0}, {10, 10}, {0, 10}, {0.001, 5}, {-0.001, 5.001}, {0.001, 5.002}}));
}

}  // namespace
}  // namespace yardpass
