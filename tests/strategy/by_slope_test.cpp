// Steep and shallow areas, and finishing both in one operation: no gap at the seam, no scraps on scans.
#include "yardpass/strategy/by_slope.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/grounds.h"
#include "support/turned_parts.h"
#include "yardpass/plan/trim.h"
#include "yardpass/verify/left.h"

namespace yardpass {
namespace {

using testing::all_cuts;

constexpr double kDegree = std::numbers::pi / 180;

Region square(double half) { return rectangle(Box2(Vec2(-half, -half), Vec2(half, half))); }

Mesh sphere_cap(double noise, std::uint64_t seed = 5) {
  Mesh mesh = testing::turned_part(testing::arc_chain({0, 0}, 40, 1e-3, 89.99, 150), 240);
  testing::Rng rng(seed);
  if (noise > 0)
    for (Vec3& p : mesh.points)
      for (int k = 0; k < 3; ++k) p[k] += rng.uniform(-noise, noise) + rng.uniform(-noise, noise);
  return mesh;
}

TEST(SlopeAreas, SplitASphereAtTheAngleAndAConeNotAtAll) {
  const TipSurface ball(make_contact_part(sphere_cap(0)), Profile::ball(6));
  for (const double angle : {30.0, 45.0, 60.0}) {
    const SlopeAreas areas = slope_areas(ball, square(46), {angle});
    const double seam = 43 * std::sin(angle * kDegree);
    EXPECT_EQ(areas.shallow_pieces, 2) << "beside the part there is nothing steep";
    EXPECT_EQ(areas.steep_pieces, 1);
    double at_seam = 0;
    for (int k = 0; k < 360; ++k) {
      const Vec2 way(std::cos(k * kDegree), std::sin(k * kDegree));
      at_seam += areas.shallow.contains((seam - 0.4) * way) && areas.steep.contains((seam + 0.4) * way);
    }
    EXPECT_GT(at_seam, 355) << angle;
    EXPECT_LT(areas.steepest_shallow_deg, angle + 2);
    EXPECT_GT(areas.gentlest_steep_deg, angle - 2);
  }
  for (const double slope : {43.0, 47.0}) {  // nearly the angle everywhere, with noise
    testing::Rng rng(2);
    const TipSurface cone(
        make_contact_part(testing::sheet(
            Box2(Vec2(-20, -20), Vec2(20, 20)), 100, 100,
            [&](double x, double) { return x * std::tan(slope * kDegree) + rng.uniform(-0.01, 0.01); })),
        Profile::ball(6));
    const SlopeAreas areas = slope_areas(cone, square(14), {45});
    EXPECT_EQ(areas.steep_pieces + areas.shallow_pieces, 1) << slope;
    EXPECT_EQ(areas.steep_pieces, slope > 45 ? 1 : 0);
  }
}

TEST(SlopeAreas, CoverAllAndOverlapByWhatIsAsked) {
  for (const testing::Ground& ground : testing::grounds())
    for (const Shape shape : {Shape::ball, Shape::flat, Shape::bull}) {
      const ToolSurface surface =
          testing::exact_surface(make_contact_part(ground.mesh), testing::tool_of(shape));
      const Region area = square(11);
      const double overlap = 0.3;
      const SlopeAreas areas = slope_areas(surface, area, {30, overlap}),
                       bare = slope_areas(surface, area, {30});
      EXPECT_NEAR(unite(areas.steep, areas.shallow).area_mm2(), area.area_mm2(), 1e-3);
      EXPECT_NEAR(intersect(bare.steep, bare.shallow).area_mm2(), 0, 1e-3);
      const Region both = intersect(areas.steep, areas.shallow);
      // Nowhere wider than asked: nothing of it survives the loss of a bit more than half of that.
      EXPECT_LT(offset(both, -0.5 * overlap - 0.03).area_mm2(), 0.05) << ground.name << name_of(shape);
      // And no narrower along the seam.
      const Region seam = intersect(offset(bare.steep, 0.01), offset(bare.shallow, 0.01));
      EXPECT_LT(subtract(intersect(offset(seam, 0.5 * overlap - 0.05), area), both).area_mm2(),
                0.02 * std::max(1.0, both.area_mm2()))
          << ground.name << name_of(shape);
    }
}

TEST(SlopeAreas, OfNoisyScansAreWholeAndUprightWallsAreSteep) {
  for (const double noise : {0.01, 0.03}) {
    const TipSurface ball(make_contact_part(sphere_cap(noise)), Profile::ball(6));
    const Region round{{testing::arc_chain({0, 0}, 41, 0, 359, 359)}};
    const SlopeAreas areas = slope_areas(ball, round, {45});
    EXPECT_LE(areas.steep_pieces + areas.shallow_pieces, 3) << noise;
    EXPECT_EQ(areas.shallow_pieces, 1) << noise;
  }
  // A block: only strips along its walls are steep, as wide as the ball rolls over the edge, and a bit.
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(-20, -15, -12), Vec3(20, 15, 0))));
  for (const bool flat : {false, true}) {
    const TipSurface surface(part, flat ? Profile::flat(6) : Profile::ball(6));
    const SlopeAreas areas = slope_areas(surface, square(30), {45});
    EXPECT_FALSE(areas.steep.contains({0, 0}));
    EXPECT_FALSE(areas.steep.contains({17, 0}));
    EXPECT_EQ(areas.steep.contains({22.5, 0}), !flat);
    EXPECT_TRUE(areas.steep.contains({23, 3.3})) << "the wall itself";
    EXPECT_FALSE(areas.steep.contains({25, 0}));
    EXPECT_EQ(areas.steep_pieces, 1);
  }
  EXPECT_THROW((void)slope_areas(TipSurface(part, Profile::ball(6)), square(3), {5}), Error);
  EXPECT_THROW((void)slope_areas(TipSurface(part, Profile::ball(6)), square(3), {45, -1}), Error);
  EXPECT_TRUE(slope_areas(TipSurface(part, Profile::ball(6)), {}, {45}).steep.empty());
}

void carve_cuts(Stock& stock, const Profile& cutter, const CutPlan& plan) {
  std::vector<SweptMove> moves;
  for (const Cut& cut : all_cuts(plan)) {
    Polyline3 points = cut.points;
    if (cut.closed) points.push_back(points.front());
    for (std::size_t i = 0; i + 1 < points.size(); ++i) moves.push_back({points[i], points[i + 1]});
  }
  carve(stock, std::array{cutter}, moves);
}

BySlopeOptions usual_options(double split, double scallop, double stepover) {
  BySlopeOptions options;
  options.split = {split, 0.5 * stepover};
  options.steep.scallop_mm = scallop;
  options.steep.least_slope_deg = split - kSlopeBand;
  options.shallow.stepover_mm = stepover;
  options.shallow.spacing = SpacingHolds::on_surface;
  return options;
}

/// Carved: beside the seam, across it and along it, no more than the ridges and the tolerance.
TEST(BySlope, LeavesNothingAtTheSeam) {
  constexpr double scallop = 0.01, tolerance = 0.002;
  const double stepover = 2 * std::sqrt(scallop * (6 - scallop));
  const auto part =
      make_contact_part(testing::turned_part(testing::arc_chain({0, 0}, 40, 20, 89.99, 500), 540));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  const double seam = 43 * std::sin(45 * kDegree);
  for (const double around : {0.0, 45.0, 90.0}) {
    // A window on the seam, at different angles to the passes.
    const Vec2 centre = seam * Vec2(std::cos(around * kDegree), std::sin(around * kDegree));
    const Region window = rectangle(Box2(centre - Vec2(3, 3), centre + Vec2(3, 3)));
    const CutPlan plan =
        cuts_of(usual_options(45, scallop, stepover), {surface, offset(window, 5), nullptr, tolerance});
    const double top = surface.height(centre) + 9;
    Stock stock(Box3(with_z(centre - Vec2(3, 3), top - 40), with_z(centre + Vec2(3, 3), top)), stepover / 20);
    carve_cuts(stock, surface.cutter(), plan);
    const LeftMap left = left_map(stock, *part, 1);
    const double most = statistics(left, stock, offset(window, -0.2)).greatest_mm;
    EXPECT_LT(most, 1.25 * scallop + tolerance) << around;
    EXPECT_GT(most, 0.5 * scallop);
  }
}

TEST(BySlope, CutsEachSideAsItsPatternDoesAndOneBeforeTheOther) {
  const auto part = make_contact_part(sphere_cap(0));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  const Region area{{testing::arc_chain({0, 0}, 41, 0, 359, 359)}};
  BySlopeOptions options = usual_options(45, 0.05, 1);
  const SlopeAreas areas = slope_areas(surface, area, options.split);
  for (const Steepness first : {Steepness::steep, Steepness::shallow}) {
    options.first = first;
    const CutPlan plan = cuts_of(options, {surface, area, nullptr, 0.01});
    std::size_t second = plan.groups.size();
    for (std::size_t i = 0; i < plan.groups.size(); ++i)
      for (const Cut& cut : plan.groups[i].cuts) {
        const bool steep = cut.part == Side::right;
        if (steep != (first == Steepness::steep)) second = std::min(second, i);
        const Region& where = offset(areas.of(steep ? Steepness::steep : Steepness::shallow), 0.01);
        for (const Vec3& p : cut.points) ASSERT_TRUE(where.contains(yardpass::plan(p)));
      }
    ASSERT_GT(second, 0u);
    ASSERT_LT(second, plan.groups.size());
    for (std::size_t i = second; i < plan.groups.size(); ++i)
      for (std::size_t k = 0; k < second; ++k)
        EXPECT_TRUE(std::find(plan.groups[i].after.begin(), plan.groups[i].after.end(), k) !=
                    plan.groups[i].after.end());
    EXPECT_FALSE(plan.keep_group_order);
  }
  // All steep, all shallow.
  const Region middle = square(5), rim = subtract(area, square(35));
  for (const Cut& cut : all_cuts(cuts_of(options, {surface, middle, nullptr, 0.01})))
    EXPECT_EQ(cut.part, Side::below);
  for (const Cut& cut : all_cuts(cuts_of(options, {surface, rim, nullptr, 0.01})))
    EXPECT_EQ(cut.part, Side::right);
}

TEST(Steepness, LimitsAnyStrategyToOneSide) {
  const auto part = make_contact_part(sphere_cap(0));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  const auto reach = [&](std::optional<double> steep_from, std::optional<double> shallow_to) {
    Bounds bounds;
    bounds.boundary = {{testing::arc_chain({0, 0}, 39, 0, 359, 359)}};
    bounds.steepness = {steep_from, shallow_to, 0.5};
    const BoundedCuts cut =
        cuts_within(bounds, surface, nullptr, 0.01, [](const Site& site, const Progress& progress) {
          return cuts_of(ParallelOptions{.stepover_mm = 1}, site, progress);
        });
    std::pair<double, double> range(1e9, 0);
    for (const Cut& one : all_cuts(cut.plan))
      for (const Vec3& p : one.points) {
        range.first = std::min(range.first, yardpass::plan(p).norm());
        range.second = std::max(range.second, yardpass::plan(p).norm());
      }
    return range;
  };
  const double seam = 43 * std::sin(40 * kDegree);
  EXPECT_NEAR(reach({}, 40).second, seam + 0.25, 0.4);
  EXPECT_NEAR(reach(40, {}).first, seam - 0.25, 0.4);
  EXPECT_NEAR(reach(40, {}).second, 39, 0.05);
  EXPECT_NEAR(reach(20, 40).first, 43 * std::sin(20 * kDegree) - 0.25, 0.4);
  EXPECT_NEAR(reach(20, 40).second, seam + 0.25, 0.4);
}

}  // namespace
}  // namespace yardpass
