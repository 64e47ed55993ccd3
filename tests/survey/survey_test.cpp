// The survey against closed forms: slopes, hidden surface, and which ball reaches what.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "sheet.h"
#include "support/demo_files.h"
#include "support/nasty.h"
#include "support/rng.h"
#include "yardpass/geom/polyline.h"
#include "yardpass/survey/ball_reach.h"
#include "yardpass/survey/survey.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

Survey survey_of(const Mesh& mesh, const SurveyOptions& options = {}) {
  return survey(make_contact_part(mesh), Joints(mesh), options);
}

double area_between(const Survey& result, double from, double to) {
  double sum = 0;
  for (const SlopeShare& share : result.slopes)
    if (share.from_deg >= from - 1e-9 && share.to_deg <= to + 1e-9) sum += share.area_mm2;
  return sum;
}

TEST(Survey, ABoxIsLevelUprightAndUnderside) {
  const Survey result = survey_of(testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 20, 5))));
  EXPECT_NEAR(area_between(result, 0, 0.1), 200, 1e-9);
  EXPECT_NEAR(area_between(result, 89.9, 90), 300, 1e-9);
  EXPECT_NEAR(area_between(result, 0.1, 89.9), 0, 1e-9);
  EXPECT_NEAR(result.underside_mm2, 200, 1e-9);
  EXPECT_EQ(result.undercut_mm2, 0);
  EXPECT_EQ(result.depth_mm(), 0) << "nothing but its top is seen from above";
  ASSERT_EQ(result.flats.size(), 1u);
  EXPECT_EQ(result.flats[0].z_mm, 5);
  EXPECT_EQ(result.edges.size(), 12u);
}

TEST(Survey, FacingDoesNotMatter) {
  Mesh inverted = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 20, 5)));
  for (auto& t : inverted.triangles) std::swap(t[1], t[2]);
  const Survey result = survey_of(inverted);
  EXPECT_NEAR(area_between(result, 0, 0.1), 200, 1e-9);
  EXPECT_NEAR(area_between(result, 89.9, 90), 300, 1e-9);
  EXPECT_NEAR(result.underside_mm2, 200, 1e-9);
}

TEST(Survey, UndercutsAreHiddenFromAbove) {
  // A table: its top shades the floor below it, and one leg in the middle stands in the shade.
  Mesh part = testing::box_mesh(Box3(Vec3(-30, -30, -10), Vec3(30, 30, 0)));
  const auto add = [&](const Mesh& more) {
    const auto first = static_cast<std::int32_t>(part.points.size());
    part.points.insert(part.points.end(), more.points.begin(), more.points.end());
    for (const auto& t : more.triangles) part.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
  };
  add(testing::box_mesh(Box3(Vec3(-2, -2, 0), Vec3(2, 2, 8))));
  add(testing::box_mesh(Box3(Vec3(-10, -10, 8), Vec3(10, 10, 12))));
  const Survey result = survey_of(part);
  // Shaded: floor below the table (400), leg (4 x 32), its two ends inside (32), the table's underside (400).
  EXPECT_NEAR(result.undercut_mm2, 400 + 128 + 32 + 400, 20);
  EXPECT_NEAR(result.underside_mm2, 3600, 1e-6);
  EXPECT_NEAR(result.depth_mm(), 12, 1e-9);
  EXPECT_NEAR(area_between(result, 0, 0.1), 3200 + 400, 20);
}

TEST(Survey, SlopesOfABowlFollowArchimedes) {
  // Between two heights a sphere has the area 2 pi r dz; a slope s lies at depth r cos s below its middle.
  const Survey result = survey_of(weld(demo::bowl(30, 29, 80, 0.002)));
  for (const auto& [from, to] :
       {std::pair(0.1, 15.0), std::pair(15.0, 30.0), std::pair(30.0, 45.0), std::pair(45.0, 60.0)}) {
    const double expected = 2 * kPi * 900 * (std::cos(from * kPi / 180) - std::cos(to * kPi / 180));
    EXPECT_NEAR(area_between(result, from, to), expected, 0.05 * expected) << from;
  }
}

/// Level floor, fillet, slope of 45 degrees, meeting at x = 30 without the fillet; 60 wide, 200 long.
Mesh gutter(double fillet) {
  const double reach = fillet * std::tan(kPi / 8);
  Polyline2 section;
  for (int i = 0; i <= 20; ++i) section.emplace_back((30 - reach) * i / 20, 0);
  for (int i = 1; i <= 60; ++i) {
    const double turn = kPi / 4 * i / 60;
    section.emplace_back(30 - reach + fillet * std::sin(turn), fillet * (1 - std::cos(turn)));
  }
  for (int i = 1; i <= 20; ++i) {
    const double x = section.back().x() + (60 - section.back().x()) * i / 20;
    section.emplace_back(x, x - 30);
  }
  Mesh mesh = testing::sheet(Box2(Vec2(0, 0), Vec2(1, 200)), static_cast<int>(section.size()) - 1, 8,
                             [](double, double) { return 0.0; });
  const auto columns = section.size();
  for (std::size_t i = 0; i < mesh.points.size(); ++i) {
    const Vec2& p = section[i % columns];
    mesh.points[i] = {p.x(), mesh.points[i].y(), p.y()};
  }
  return mesh;
}

TEST(BallReach, AgreesWithTheClosedFormOnAFillet) {
  const double fillet = 5, tolerance = 0.01, tan = std::tan(kPi / 8);
  const Mesh mesh = gutter(fillet);
  const Survey result = survey_of(mesh, {.ball_diameters_mm = {4, 8, 9.8, 12, 16, 24},
                                         .reach_tolerance_mm = tolerance,
                                         .reach_samples = 20000});
  const double floor = 30 - fillet * tan, slope = 30 * std::sqrt(2.0) - fillet * tan, arc = fillet * kPi / 4;
  for (const BallReach& reach : result.reach) {
    const double r = reach.diameter_mm / 2;
    double missed = 0;
    if (r > fillet) {
      // Beyond its own two points of touch the ball leaves sqrt(r^2 + u^2) - r on floor and slope.
      const double near = std::sqrt(2 * r * tolerance + tolerance * tolerance);
      missed = arc + 2 * std::max(0.0, (r - fillet) * tan - near);
    }
    EXPECT_NEAR(reach.share, 1 - missed / (floor + arc + slope), 0.004) << "ball of " << reach.diameter_mm;
  }
  // In the middle of the fillet a ball of radius r leaves (r - fillet) (1 / cos 22.5 - 1).
  EXPECT_NEAR(result.smallest_hollow_mm, fillet + tolerance / (1 / std::cos(kPi / 8) - 1), 0.06);
  EXPECT_NEAR(result.smallest_hollow_at.x(), 30, 2);
}

TEST(BallReach, ABowlTakesBallsUpToItsOwnRadius) {
  const Mesh bowl = weld(demo::bowl(30, 25, 80, 0.002));
  const ReachProbe probe(make_contact_part(bowl), {10, 40, 59, 61.5, 80}, 0.01);
  const double middle = std::sqrt(30.0 * 30 - 25 * 25);
  testing::Rng rng(4);
  for (int i = 0; i < 200; ++i) {
    const double angle = rng.uniform(0, 2 * kPi), down = rng.uniform(0, 0.9);
    const Vec3 out(std::sin(down) * std::cos(angle), std::sin(down) * std::sin(angle), -std::cos(down));
    const Vec3 place = Vec3(0, 0, middle) + 30 * out;
    EXPECT_EQ(probe.count_reaching(place, -out), 3u) << place.transpose();
  }
}

TEST(BallReach, InASharpCornerTheMissedStripIsAsWideAsGeometrySays) {
  // Floor and an upright wall: a ball leaves sqrt(r^2 + (r - x)^2) - r at the distance x from the corner.
  Mesh corner;
  corner.points = {Vec3(0, 0, 0),  Vec3(40, 0, 0), Vec3(40, 40, 0),
                   Vec3(0, 40, 0), Vec3(0, 0, 30), Vec3(0, 40, 30)};
  corner.triangles = {{0, 1, 2}, {0, 2, 3}, {0, 3, 5}, {0, 5, 4}};
  const double tolerance = 0.02;
  const ReachProbe probe(make_contact_part(corner), {6}, tolerance);
  const double strip = 3 - std::sqrt(6 * tolerance + tolerance * tolerance);
  for (double x = 0.05; x < 6; x += 0.05) {
    if (std::abs(x - strip) < 0.02) continue;
    EXPECT_EQ(probe.count_reaching({x, 20, 0}, {0, 0, 1}) == 1, x > strip) << "floor, " << x;
    EXPECT_EQ(probe.count_reaching({0, 20, x}, {1, 0, 0}) == 1, x > strip) << "wall, " << x;
  }
}

TEST(Survey, OfTheDemoMold) {
  const Mesh mesh = testing::demo_mesh("paddle-blade");
  const Survey result = survey_of(mesh);
  EXPECT_EQ(result.top_z, 0);
  EXPECT_NEAR(result.depth_mm(), 17.4, 0.05) << "the drill cones of the dowel holes";
  EXPECT_GT(result.smallest_round_mm, 2.5);
  EXPECT_LT(result.smallest_round_mm, 4.2);
  EXPECT_EQ(result.smallest_hollow_mm, 0) << "where the drill cones begin";
  ASSERT_EQ(result.holes.size(), 4u);
  for (const BoredHole& hole : result.holes) {
    EXPECT_NEAR(hole.diameter_mm, 8, 0.01);
    EXPECT_NEAR(hole.top_z, -0.4, 1e-6) << "below its chamfer";
    EXPECT_FALSE(hole.through);
  }
  double before = 1;
  for (const BallReach& reach : result.reach) {
    EXPECT_LE(reach.share, before);
    before = reach.share;
  }
  EXPECT_GT(result.reach.front().share, 0.999);
  EXPECT_LT(result.reach.back().share, 0.95);
}

/// A plate of 100 x 80 x 20 with round pockets: diameter, depth, middle; beyond the plate's thickness:
/// through.
struct Pocket {
  double diameter, depth;
  Vec2 at;
};

/// Upright walls and floors over a disc cut out of a level sheet, which needs no more to be seen from above.
Mesh plate_with(const std::vector<Pocket>& pockets, int facets) {
  Mesh mesh;
  for (const Pocket& pocket : pockets) {
    const auto ring = [&](double radius, double z) {
      const auto first = static_cast<std::int32_t>(mesh.points.size());
      for (int i = 0; i < facets; ++i)
        mesh.points.emplace_back(pocket.at.x() + radius * std::cos(2 * kPi * i / facets),
                                 pocket.at.y() + radius * std::sin(2 * kPi * i / facets), z);
      return first;
    };
    const bool through = pocket.depth > 20;
    const double low = through ? -20 : -pocket.depth;
    const std::int32_t outer = ring(pocket.diameter, 0), rim = ring(pocket.diameter / 2, 0),
                       foot = ring(pocket.diameter / 2, low);
    mesh.points.emplace_back(pocket.at.x(), pocket.at.y(), low);
    const auto middle = static_cast<std::int32_t>(mesh.points.size()) - 1;
    for (std::int32_t i = 0; i < facets; ++i) {
      const std::int32_t j = (i + 1) % facets;
      mesh.triangles.push_back({outer + i, outer + j, rim + j});
      mesh.triangles.push_back({outer + i, rim + j, rim + i});
      mesh.triangles.push_back({rim + i, rim + j, foot + j});
      mesh.triangles.push_back({rim + i, foot + j, foot + i});
      if (!through) mesh.triangles.push_back({foot + i, foot + j, middle});
    }
  }
  return mesh;
}

TEST(BoredHoles, AreToldWithDiameterDepthAndPlace) {
  const std::vector<Pocket> pockets{{8, 12, {10, 10}}, {3.3, 30, {60, 10}}, {20, 5, {40, 40}}};
  for (const int facets : {6, 12, 64}) {
    const Mesh mesh = plate_with(pockets, facets);
    const auto holes = bored_holes(make_contact_part(mesh), Joints(mesh));
    ASSERT_EQ(holes.size(), 3u) << facets;
    const Pocket sorted[] = {pockets[2], pockets[0], pockets[1]};
    for (std::size_t i = 0; i < 3; ++i) {
      EXPECT_NEAR(holes[i].diameter_mm, sorted[i].diameter, 1e-6);
      EXPECT_NEAR(holes[i].depth_mm(), std::min(20.0, sorted[i].depth), 1e-9);
      EXPECT_NEAR((holes[i].at - sorted[i].at).norm(), 0, 1e-6);
      EXPECT_EQ(holes[i].through, sorted[i].depth > 20);
    }
  }
}

TEST(BoredHoles, WhatIsNotRoundOrStandsUpIsNone) {
  Mesh post = plate_with({{8, 12, {0, 0}}}, 24);  // upside down a pocket is a post
  for (Vec3& p : post.points) p.z() = -p.z();
  EXPECT_TRUE(bored_holes(make_contact_part(post), Joints(post)).empty());
  Mesh slot = plate_with({{8, 12, {0, 0}}}, 24);
  for (Vec3& p : slot.points) p.x() *= 1.2;
  EXPECT_TRUE(bored_holes(make_contact_part(slot), Joints(slot)).empty());
  Mesh square = plate_with({{8, 12, {0, 0}}}, 4);
  EXPECT_TRUE(bored_holes(make_contact_part(square), Joints(square)).empty());
  const Mesh box = testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 20, 5)));
  EXPECT_TRUE(bored_holes(make_contact_part(box), Joints(box)).empty());
}

TEST(Survey, ASharpInnerEdgeIsAHollowOfRadiusZero) {
  // A groove of 90 degrees in a plate: next to nothing of the area, but no ball reaches its bottom.
  Mesh mesh;
  const std::pair<double, double> line[] = {{0, 0}, {49.9, 0}, {50, -0.1}, {50.1, 0}, {100, 0}};
  for (const auto& [x, z] : line)
    for (const double y : {0.0, 80.0}) mesh.points.emplace_back(x, y, z);
  for (std::int32_t i = 0; i < 8; i += 2) {
    mesh.triangles.push_back({i, i + 2, i + 3});
    mesh.triangles.push_back({i, i + 3, i + 1});
  }
  const Survey result = survey_of(mesh);
  EXPECT_EQ(result.smallest_hollow_mm, 0);
  EXPECT_NEAR(result.smallest_hollow_at.x(), 50, 1e-9);
  EXPECT_NEAR(result.inner_edges_mm, 80, 1e-9);
  EXPECT_LT(result.reach.front().share, 1);
}

TEST(Survey, OnAScanNoiseIsNoSharpEdge) {
  testing::Rng rng(9);
  const auto scan = [&](double noise) {
    return demo::sheet(Box2(Vec2(0, 0), Vec2(40, 30)), 160, 120,
                       [&](double x, double) { return (x > 20 ? 3 : 0) + rng.uniform(-noise, noise); });
  };
  const Survey noisy = survey_of(scan(0.12));
  EXPECT_GT(noisy.edges_left_out, 200);
  EXPECT_GT(noisy.least_edge_mm, 1);
  EXPECT_LT(noisy.edges.size(), 60u);
  const Survey clean = survey_of(scan(0));
  EXPECT_EQ(clean.edges_left_out, 0);
  EXPECT_EQ(clean.least_edge_mm, 0);
  EXPECT_EQ(survey_of(scan(0.12), {.least_edge_mm = 0}).edges_left_out, 0);
}

TEST(BallReach, TheShareIsThatOfManyPlacesAskedOneByOne) {
  for (const char* name : {"fairlead-punch", "porthole-ring"}) {
    const Mesh mesh = testing::demo_mesh(name);
    const auto part = make_contact_part(mesh);
    const Survey result = survey(part, Joints(mesh), {.ball_diameters_mm = {3, 8, 20}});
    const ReachProbe probe(part, {3, 8, 20}, result.reach_tolerance_mm);
    std::vector<double> area;
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
      area.push_back(
          (area.empty() ? 0 : area.back()) +
          (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0)).norm());
    const TipSurface needle(part, Profile::needle());
    testing::Rng rng(17);
    double open = 0, reached[3] = {};
    for (int i = 0; i < testing::rounds(100000); ++i) {
      const auto t = static_cast<std::size_t>(
          std::upper_bound(area.begin(), area.end(), rng.uniform(0, area.back())) - area.begin());
      double u = rng.uniform(0, 1), v = rng.uniform(0, 1);
      if (u + v > 1) u = 1 - u, v = 1 - v;
      const Vec3 place = mesh.corner(t, 0) + u * (mesh.corner(t, 1) - mesh.corner(t, 0)) +
                         v * (mesh.corner(t, 2) - mesh.corner(t, 0));
      Vec3 normal = unit_normal(mesh, t);
      const bool upright = std::abs(normal.z()) < 0.0017;
      const Vec2 from = plan(place) + (upright ? Vec2(1e-3 * plan(normal)) : Vec2(0, 0));
      if (needle.height(from) > place.z() + 1e-4 || (!upright && normal.z() < 0)) continue;
      ++open;
      const std::size_t count = probe.count_reaching(place, normal, static_cast<std::int32_t>(t));
      for (std::size_t k = 0; k < count; ++k) ++reached[k];
    }
    for (std::size_t k = 0; k < 3; ++k)
      EXPECT_NEAR(result.reach[k].share, reached[k] / open, 0.01) << name << " " << k;
    EXPECT_LE(result.reach_doubt, 0.006);
  }
}

TEST(Survey, StopsWhenAskedTo) {
  const Mesh mesh = testing::demo_mesh("paddle-blade");
  EXPECT_THROW(
      (void)survey(make_contact_part(mesh), Joints(mesh), {}, [](double share) { return share < 0.5; }),
      Stopped);
}

TEST(Survey, WithoutHollowsTheLargestBallReachesAll) {
  const Survey result =
      survey_of(testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(10, 20, 5))), {.ball_diameters_mm = {2, 6}});
  EXPECT_EQ(result.reach.back().share, 1);
  EXPECT_EQ(result.smallest_hollow_mm, 6) << "above 3, the radius of the largest";
  const Survey sharp = survey_of(gutter(0.01), {.ball_diameters_mm = {2, 6}});
  EXPECT_EQ(sharp.smallest_hollow_mm, 0) << "below the radius of the smallest";
}

}  // namespace
}  // namespace yardpass
