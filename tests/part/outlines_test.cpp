// Silhouettes and slices against shapes whose areas are known.
#include <gtest/gtest.h>

#include <cmath>

#include "parts.h"
#include "support/demo_files.h"
#include "support/nasty.h"
#include "yardpass/part/outlines.h"

namespace yardpass {
namespace {

TEST(Slice, OfABowlIsThePlateWithARoundHole) {
  const Mesh bowl = weld(demo::bowl(30, 25, 80, 0.002));
  const double middle = std::sqrt(900.0 - 625);
  for (const double z : {-1.0, -5.0, -9.0, -13.0}) {
    const double hole = 900 - (middle - z) * (middle - z);
    EXPECT_NEAR(slice_at(bowl, z).area_mm2(), 6400 - M_PI * hole, 1.0) << z;
  }
  EXPECT_NEAR(slice_at(bowl, -20).area_mm2(), 6400, 1e-3) << "below the bowl";
  EXPECT_TRUE(slice_at(bowl, 1).empty());
  EXPECT_TRUE(slice_at(bowl, 0).empty()) << "at the height of a flat: just above it";
}

TEST(Slice, DoesNotDependOnFacing) {
  Mesh bowl = weld(demo::bowl(30, 25, 80, 0.02));
  const double area = slice_at(bowl, -5).area_mm2();
  testing::Rng rng(5);
  for (auto& t : bowl.triangles)
    if (rng.pick(3) == 0) std::swap(t[1], t[2]);
  EXPECT_NEAR(slice_at(bowl, -5).area_mm2(), area, 1e-6);
}

TEST(Slice, OpenMeshesGiveNoHalfLoops) {
  const Mesh sheet =
      testing::sheet(Box2(Vec2(0, 0), Vec2(10, 10)), 10, 10, [](double x, double) { return x; });
  EXPECT_TRUE(slice_at(sheet, 4.5).empty());
}

TEST(Silhouette, IsTheOutlineFromAbove) {
  const Region ring = silhouette(testing::demo_mesh("porthole-ring"));
  ASSERT_EQ(ring.loops.size(), 10u) << "rim, bore, eight screw holes";
  const Region mold = silhouette(testing::demo_mesh("paddle-blade"));
  ASSERT_EQ(mold.loops.size(), 1u) << "blind holes and the cavity have floors";
  EXPECT_NEAR(mold.area_mm2(), 180 * 120 - (4 - M_PI) * 25, 1);
  // A mushroom: the cap shades the stem.
  Mesh part = testing::box_mesh(Box3(Vec3(-2, -2, 0), Vec3(2, 2, 8)));
  const Mesh cap = testing::box_mesh(Box3(Vec3(-10, -10, 8), Vec3(10, 10, 12)));
  for (const auto& t : cap.triangles) part.triangles.push_back({t[0] + 8, t[1] + 8, t[2] + 8});
  part.points.insert(part.points.end(), cap.points.begin(), cap.points.end());
  EXPECT_NEAR(silhouette(part).area_mm2(), 400, 1e-6);
}

}  // namespace
}  // namespace yardpass
