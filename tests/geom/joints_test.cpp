// How triangles hang together, welding, cutting by height, shadows: against definitions written apart.
#include <gtest/gtest.h>

#include <numbers>
#include <set>

#include "parts.h"
#include "support/nasty.h"
#include "yardpass/geom/joints.h"
#include "yardpass/geom/polyline.h"
#include "yardpass/geom/region.h"

namespace yardpass {
namespace {

using testing::Rng;

bool same_edge(const Mesh& mesh, std::int32_t a, std::int32_t b) {
  return std::minmax(side_from(mesh, a), side_to(mesh, a)) ==
         std::minmax(side_from(mesh, b), side_to(mesh, b));
}

TEST(Joints, AgreeWithTheDefinitionOnNastyParts) {
  for (int seed = 1; seed <= testing::rounds(3); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    for (int kind = 0; kind < testing::kNastyKinds; ++kind) {
      const Mesh mesh = weld(testing::nasty_part(rng, kind));
      if (mesh.triangles.size() > 400) continue;
      const Joints joints(mesh);
      const auto sides = static_cast<std::int32_t>(joints.sides());
      const auto has_sides = [&](std::int32_t side) {
        const auto& t = mesh.triangles[static_cast<std::size_t>(side / 3)];
        return t[0] != t[1] && t[1] != t[2] && t[2] != t[0];
      };
      for (std::int32_t side = 0; side < sides; ++side) {
        std::int32_t count = 0, other = -1;
        for (std::int32_t k = 0; k < sides; ++k)
          if (k != side && has_sides(k) && same_edge(mesh, k, side)) ++count, other = k;
        const std::int32_t expected = !has_sides(side) ? Joints::kNoSide
                                      : count == 0     ? Joints::kOpen
                                      : count == 1     ? other
                                                       : Joints::kCrowded;
        ASSERT_EQ(joints.across(side), expected) << testing::nasty_name(kind) << " seed " << seed;
      }
    }
  }
}

TEST(Joints, TurnedOverMakesNeighboursAgreeAndTheOutsideOut) {
  const Mesh bowl = weld(demo::bowl(30, 25, 80, 0.05));
  Mesh mixed = bowl;
  Rng rng(3);
  for (auto& t : mixed.triangles)
    if (rng.pick(2) == 0) std::swap(t[1], t[2]);
  const auto turned = turned_over(mixed, Joints(mixed));
  for (std::size_t t = 0; t < mixed.triangles.size(); ++t)
    ASSERT_NEAR((unit_normal(mixed, t, turned[t] != 0) - unit_normal(bowl, t)).norm(), 0, 1e-12) << t;
}

TEST(Joints, OpenSheetsFaceUpwards) {
  Mesh sheet =
      testing::sheet(Box2(Vec2(0, 0), Vec2(9, 9)), 6, 6, [](double x, double y) { return std::sin(x * y); });
  for (auto& t : sheet.triangles) std::swap(t[0], t[1]);
  for (const auto turned : turned_over(sheet, Joints(sheet))) EXPECT_EQ(turned, 1);
}

TEST(Shells, AreCountedAndNumbered) {
  Mesh mesh = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(1, 1, 1)));
  const Mesh other = testing::box_mesh(Box3(Vec3(5, 0, 0), Vec3(6, 1, 1)));
  for (const auto& t : other.triangles) mesh.triangles.push_back({t[0] + 8, t[1] + 8, t[2] + 8});
  mesh.points.insert(mesh.points.end(), other.points.begin(), other.points.end());
  const Shells shells = shells_of(mesh);
  EXPECT_EQ(shells.count, 2);
  EXPECT_EQ(shells.of_triangle.front(), 0);
  EXPECT_EQ(shells.of_triangle.back(), 1);
}

TEST(Weld, ByToleranceIsTheFirstKeptCornerThatIsNear) {
  for (int seed = 1; seed <= testing::rounds(20); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    Mesh mesh;
    for (int i = 0; i < 300; ++i)
      mesh.points.emplace_back(rng.uniform(-1, 1), rng.uniform(-1, 1), 0.1 * rng.uniform(-1, 1));
    for (std::int32_t i = 0; i < 100; ++i) mesh.triangles.push_back({3 * i, 3 * i + 1, 3 * i + 2});
    const double tolerance = 0.15;
    std::vector<Vec3> kept;
    std::vector<std::int32_t> number;
    for (const Vec3& p : mesh.points) {
      std::size_t k = 0;
      while (k < kept.size() && (kept[k] - p).norm() > tolerance) ++k;
      if (k == kept.size()) kept.push_back(p);
      number.push_back(static_cast<std::int32_t>(k));
    }
    const Mesh welded = weld(mesh, tolerance);
    ASSERT_EQ(welded.points, kept) << seed;
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
      for (std::size_t k = 0; k < 3; ++k)
        ASSERT_EQ(welded.triangles[t][k], number[static_cast<std::size_t>(mesh.triangles[t][k])]) << seed;
  }
}

TEST(Weld, PlusAndMinusZeroAreOnePlace) {
  Mesh mesh;
  mesh.points = {Vec3(0.0, 0, 0),     Vec3(1, 0, 0), Vec3(0, 1, 0),
                 Vec3(-0.0, 0, -0.0), Vec3(1, 0, 0), Vec3(1, 1, 0)};
  mesh.triangles = {{0, 1, 2}, {3, 4, 5}};
  EXPECT_EQ(weld(mesh).points.size(), 4u);
}

TEST(BetweenHeights, KeepsExactlyWhatLiesBetween) {
  for (int seed = 1; seed <= testing::rounds(50); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    Polyline3 line;
    for (int i = 0; i < 12; ++i) line.emplace_back(i, 0, std::round(rng.uniform(-3, 3)));
    const auto pieces = between_heights(line, -1, 1.5);
    double kept = 0;
    for (const auto& piece : pieces) {
      ASSERT_GE(piece.size(), 2u);
      kept += piece.back().x() - piece.front().x();
      for (const Vec3& p : piece) {
        ASSERT_GE(p.z(), -1 - 1e-12);
        ASSERT_LE(p.z(), 1.5 + 1e-12);
      }
    }
    double expected = 0;
    const int steps = 40000;
    for (int i = 0; i < steps; ++i) {
      const double x = 11 * (i + 0.5) / steps;
      const auto k = static_cast<std::size_t>(x);
      const double z = line[k].z() + (x - static_cast<double>(k)) * (line[k + 1].z() - line[k].z());
      expected += z >= -1 && z <= 1.5 ? 11.0 / steps : 0;
    }
    ASSERT_NEAR(kept, expected, 0.01) << seed;
  }
}

TEST(BetweenHeights, AnUntouchedLineComesBackWhole) {
  const Polyline3 line{Vec3(0, 0, 0), Vec3(1, 0, 0.5), Vec3(2, 0, 0)};
  const auto pieces = between_heights(line, -1, 1);
  ASSERT_EQ(pieces.size(), 1u);
  EXPECT_EQ(pieces[0], line);
  EXPECT_TRUE(between_heights(line, 0.5, 2).empty()) << "touching is not between";
}

TEST(WoundAround, IsTheShadowOfLoopsThatOverlap) {
  const auto square = [](double half, const Vec2& at) {
    return Polyline2{at + Vec2(-half, -half), at + Vec2(half, -half), at + Vec2(half, half),
                     at + Vec2(-half, half)};
  };
  Polyline2 hole = square(2, {0, 0});
  std::reverse(hole.begin(), hole.end());
  EXPECT_NEAR(wound_around({square(5, {0, 0}), square(5, {4, 0})}).area_mm2(), 140, 1e-6)
      << "overlap counts once";
  EXPECT_NEAR(wound_around({square(5, {0, 0}), hole}).area_mm2(), 84, 1e-6);
  EXPECT_NEAR(wound_around({square(5, {0, 0}), hole, square(5, {4, 0})}).area_mm2(), 140 - 4, 1e-6)
      << "a hole that another piece covers in part";
  EXPECT_TRUE(wound_around({hole}).empty());
}

}  // namespace
}  // namespace yardpass
