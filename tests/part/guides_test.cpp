// Lids and run_outs: where they lie, and how they meet the surface.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/demo_files.h"
#include "support/nasty.h"
#include "yardpass/part/guides.h"
#include "yardpass/part/measure.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

struct Part {
  explicit Part(Mesh m) : mesh(std::move(m)), joints(mesh), regions(split_into_regions(mesh, joints)) {}
  Mesh mesh;
  Joints joints;
  RegionMap regions;
  [[nodiscard]] TriangleSet under(const Vec2& place) const {
    Pick what;
    what.under = {place};
    return pick(mesh, joints, regions, {}, what);
  }
};

Region disc(const Vec2& centre, double radius) {
  Polyline2 loop;
  for (int i = 0; i < 90; ++i)
    loop.push_back(centre + radius * Vec2(std::cos(2 * kPi * i / 90), std::sin(2 * kPi * i / 90)));
  return {{loop}};
}

TEST(Rims, OfThePartingFace) {
  const Part blade(testing::demo_mesh("paddle-blade"));
  const auto rims = rims_of(blade.mesh, blade.joints, blade.under({0, 55}));
  ASSERT_EQ(rims.size(), 6u) << "outline, cavity, four dowel holes";
  EXPECT_FALSE(rims[0].is_hole);
  for (std::size_t i = 1; i < 6; ++i) EXPECT_TRUE(rims[i].is_hole);
  EXPECT_NEAR(rims[5].widest_mm(), 8.8 * std::sqrt(2.0), 0.01);
}

TEST(FlatLid, CoversTheHoleInThePlaneOfItsRim) {
  const Part blade(testing::demo_mesh("paddle-blade"));
  const auto rims = rims_of(blade.mesh, blade.joints, blade.under({0, 55}));
  const Mesh lid = flat_lid(rims[5]);
  double area = 0;
  for (std::size_t t = 0; t < lid.triangles.size(); ++t) {
    const double piece = 0.5 * cross2(plan(lid.corner(t, 1)) - plan(lid.corner(t, 0)),
                                      plan(lid.corner(t, 2)) - plan(lid.corner(t, 0)));
    EXPECT_GE(piece, 0) << "faces up";
    area += piece;
  }
  EXPECT_NEAR(area, kPi * 4.4 * 4.4, 0.1);
  for (const Vec3& p : lid.points) EXPECT_EQ(p.z(), 0);
}

TEST(SmoothLid, OverAHoleInAPlaneIsThePlane) {
  const Mesh sheet = testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 80, 80,
                                    [](double x, double y) { return 3 + 0.3 * x - 0.2 * y; });
  const TriangleSet all(sheet.triangles.size(), 1);
  const Mesh lid = smooth_lid(sheet, all, disc({2, 1}, 6), 0.5);
  ASSERT_FALSE(lid.triangles.empty());
  for (const Vec3& p : lid.points) EXPECT_NEAR(p.z(), 3 + 0.3 * p.x() - 0.2 * p.y(), 1e-6);
}

TEST(SmoothLid, ContinuesACurvedSurface) {
  // A dome of radius 60: what the plate makes of a hole of 16 mm is close to the dome that is gone.
  const auto dome = [](double x, double y) { return std::sqrt(3600 - x * x - y * y); };
  const Mesh sheet = testing::sheet(Box2(Vec2(-25, -25), Vec2(25, 25)), 200, 200, dome);
  const TriangleSet all(sheet.triangles.size(), 1);
  const Mesh lid = smooth_lid(sheet, all, disc({3, -2}, 8), 0.4);
  double worst = 0, worst_flat = 0;
  for (const Vec3& p : lid.points) {
    worst = std::max(worst, std::abs(p.z() - dome(p.x(), p.y())));
    worst_flat = std::max(worst_flat, dome(p.x(), p.y()) - 58.8);
  }
  EXPECT_LT(worst, 0.06) << "a level lid would be off by " << worst_flat;
  EXPECT_GT(worst_flat, 0.5);
}

TEST(SmoothLid, GoesOverANotchThatIsOpenToTheSide) {
  const auto rise = [](double x, double) { return 0.1 * x; };
  const Mesh sheet = testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 80, 80, rise);
  TriangleSet set(sheet.triangles.size(), 1);
  const Region notch = rectangle(Box2(Vec2(-4, 8), Vec2(4, 20)));
  for (std::size_t t = 0; t < set.size(); ++t)
    if (notch.contains(plan((sheet.corner(t, 0) + sheet.corner(t, 1) + sheet.corner(t, 2)) / 3))) set[t] = 0;
  const Mesh lid = smooth_lid(sheet, set, notch, 0.5);
  Box2 box;
  for (const Vec3& p : lid.points) {
    box.extend(plan(p));
    EXPECT_NEAR(p.z(), 0.1 * p.x(), 1e-6) << p.transpose();
  }
  EXPECT_GT(box.max().y(), 19) << "out to the open side";
}

TEST(SmoothLid, WithoutSurroundingsIsAnError) {
  const Mesh sheet = testing::sheet(Box2(Vec2(0, 0), Vec2(5, 5)), 5, 5, [](double, double) { return 0.0; });
  EXPECT_THROW((void)smooth_lid(sheet, TriangleSet(sheet.triangles.size(), 1), disc({50, 50}, 3), 0.5),
               Error);
  EXPECT_THROW((void)smooth_lid(sheet, TriangleSet(sheet.triangles.size(), 1), {}, 0.5), Error);
  EXPECT_THROW((void)smooth_lid(sheet, TriangleSet(sheet.triangles.size(), 1), disc({2, 2}, 2), 1e-4), Error);
}

TEST(Extension, OfAPlateIsThePlateGrownInItsPlane) {
  const Mesh sheet = testing::sheet(Box2(Vec2(-20, -10), Vec2(20, 10)), 8, 4,
                                    [](double x, double y) { return 0.5 * x + 0.1 * y; });
  const Joints joints(sheet);
  const Mesh more = run_out_of(sheet, joints, TriangleSet(sheet.triangles.size(), 1), {.length_mm = 4});
  for (const Vec3& p : more.points) EXPECT_NEAR(p.z(), 0.5 * p.x() + 0.1 * p.y(), 1e-9);
  // Area: along the four edges and a full turn of corners.
  double area = 0;
  for (std::size_t t = 0; t < more.triangles.size(); ++t)
    area += 0.5 * (more.corner(t, 1) - more.corner(t, 0)).cross(more.corner(t, 2) - more.corner(t, 0)).norm();
  const double around = 2 * std::hypot(40, 20) + 2 * std::hypot(20, 2);
  EXPECT_NEAR(area, 4 * around + kPi * 16, 0.5);
}

TEST(Extension, LeavesADomeAlongItsTangent) {
  // A cap of a sphere of 50 mm, rim at radius 30: slope asin(30 / 50).
  Mesh cap = testing::sheet(Box2(Vec2(0, 0), Vec2(360, 30)), 180, 40, [](double, double) { return 0.0; });
  for (Vec3& p : cap.points) {
    const double u = p.x() * kPi / 180, r = std::max(p.y(), 1e-3);
    p = {r * std::cos(u), r * std::sin(u), std::sqrt(2500 - r * r)};
  }
  cap = weld(cap, 1e-6);
  const Joints joints(cap);
  const Mesh more = run_out_of(cap, joints, TriangleSet(cap.triangles.size(), 1), {.length_mm = 5});
  double farthest = 0;
  for (const Vec3& p : more.points) {
    const double r = plan(p).norm();
    farthest = std::max(farthest, r);
    if (r > 30.01) {
      EXPECT_NEAR(p.z(), 40 - (r - 30) * 0.75, 0.08) << "tangent: 3 down for 4 out";
    }
  }
  EXPECT_NEAR(farthest, 30 + 5 * 0.8, 0.05);
}

TEST(Extension, CurvedFollowsTheCircleOfABowl) {
  // A bowl of radius 50 cut off at 20 from its axis: run on by 8 along the circle.
  const Part bowl(testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 80, 80, [](double x, double y) {
    return 50 - std::sqrt(50.0 * 50.0 - x * x - y * y);
  }));
  const TriangleSet all(bowl.mesh.triangles.size(), 1);
  const Vec3 centre(0, 0, 50);
  double straight_off = 0, curved_off = 0;
  for (const Vec3& p : run_out_of(bowl.mesh, bowl.joints, all, {.length_mm = 8}).points)
    straight_off = std::max(straight_off, std::abs((p - centre).norm() - 50));
  const Mesh curved = run_out_of(bowl.mesh, bowl.joints, all, {.length_mm = 8, .curved = true});
  for (const Vec3& p : curved.points) curved_off = std::max(curved_off, std::abs((p - centre).norm() - 50));
  EXPECT_GT(straight_off, 0.6) << "8 mm of tangent leave a circle of 50 by 8^2 / 100";
  EXPECT_LT(curved_off, 0.05);
  for (std::size_t t = 0; t < curved.triangles.size(); ++t)
    EXPECT_GE(
        (curved.corner(t, 1) - curved.corner(t, 0)).cross(curved.corner(t, 2) - curved.corner(t, 0)).z(),
        -1e-9);
}

TEST(Extension, CurvedIsStraightOnAPlane) {
  const Part plane(testing::sheet(Box2(Vec2(0, 0), Vec2(10, 10)), 10, 10,
                                  [](double x, double y) { return 0.3 * x - 0.1 * y; }));
  const TriangleSet all(plane.mesh.triangles.size(), 1);
  for (const Vec3& p : run_out_of(plane.mesh, plane.joints, all, {.length_mm = 4, .curved = true}).points)
    EXPECT_NEAR(p.z(), 0.3 * p.x() - 0.1 * p.y(), 1e-9);
}

TEST(Extension, AtAnInnerCornerStripsOverlapAndHolesStay) {
  // An L of 20 mm with a leg of 10: one inner corner of its outline, and a hole in it.
  Mesh sheet = testing::sheet(Box2(Vec2(0, 0), Vec2(20, 20)), 20, 20, [](double, double) { return 2.0; });
  std::erase_if(sheet.triangles, [&](const auto& t) {
    const Vec3 middle =
        (sheet.points[static_cast<std::size_t>(t[0])] + sheet.points[static_cast<std::size_t>(t[1])] +
         sheet.points[static_cast<std::size_t>(t[2])]) /
        3;
    const bool hole = std::abs(middle.x() - 5) < 1 && std::abs(middle.y() - 5) < 1;
    return hole || (middle.x() > 10 && middle.y() > 10);
  });
  const Joints joints(sheet);
  const Mesh more = run_out_of(sheet, joints, TriangleSet(sheet.triangles.size(), 1), {.length_mm = 3});
  for (const Vec3& p : more.points) {
    EXPECT_NEAR(p.z(), 2, 1e-12);
    EXPECT_FALSE(std::abs(p.x() - 5) < 0.9 && std::abs(p.y() - 5) < 0.9) << "the hole stays open";
  }
  EXPECT_TRUE(highest_at(more, {12, 12})) << "the inner corner is covered by both strips";
  EXPECT_TRUE(highest_at(more, {-2, -2})) << "an outer corner is filled";
  EXPECT_FALSE(highest_at(more, {-2.9, -2.9})) << "in an arc";
  EXPECT_FALSE(highest_at(more, {16, 16}));
}

TEST(Extension, BetweenTwoPlacesOrAlongALineOnlyThereAndNotIntoWhatStandsInTheWay) {
  const Part plane(
      testing::sheet(Box2(Vec2(0, 0), Vec2(20, 10)), 20, 10, [](double, double) { return 0.0; }));
  const TriangleSet all(plane.mesh.triangles.size(), 1);
  const auto box_of = [&](const RunOutOptions& options) {
    return run_out_of(plane.mesh, plane.joints, all, options).box();
  };
  const auto expect_box = [](const Box3& box, double x0, double y0, double x1, double y1) {
    EXPECT_NEAR(box.min().x(), x0, 1e-9);
    EXPECT_NEAR(box.min().y(), y0, 1e-9);
    EXPECT_NEAR(box.max().x(), x1, 1e-9);
    EXPECT_NEAR(box.max().y(), y1, 1e-9);
  };
  expect_box(box_of({.length_mm = 3, .between = std::pair(Vec3(5, 0, 0), Vec3(12, 0, 0))}), 5, -3, 12, 0);
  expect_box(box_of({.length_mm = 3, .between = std::pair(Vec3(12, 0, 0), Vec3(5, 0, 0))}), 5, -3, 12, 0);
  // Over two corners, the shorter way.
  expect_box(box_of({.length_mm = 3, .between = std::pair(Vec3(18, 0, 0), Vec3(17, 10, 0))}), 17, -3, 23, 13);
  expect_box(box_of({.length_mm = 3, .along = {{Vec3(0, 10, 0.05), Vec3(20, 10, 0.05)}}}), 0, 10, 20, 13);
  EXPECT_TRUE(run_out_of(plane.mesh, plane.joints, all, {.length_mm = 3, .along = {{Vec3(0, 8, 0)}}})
                  .triangles.empty());
  // A wall 1.5 mm beside one side, none beside the others.
  const Mesh stopped = run_out_of(plane.mesh, plane.joints, all,
                                  {.length_mm = 3, .blocked = [](const Vec3& p) { return p.x() > 21.5; }});
  expect_box(stopped.box(), -3, -3, stopped.box().max().x(), 13);
  EXPECT_LE(stopped.box().max().x(), 21.5);
  EXPECT_GT(stopped.box().max().x(), 21.3);
}

TEST(Rims, BranchingBordersAreLeftOut) {
  // Two squares that meet in one corner: their common corner has four border sides.
  Mesh mesh;
  mesh.points = {Vec3(0, 0, 0), Vec3(1, 0, 0), Vec3(1, 1, 0), Vec3(0, 1, 0),
                 Vec3(2, 1, 0), Vec3(2, 2, 0), Vec3(1, 2, 0)};
  mesh.triangles = {{0, 1, 2}, {0, 2, 3}, {2, 4, 5}, {2, 5, 6}};
  const Joints joints(mesh);
  EXPECT_LE(rims_of(mesh, joints, TriangleSet(4, 1)).size(), 1u);
  TriangleSet one(4, 0);
  one[0] = one[1] = 1;
  ASSERT_EQ(rims_of(mesh, joints, one).size(), 1u);
  EXPECT_FALSE(rims_of(mesh, joints, one)[0].is_hole);
  EXPECT_TRUE(rims_of(mesh, joints, TriangleSet(4, 0)).empty());
}

}  // namespace
}  // namespace yardpass
