// Carriers against closed forms.
#include <gtest/gtest.h>

#include <numbers>

#include "support/nasty.h"
#include "yardpass/curve/carriers.h"
#include "yardpass/geom/error.h"
#include "yardpass/part/measure.h"

namespace yardpass {
namespace {

double plan_area(const Mesh& mesh) {
  double area = 0;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const double piece =
        0.5 * (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0)).z();
    EXPECT_GE(piece, -1e-12) << "faces up";
    area += piece;
  }
  return area;
}

TEST(RuledFace, SpansStraightLinesAtEqualShares) {
  const Curve a{{{0, 0, 0}, {10, 0, 0}}}, b{{{0, 8, 4}, {5, 8, 4}, {10, 8, 4}}};
  const Mesh face = ruled_face(a, b);
  EXPECT_NEAR(plan_area(face), 80, 1e-12);
  EXPECT_NEAR(highest_at(face, {3, 2})->at.z(), 1, 1e-12);
  EXPECT_NEAR(plan_area(ruled_face(b, a)), 80, 1e-12);
  const Curve low{{{0, 0, 0}, {10, 0, 0}, {10, 10, 0}, {0, 10, 0}}, true},
      high{{{-5, -5, 3}, {15, -5, 3}, {15, 15, 3}, {-5, 15, 3}}, true};
  EXPECT_NEAR(plan_area(ruled_face(low, high)), 300, 1e-9) << "a funnel around the square";
  EXPECT_THROW((void)ruled_face(a, low), Error);
  EXPECT_THROW((void)ruled_face(a, Curve{{{1, 1, 1}, {1, 1, 1}}}), Error);
}

TEST(SweptSection, TurnsWithTheCurve) {
  // A level section 4 to 6 from the middle, swept round a quarter of a ring: half-way a ring of its own.
  Curve along{{}};
  for (int i = 0; i <= 90; ++i) {
    const double t = std::numbers::pi / 2 * i / 90;
    along.points.emplace_back(5 * std::cos(t), 5 * std::sin(t), 1);
  }
  const Mesh ring = swept_section({{{4, 0, 2}, {6, 0, 2}}}, along);
  EXPECT_NEAR(plan_area(ring), std::numbers::pi / 4 * (36 - 16), 0.1);
  for (const Vec3& p : ring.points) {
    EXPECT_NEAR(p.z(), 2, 1e-12);
    EXPECT_NEAR(std::abs(plan(p).norm() - 5), 1, 0.01);
  }
  EXPECT_THROW((void)swept_section({{{0, 0, 0}, {1, 0, 0}}}, {{{0, 0, 0}, {0, 0, 5}}}), Error);
  EXPECT_THROW((void)swept_section({{{0, 0, 0}, {1, 0, 0}}}, {{{0, 0, 0}, {5, 0, 0}, {0, 0, 0}}}), Error);
}

TEST(FlatPatch, CoversTheAreaButForItsHoles) {
  Region area{{{{0, 0}, {20, 0}, {20, 10}, {12, 10}, {12, 5}, {8, 5}, {8, 10}, {0, 10}},
               {{2, 2}, {2, 4}, {5, 4}, {5, 2}}}};
  const Mesh patch = flat_patch(area, 3.5);
  EXPECT_NEAR(plan_area(patch), 200 - 20 - 6, 1e-4);
  EXPECT_FALSE(highest_at(patch, {3, 3}));
  EXPECT_FALSE(highest_at(patch, {10, 8}));
  EXPECT_EQ(highest_at(patch, {1, 8})->at.z(), 3.5);
}

TEST(OffsetCopy, LiesAtTheDistanceAlsoAtEdges) {
  const Mesh box = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 10, 10)));
  const Joints joints(box);
  const Mesh copy = offset_copy(box, joints, TriangleSet(box.triangles.size(), 1), 2);
  EXPECT_LT((copy.box().min() - Vec3(-2, -2, -2)).norm(), 1e-9) << "corners to where the planes meet";
  EXPECT_LT((copy.box().max() - Vec3(12, 12, 12)).norm(), 1e-9);
  const Mesh dome = testing::sheet(Box2(Vec2(-10, -10), Vec2(10, 10)), 60, 60,
                                   [](double x, double y) { return std::sqrt(40.0 * 40.0 - x * x - y * y); });
  const Mesh out = offset_copy(dome, Joints(dome), TriangleSet(dome.triangles.size(), 1), 3);
  for (const Vec3& p : out.points) EXPECT_NEAR(p.norm(), 43, 0.02);
}

}  // namespace
}  // namespace yardpass
