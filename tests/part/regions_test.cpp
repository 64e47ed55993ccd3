// Regions, sharp edges and picks: on shapes whose regions are known, and again on the same shapes meshed
// anew.
#include <gtest/gtest.h>

#include <numbers>
#include <set>

#include "parts.h"
#include "support/demo_files.h"
#include "support/nasty.h"
#include "support/remesh.h"
#include "yardpass/part/edges.h"
#include "yardpass/part/pick.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;
const Box2 kPlate(Vec2(0, 0), Vec2(60, 40));

RegionMap regions_of(const Mesh& mesh, const RegionOptions& options = {}) {
  return split_into_regions(mesh, Joints(mesh), {}, options);
}

int count_of(const RegionMap& map, RegionKind kind) {
  return static_cast<int>(std::count_if(map.regions.begin(), map.regions.end(),
                                        [&](const SurfaceRegion& r) { return r.kind == kind; }));
}

/// A level floor, a fillet, and a slope of 45 degrees: exact tangents. The fillet ends at x = 30 + r
/// tan(22.5).
double gutter(double x, double radius) {
  const double reach = radius * std::tan(kPi / 8), bend = x - (30 - reach);
  if (bend <= 0) return 0;
  if (bend <= radius * std::sin(kPi / 4)) return radius - std::sqrt(radius * radius - bend * bend);
  return x - 30;
}

Mesh gutter_mesh(int columns, int rows, double radius = 5) {
  return testing::sheet(kPlate, columns, rows, [&](double x, double) { return gutter(x, radius); });
}

TEST(Regions, ABoxHasSixAndNumbersGoByArea) {
  const Mesh box = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 20, 5)));
  const RegionMap map = regions_of(box);
  ASSERT_EQ(map.regions.size(), 6u);
  EXPECT_EQ(map[1].area_mm2, 200);
  EXPECT_EQ(map[6].area_mm2, 50);
  EXPECT_EQ(count_of(map, RegionKind::level), 2);
  EXPECT_EQ(count_of(map, RegionKind::plane), 4);
  for (const SurfaceRegion& region : map.regions) EXPECT_EQ(region.neighbours.size(), 4u);
  EXPECT_EQ(regions_of(box, {.crease_deg = 100}).regions.size(), 1u);
}

TEST(Regions, SmoothShapesAreOneRegion) {
  const auto ball = weld(demo::bowl(30, 25, 80, 0.01));
  const RegionMap bowl = regions_of(ball);
  EXPECT_EQ(bowl.regions.size(), 7u) << "the bowl, the face around it, four sides, the bottom";
  const auto waves = [](double x, double y) { return 3 * std::sin(x / 7) * std::cos(y / 9) + 0.02 * x * y; };
  EXPECT_EQ(regions_of(testing::sheet(kPlate, 150, 100, waves)).regions.size(), 1u);
  for (const double flatness : {0.2, 0.5, 1.0, 3.0}) {
    Mesh egg = testing::sheet(Box2(Vec2(0, -89), Vec2(360, 89)), 180, 90, [](double, double) { return 0.0; });
    for (Vec3& p : egg.points) {
      const double u = p.x() * kPi / 180, v = p.y() * kPi / 180;
      p = {30 * std::cos(u) * std::cos(v), 20 * std::sin(u) * std::cos(v), 30 * flatness * std::sin(v)};
    }
    EXPECT_EQ(regions_of(egg).regions.size(), 1u) << flatness;
  }
}

TEST(Regions, ANoisyScanStaysInFewRegions) {
  testing::Rng rng(5);
  for (const double noise : {0.005, 0.02, 0.05}) {
    Mesh scan = gutter_mesh(240, 160);  // facets of 0.25 mm
    for (Vec3& p : scan.points) p.z() += rng.uniform(-noise, noise);
    EXPECT_LE(regions_of(scan).regions.size(), 30u) << noise;
  }
}

TEST(Regions, AFilletIsTakenApartFromFloorAndWall) {
  const Mesh mesh = gutter_mesh(600, 20);
  const RegionMap map = regions_of(mesh);
  ASSERT_EQ(map.regions.size(), 3u);
  EXPECT_TRUE(map.bend_from_part);
  EXPECT_EQ(map[3].kind, RegionKind::fillet);
  EXPECT_NEAR(map[3].bend_radius_mm, 5, 0.2);
  EXPECT_NEAR(map[3].area_mm2, 40 * 5 * kPi / 4, 0.1 * 40 * 5 * kPi / 4);
  EXPECT_EQ(map[3].neighbours, (std::vector<std::int32_t>{1, 2}));
  // Told by radius: 4 is broader than no bend here, 6 takes it; 0 leaves one smooth region.
  EXPECT_EQ(regions_of(mesh, {.bend_radius_mm = 4}).regions.size(), 1u);
  EXPECT_EQ(regions_of(mesh, {.bend_radius_mm = 7}).regions.size(), 3u);
  EXPECT_EQ(regions_of(mesh, {.bend_radius_mm = 0}).regions.size(), 1u);
}

TEST(Regions, TotalTurnLimitsGrowth) {
  const Mesh mesh = gutter_mesh(600, 20);
  const RegionMap map = regions_of(mesh, {.bend_radius_mm = 0, .total_turn_deg = 20});
  EXPECT_GE(map.regions.size(), 3u);
  for (const SurfaceRegion& region : map.regions)
    EXPECT_LE(region.greatest_slope_deg - region.least_slope_deg, 40.1);
  EXPECT_EQ(regions_of(mesh, {.bend_radius_mm = 0, .total_turn_deg = 50}).regions.size(), 1u);
}

TEST(Regions, DemoPartsFallApartAsAPersonWouldNameThem) {
  const RegionMap blade = regions_of(testing::demo_mesh("paddle-blade"));
  // Parting face, floor, fillet, wall, bottom, 4 sides, 4 corners, 4 dowel holes of 3 each.
  EXPECT_EQ(blade.regions.size(), 25u);
  EXPECT_EQ(count_of(blade, RegionKind::fillet), 1);
  EXPECT_EQ(count_of(blade, RegionKind::round), 4);
  EXPECT_EQ(count_of(blade, RegionKind::level), 2);
  const RegionMap punch = regions_of(testing::demo_mesh("fairlead-punch"));
  // Saddle, round along it, wall, foot fillet, plate, bottom, 4 sides, 4 corners, 2 holes.
  EXPECT_EQ(punch.regions.size(), 16u);
  EXPECT_EQ(count_of(punch, RegionKind::fillet), 1);
  EXPECT_EQ(count_of(punch, RegionKind::round), 5);
  const RegionMap ring = regions_of(testing::demo_mesh("porthole-ring"));
  // Bead, its fillet, bore, bore chamfer, flange, its round, its edge, bottom, 8 holes of 2.
  EXPECT_EQ(ring.regions.size(), 24u);
  EXPECT_EQ(count_of(ring, RegionKind::fillet), 1);
  EXPECT_EQ(count_of(ring, RegionKind::round), 2);
}

TEST(Regions, EveryTriangleOnceAndAreasAddUp) {
  testing::Rng rng(7);
  for (int round = 0; round < testing::rounds(3); ++round)
    for (int kind = 0; kind < testing::kNastyKinds; ++kind) {
      const Mesh mesh = weld(testing::nasty_part(rng, kind));
      const RegionMap map = regions_of(mesh);
      std::vector<std::int64_t> triangles(map.regions.size(), 0);
      for (const auto number : map.of_triangle) {
        ASSERT_GE(number, 1);
        ASSERT_LE(number, static_cast<std::int32_t>(map.regions.size()));
        ++triangles[static_cast<std::size_t>(number - 1)];
      }
      double area = 0;
      for (std::size_t i = 0; i < triangles.size(); ++i) {
        EXPECT_EQ(triangles[i], map.regions[i].triangles);
        area += map.regions[i].area_mm2;
        for (const auto other : map.regions[i].neighbours) {
          const auto& back = map[other].neighbours;
          EXPECT_TRUE(std::find(back.begin(), back.end(), static_cast<std::int32_t>(i + 1)) != back.end());
        }
      }
      EXPECT_NEAR(area, area_of(mesh, TriangleSet(mesh.triangles.size(), 1)), 1e-9 * (1 + area));
    }
}

TEST(Regions, ScrapsJoinANeighbourAndAreCounted) {
  // A plate with a bump of one facet: eight steep facets around a point.
  Mesh mesh =
      testing::sheet(kPlate, 60, 40, [](double x, double y) { return x == 30 && y == 20 ? 2.0 : 0.0; });
  const RegionMap kept = regions_of(mesh, {.scrap_mm2 = 0.0});
  EXPECT_GT(kept.regions.size(), 1u);
  const RegionMap merged = regions_of(mesh, {.scrap_mm2 = 5.0});
  EXPECT_EQ(merged.regions.size(), 1u);
  EXPECT_EQ(merged.scraps, static_cast<std::int64_t>(kept.regions.size()) - 1);
}

TEST(Regions, GroupsOfTheFileAreBorders) {
  const Mesh mesh = testing::sheet(kPlate, 6, 4, [](double, double) { return 0.0; });
  std::vector<std::int32_t> groups;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
    groups.push_back(mesh.corner(t, 0).x() < 25 ? 0 : 1);
  const RegionMap map = split_into_regions(mesh, Joints(mesh), groups);
  ASSERT_EQ(map.regions.size(), 2u);
  EXPECT_NE(map[1].group, map[2].group);
}

TEST(SharpEdges, OfABoxAndOfTheMold) {
  const Mesh box = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 20, 5)));
  const Joints joints(box);
  const auto edges = sharp_edges(box, joints, turned_over(box, joints), 30);
  ASSERT_EQ(edges.size(), 12u);
  EXPECT_EQ(edges.front().length_mm, 20);
  for (const SharpEdge& edge : edges) {
    EXPECT_NEAR(edge.least_turn_deg, 90, 1e-9);
    EXPECT_FALSE(edge.hollow);
    EXPECT_FALSE(edge.closed);
  }
  const Mesh blade = testing::demo_mesh("paddle-blade");
  const Joints blade_joints(blade);
  const auto rims = sharp_edges(blade, blade_joints, turned_over(blade, blade_joints), 30);
  // Rim of the cavity, outline above and below, and of each hole: rim, chamfer's end, cone.
  ASSERT_EQ(rims.size(), 15u);
  for (const SharpEdge& edge : rims) EXPECT_TRUE(edge.closed);
  EXPECT_NEAR(rims[0].length_mm, rims[1].length_mm, 1e-6);
  EXPECT_NEAR(rims[2].greatest_turn_deg, 85, 0.2) << "5 degrees of draft";
  EXPECT_EQ(std::count_if(rims.begin(), rims.end(), [](const SharpEdge& e) { return e.hollow; }), 4);
}

TEST(SharpEdges, DoNotDependOnFacing) {
  const Mesh blade = testing::demo_mesh("paddle-blade");
  Mesh mixed = blade;
  testing::Rng rng(2);
  for (auto& t : mixed.triangles)
    if (rng.pick(2) == 0) std::swap(t[1], t[2]);
  const Joints a(blade), b(mixed);
  const auto one = sharp_edges(blade, a, turned_over(blade, a), 30),
             two = sharp_edges(mixed, b, turned_over(mixed, b), 30);
  ASSERT_EQ(one.size(), two.size());
  const auto hollow_length = [](const std::vector<SharpEdge>& edges) {
    double sum = 0;
    for (const SharpEdge& edge : edges) sum += edge.hollow ? edge.length_mm : 0;
    return sum;
  };
  EXPECT_NEAR(hollow_length(one), hollow_length(two), 1e-9);
  EXPECT_NEAR(hollow_length(one), 4 * 8 * kPi, 0.1) << "where drill cones meet their bores";
}

class PickOnTheMold : public ::testing::Test {
 protected:
  struct Part {
    explicit Part(Mesh m) : mesh(std::move(m)), joints(mesh), regions(split_into_regions(mesh, joints)) {}
    Mesh mesh;
    Joints joints;
    RegionMap regions;
    [[nodiscard]] TriangleSet set(const Pick& what) const { return pick(mesh, joints, regions, {}, what); }
    [[nodiscard]] double area(const Pick& what) const { return area_of(mesh, set(what)); }
  };
  const Part blade_{testing::demo_mesh("paddle-blade")};
};

TEST_F(PickOnTheMold, ByPlaceSlopeBoxAndBoundarySurviveANewMesh) {
  const Part anew(testing::remeshed(blade_.mesh, 9));
  Pick floor, steep, corner, half, top;
  floor.under = {Vec2(0, 0)};
  steep.slope = {60, 90};
  corner.nearest = {Vec3(90, 60, -20)};
  half.under = {Vec2(0, 0)};
  half.inside = rectangle(Box2(Vec2(-200, -200), Vec2(0, 200)));
  top.box = Box3(Vec3(-200, -200, -0.001), Vec3(200, 200, 1));
  EXPECT_GT(blade_.area(floor), 6000);
  EXPECT_NEAR(blade_.area(corner), 314, 1);
  EXPECT_NEAR(blade_.area(top), blade_.regions[2].area_mm2, 1e-6);
  for (const Pick& what : {floor, corner, top})
    EXPECT_NEAR(anew.area(what), blade_.area(what), 0.01 * blade_.area(what));
  EXPECT_NEAR(anew.area(steep), blade_.area(steep), 1e-6 * blade_.area(steep));
  EXPECT_NEAR(anew.area(half), blade_.area(half), 0.02 * blade_.area(half));
}

TEST_F(PickOnTheMold, NeighboursUnionAndDifference) {
  Pick floor, wall, around, cavity, rest;
  floor.under = {Vec2(0, 0)};
  const TriangleSet floor_set = blade_.set(floor);
  around.neighbours_of = {floor_set};
  const TriangleSet fillet_set = blade_.set(around);
  EXPECT_NEAR(area_of(blade_.mesh, fillet_set), 2170, 30) << "the fillet, and only it";
  wall.neighbours_of = {fillet_set};
  wall.without = {floor_set};
  cavity.united = {floor_set, fillet_set, blade_.set(wall)};
  const double whole = blade_.area(cavity);
  EXPECT_NEAR(whole, 10310, 10);
  rest.without = {blade_.set(cavity)};
  const double all = area_of(blade_.mesh, TriangleSet(blade_.mesh.triangles.size(), 1));
  EXPECT_NEAR(blade_.area(rest), all - whole, 1e-6);
  // Narrowed by slope: what is chosen and shallow.
  cavity.slope = {0, 30};
  EXPECT_LT(blade_.area(cavity), whole);
}

TEST_F(PickOnTheMold, OutlineInPlanIsTheShadow) {
  Pick cavity;
  cavity.box = Box3(Vec3(-72, -45, -30), Vec3(72, 45, -1e-4));
  const Region outline = outline_in_plan(blade_.mesh, blade_.joints, blade_.set(cavity));
  ASSERT_EQ(outline.loops.size(), 1u);
  for (int i = 0; i < 100; ++i) {
    const Vec2 rim = demo::paddle_blade_rim(2 * kPi * i / 100);
    EXPECT_TRUE(outline.contains(0.999 * rim)) << i;
    EXPECT_FALSE(outline.contains(1.001 * rim)) << i;
  }
  Pick face;
  face.under = {Vec2(0, 50)};
  const Region parting = outline_in_plan(blade_.mesh, blade_.joints, blade_.set(face));
  EXPECT_EQ(parting.loops.size(), 6u) << "outline, cavity, four holes";
  EXPECT_NEAR(parting.area_mm2(), blade_.area(face), 1e-3);
}

TEST_F(PickOnTheMold, WhatDoesNotExistIsAnError) {
  Pick number, place, group;
  number.numbers = {99};
  place.under = {Vec2(500, 0)};
  group.groups = {0};
  EXPECT_THROW((void)blade_.set(number), Error);
  EXPECT_THROW((void)blade_.set(place), Error);
  EXPECT_THROW((void)blade_.set(group), Error);
  EXPECT_EQ(blade_.area({}), area_of(blade_.mesh, TriangleSet(blade_.mesh.triangles.size(), 1)));
}

}  // namespace
}  // namespace yardpass
