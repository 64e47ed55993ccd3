// Pencil passes and rest finishing.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <numbers>

#include "support/boxes.h"
#include "support/front_spacing.h"
#include "support/grounds.h"
#include "support/turned_parts.h"
#include "yardpass/link/link.h"
#include "yardpass/plan/trim.h"
#include "yardpass/strategy/pencil.h"
#include "yardpass/strategy/rest_finishing.h"

namespace yardpass {
namespace {

using testing::all_cuts;

Region box_area(double x, double y) { return rectangle(Box2(Vec2(-x, -y), Vec2(x, y))); }

std::shared_ptr<const ContactPart> groove() {
  return make_contact_part(
      testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 4, 4, [](double, double y) { return std::abs(y); }));
}
/// A cross of two grooves.
std::shared_ptr<const ContactPart> cross() {
  return make_contact_part(
      testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 120, 120,
                     [](double x, double y) { return std::min(std::abs(x), std::abs(y)); }));
}

TEST(Pencil, RunsAlongTheCornerAndBesideIt) {
  const auto part = groove();
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  const Region area = box_area(20, 15);
  const auto planned = [&](PencilOptions options) {
    return cuts_of(options, {surface, area, nullptr, 0.01});
  };
  const CutPlan one = planned({});
  ASSERT_EQ(one.cut_count(), 1u);
  const Cut cut_along = all_cuts(one).front();
  for (const Vec3& p : cut_along.points) {
    EXPECT_NEAR(p.y(), 0, 1e-5);
    EXPECT_NEAR(p.z(), 3 * (std::sqrt(2) - 1), 0.011);
  }
  for (const PencilOrder order : {PencilOrder::outside_in, PencilOrder::inside_out}) {
    PencilOptions options;
    options.beside = 3, options.stepover_mm = 0.5, options.order = order;
    const CutPlan plan = planned(options);
    ASSERT_EQ(plan.groups.size(), 4u);
    for (std::size_t g = 0; g < 4; ++g) {
      const double off =
          0.5 * static_cast<double>(order == PencilOrder::outside_in ? 3 - g : g) / std::sqrt(2);
      ASSERT_FALSE(plan.groups[g].cuts.empty());
      for (const Cut& cut : plan.groups[g].cuts)
        for (const Vec3& p : cut.points)
          if (std::abs(p.x()) < 17) EXPECT_NEAR(std::abs(p.y()), off, 0.01);
      if (g > 0) EXPECT_EQ(plan.groups[g].after, std::vector<std::int32_t>{static_cast<std::int32_t>(g) - 1});
    }
  }
}

TEST(Pencil, SaysWhereThereIsNothingAndWhatIsTooShort) {
  const auto flat = make_contact_part(
      testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 4, 4, [](double, double) { return 0.0; }));
  const ToolSurface level = testing::exact_surface(flat, testing::ball_tool(6));
  const Region area = box_area(20, 15);
  EXPECT_EQ(cuts_of(PencilOptions{}, {level, area, nullptr, 0.01}).notes.back().about, "nothing");
  const ToolSurface surface = testing::exact_surface(groove(), testing::ball_tool(6));
  PencilOptions longer;
  longer.shortest_mm = 41;
  const CutPlan none = cuts_of(longer, {surface, area, nullptr, 0.01});
  EXPECT_TRUE(none.empty());
  EXPECT_EQ(none.notes.front().about, "short");
  const ToolSurface end = testing::exact_surface(groove(), testing::flat_tool(6));
  EXPECT_THROW((void)cuts_of(PencilOptions{}, {end, area, nullptr, 0.01}), Error);
}

TEST(Pencil, WhereTheAreaIsNarrowerThanItsPassesTheOrderHolds) {
  const auto part = cross();
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(2));
  const Region area = box_area(15, 1);
  PencilOptions options;
  options.beside = 5, options.stepover_mm = 0.5;
  const CutPlan plan = cuts_of(options, {surface, area, nullptr, 0.01});
  int steps = 0;
  for (std::size_t g = 0; g < plan.groups.size(); ++g) {
    steps += !plan.groups[g].cuts.empty();
    for (const std::int32_t before : plan.groups[g].after)
      EXPECT_EQ(before, static_cast<std::int32_t>(g) - 1);
  }
  EXPECT_GT(steps, 1);
  EXPECT_LT(steps, static_cast<int>(plan.groups.size())) << "the outer ones lie beside the area";
  EXPECT_FALSE(
      link_cuts(plan, surface, Stock(Box3(Vec3(-20, -20, -1), Vec3(20, 20, 16)), 0.5), {.plane_z = 40})
          .path.moves.empty());
}

TEST(Pencil, ByContactOneSideIsEnough) {
  const auto part = groove();
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  // Only the side above 0 and right of -5.
  Bounds bounds;
  bounds.boundary = rectangle(Box2(Vec2(-5, 0), Vec2(20, 20)));
  bounds.rule.by = LimitBy::contact;
  bounds.touches_twice = true;
  const BoundedCuts cuts = cuts_within(bounds, surface, nullptr, 0.01, [](const Site& site, const Progress&) {
    return cuts_of(PencilOptions{}, site);
  });
  const std::vector<Cut> all = all_cuts(cuts.plan);
  ASSERT_EQ(all.size(), 1u);
  double low = 1e9, high = -1e9;
  for (const Vec3& p : all[0].points) low = std::min(low, p.x()), high = std::max(high, p.x());
  EXPECT_NEAR(low, -5, 0.7);
  EXPECT_NEAR(high, 20, 0.7);
}

TEST(Pencil, NeverGougesOnAnyGround) {
  for (const testing::Ground& ground : testing::grounds())
    for (const Shape shape : {Shape::ball, Shape::taper}) {
      SCOPED_TRACE(ground.name);
      const ToolSurface surface = testing::exact_surface(make_contact_part(ground.mesh),
                                                         testing::tool_of(shape), {.allowance_mm = 0.03});
      PencilOptions options;
      options.beside = 2;
      // The pocket and the step of the mechanical one have corners all round.
      testing::expect_no_gouge(cuts_of(options, {surface, box_area(13, 13), nullptr, 0.01}), surface,
                               box_area(13, 13), std::string(ground.name) == "mechanical" ? 30 : -1);
    }
}

RestFinishingOptions after_ball(double diameter, RestPattern pattern) {
  RestFinishingOptions options;
  options.reference.tool = testing::ball_tool(diameter);
  options.pattern = pattern;
  options.stepover_mm = 0.25, options.overlap_mm = 0.5, options.threshold_mm = 0.03;
  return options;
}

TEST(RestFinishing, CutsWhatTheBallLeftAndNothingBeyondTheOverlap) {
  const ToolSurface surface = testing::exact_surface(groove(), testing::ball_tool(4));
  const Region area = box_area(20, 15);
  const double bare = (5 - std::sqrt(2 * 5 * 0.03 + 0.03 * 0.03) - 2) / std::sqrt(2);
  for (const RestPattern pattern :
       {RestPattern::rings, RestPattern::along, RestPattern::across, RestPattern::by_slope}) {
    SCOPED_TRACE(static_cast<int>(pattern));
    const CutPlan plan = cuts_of(after_ball(10, pattern), {surface, area, nullptr, 0.005});
    testing::NearSegments near(0.6);
    double farthest = 0, least = 1e9;
    for (const Cut& cut : all_cuts(plan))
      for (std::size_t i = 0; i < cut.points.size(); ++i) {
        farthest = std::max(farthest, std::abs(cut.points[i].y()));
        least = std::min(least, std::abs(cut.points[i].y()));
        if (i > 0) near.add(cut.points[i - 1], cut.points[i]);
        if (i == 0 && cut.closed) near.add(cut.points.back(), cut.points.front());
      }
    EXPECT_LT(farthest, bare + 0.5 / std::sqrt(2) + 0.02);
    EXPECT_LT(least, 0.15);
    // No place of the area is farther from a pass than 0.65 of the stepover.
    for (double x = -19; x < 19; x += 0.37)
      for (double y = -bare; y < bare; y += 0.11) {
        const Vec3 tip(x, y, surface.height({x, y}));
        EXPECT_LT(near.distance(tip, 0.55), 0.65 * 0.25 + 0.02) << x << " " << y;
      }
    ASSERT_TRUE(plan.seam);
    EXPECT_NEAR(plan.seam->box().max().y(), bare + 0.5 / std::sqrt(2), 0.02);
  }
}

TEST(RestFinishing, InUprightCornersOfAPocketWallsGetLevelPasses) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::block_pocket(12, 10, 8, 18)), testing::ball_tool(4));
  RestFinishingOptions options = after_ball(10, RestPattern::rings);
  options.stepover_mm = 0.5;
  const CutPlan plan = cuts_of(options, {surface, box_area(11, 9), nullptr, 0.01});
  // In the very corner: at many heights, the ball beside both walls.
  std::set<int> heights;
  for (const Cut& cut : all_cuts(plan))
    for (const Vec3& p : cut.points)
      if ((yardpass::plan(p) - Vec2(10, 8)).norm() < 0.1) heights.insert(static_cast<int>(std::floor(p.z())));
  EXPECT_GE(heights.size(), 6u);
  testing::expect_no_gouge(plan, surface, box_area(11, 9), 50);
}

TEST(RestFinishing, ByTheMaterialAndNeverGougingOnAnyGround) {
  for (const testing::Ground& ground : testing::grounds()) {
    SCOPED_TRACE(ground.name);
    const auto part = make_contact_part(ground.mesh);
    const ToolSurface surface =
        testing::exact_surface(part, testing::tool_of(Shape::ball), {.allowance_mm = 0.02});
    Stock stock(Box3(Vec3(-16, -16, -8), Vec3(16, 16, 6)), 0.25);
    const TipSurface big(part, Profile::ball(10)), needle(part, Profile::needle());
    for (const RestPattern pattern : {RestPattern::rings, RestPattern::by_slope}) {
      testing::expect_no_gouge(cuts_of(after_ball(10, pattern), {surface, box_area(13, 13), nullptr, 0.01}),
                               surface, box_area(13, 13), std::string(ground.name) == "mechanical" ? 30 : -1);
      RestFinishingOptions by_material = after_ball(10, pattern);
      by_material.reference = {};
      by_material.stepover_mm = 1;
      by_material.walls = false;
      testing::expect_no_gouge(cuts_of(by_material, {surface, box_area(9, 9), &stock, 0.01}), surface,
                               box_area(9, 9), 100);
    }
  }
  const ToolSurface surface = testing::exact_surface(groove(), testing::ball_tool(4));
  RestFinishingOptions none = after_ball(10, RestPattern::rings);
  none.reference = {};
  EXPECT_THROW((void)cuts_of(none, {surface, box_area(9, 9), nullptr, 0.01}), Error);
  const auto flat =
      testing::exact_surface(make_contact_part(testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 4, 4,
                                                              [](double, double) { return 0.0; })),
                             testing::ball_tool(4));
  EXPECT_EQ(
      cuts_of(after_ball(10, RestPattern::rings), {flat, box_area(9, 9), nullptr, 0.01}).notes.back().about,
      "nothing");
}

TEST(Corners, TheSameBitsOnAnyNumberOfThreads) {
  const ToolSurface surface = testing::exact_surface(cross(), testing::ball_tool(4));
  const auto planned = [&](std::size_t threads) {
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    const Site site{surface, box_area(15, 15), nullptr, 0.01};
    PencilOptions pencil;
    pencil.beside = 2;
    std::vector<Cut> cuts = all_cuts(cuts_of(pencil, site));
    for (Cut& cut : all_cuts(cuts_of(after_ball(10, RestPattern::by_slope), site)))
      cuts.push_back(std::move(cut));
    return cuts;
  };
  const std::vector<Cut> one = planned(1), two = planned(2);
  ASSERT_EQ(one.size(), two.size());
  ASSERT_GT(one.size(), 10u);
  for (std::size_t i = 0; i < one.size(); ++i) EXPECT_EQ(one[i].points, two[i].points);
}

}  // namespace
}  // namespace yardpass
