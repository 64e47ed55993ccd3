// Placing a part, and measuring on it.
#include <gtest/gtest.h>

#include "parts.h"
#include "support/nasty.h"
#include "yardpass/geom/joints.h"
#include "yardpass/part/measure.h"
#include "yardpass/part/placement.h"
#include "yardpass/part/summary.h"

namespace yardpass {
namespace {

const Mesh kBox = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 20, 5)));

TEST(Placement, OrderIsShrinkMirrorTurnMove) {
  const Placement placement{
      .shrink_factor = {2, 1, 1}, .mirror = Axis::x, .turns = {{Axis::z, 90}}, .move = {1, 2, 3}};
  const auto m = matrix_of(placement);
  const Vec3 p = m.leftCols<3>() * Vec3(10, 0, 0) + m.col(3);
  EXPECT_EQ(p, Vec3(1, -18, 3)) << "10 becomes 20, then -20, then turns to -Y: exact for quarter turns";
}

TEST(Placement, TurnsFollowOneAnother) {
  const auto m = matrix_of({.turns = {{Axis::x, 90}, {Axis::z, 90}}});
  EXPECT_EQ(Vec3(m.leftCols<3>() * Vec3(0, 1, 0)), Vec3(0, 0, 1));
  EXPECT_EQ(Vec3(m.leftCols<3>() * Vec3(0, 0, 1)), Vec3(1, 0, 0));
  const auto full = matrix_of({.turns = {{Axis::y, 30}, {Axis::y, -30}}});
  EXPECT_NEAR((full.leftCols<3>() - Eigen::Matrix3d::Identity()).norm(), 0, 1e-15);
}

TEST(Placement, MirroredPartsKeepTheirOutsideOut) {
  const Mesh mesh = weld(demo::bowl(30, 25, 80, 0.05));
  const double volume = summarize(mesh).volume_mm3;
  ASSERT_GT(volume, 0);
  for (const Axis axis : {Axis::x, Axis::y, Axis::z})
    EXPECT_NEAR(summarize(placed(mesh, {.mirror = axis})).volume_mm3, volume, 1e-6 * volume);
  const Mesh grown = placed(mesh, {.shrink_factor = {1.006, 1.006, 1.004}});
  EXPECT_NEAR(summarize(grown).volume_mm3, volume * 1.006 * 1.006 * 1.004, 1e-6 * volume);
}

TEST(Placement, OriginByWordsAndByNumbers) {
  const Box3 part(Vec3(0, 0, 0), Vec3(10, 20, 5)), stock(Vec3(-4, -4, 0), Vec3(14, 24, 7));
  Origin origin{.of = Origin::Of::stock, .share = {0.5, 0.0, 1.0}};
  EXPECT_EQ(point_of(origin, part, stock), Vec3(5, -4, 7));
  origin = {.of = Origin::Of::part, .share = {1.0, std::nullopt, 0.0}, .coordinate = {0, 3, 0}};
  EXPECT_EQ(point_of(origin, part, stock), Vec3(10, 3, 0));
}

TEST(Measure, HighestAndNearestPlaces) {
  const Mesh bowl = weld(demo::bowl(30, 25, 80, 0.001));
  const double middle_z = std::sqrt(30.0 * 30 - 25 * 25);
  const auto deep = highest_at(bowl, {10, 5});
  ASSERT_TRUE(deep);
  EXPECT_NEAR(deep->at.z(), middle_z - std::sqrt(900.0 - 125), 0.002);
  EXPECT_NEAR(deep->slope_deg(), std::asin(std::sqrt(125.0) / 30) * 180 / M_PI, 0.5);
  EXPECT_FALSE(highest_at(bowl, {100, 0}));
  const auto near = nearest_to(bowl, {0, 0, middle_z});
  EXPECT_NEAR((near.at - Vec3(0, 0, middle_z)).norm(), 30, 0.002);
  EXPECT_NEAR(nearest_to(kBox, {-3, 30, 2}).at.x(), 0, 1e-12);
  EXPECT_EQ(nearest_to(kBox, {-3, 30, 2}).at, Vec3(0, 20, 2));
  EXPECT_EQ(nearest_to(kBox, {5, 5, 9}).at, Vec3(5, 5, 5));
}

TEST(Measure, NearestIsNeverBeatenByASample) {
  testing::Rng rng(11);
  for (int kind = 0; kind < testing::kNastyKinds; ++kind) {
    const Mesh mesh = testing::nasty_part(rng, kind);
    const Box3 box = mesh.box();
    for (int i = 0; i < 20; ++i) {
      const Vec3 p = box.center() +
                     Vec3(rng.uniform(-1, 1), rng.uniform(-1, 1), rng.uniform(-1, 1)) * box.diagonal().norm();
      const double least = (nearest_to(mesh, p).at - p).norm();
      for (int k = 0; k < 200; ++k) {
        const auto t = static_cast<std::size_t>(rng.pick(static_cast<int>(mesh.triangles.size())));
        double u = rng.uniform(0, 1), v = rng.uniform(0, 1);
        if (u + v > 1) u = 1 - u, v = 1 - v;
        const Vec3 q = mesh.corner(t, 0) + u * (mesh.corner(t, 1) - mesh.corner(t, 0)) +
                       v * (mesh.corner(t, 2) - mesh.corner(t, 0));
        ASSERT_LE(least, (q - p).norm() + 1e-9 * (1 + p.norm())) << testing::nasty_name(kind);
      }
    }
  }
}

TEST(Measure, SpansAndCircles) {
  const Span span = span_between({0, 0, 0}, {3, 4, 12});
  EXPECT_DOUBLE_EQ(span.distance_mm, 13);
  EXPECT_DOUBLE_EQ(span.plan_distance_mm, 5);
  EXPECT_DOUBLE_EQ(span.rise_mm, 12);
  EXPECT_NEAR(span.angle_deg, 53.130102354155980, 1e-12);
  EXPECT_NEAR(span.slope_deg, 67.380135051959580, 1e-12);
  const auto circle = circle_through({7, 2, 1}, {2, 7, 1}, {-3, 2, 1});
  ASSERT_TRUE(circle);
  EXPECT_NEAR((circle->centre - Vec3(2, 2, 1)).norm(), 0, 1e-12);
  EXPECT_NEAR(circle->radius_mm, 5, 1e-12);
  EXPECT_NEAR(std::abs(circle->normal.z()), 1, 1e-12);
  EXPECT_FALSE(circle_through({0, 0, 0}, {1, 1, 1}, {2, 2, 2}));
}

}  // namespace
}  // namespace yardpass
