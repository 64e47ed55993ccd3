// The common tail: what stays of a strategy's cuts within bounds.
#include "yardpass/plan/trim.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/contact/lift.h"

namespace yardpass {
namespace {

Cut ring(double radius, int corners, double z = 0) {
  Cut cut;
  cut.closed = true;
  cut.pass = 5;
  cut.part = Side::left;
  for (int i = 0; i < corners; ++i) {
    const double angle = 2 * std::numbers::pi * i / corners;
    cut.points.emplace_back(radius * std::cos(angle), radius * std::sin(angle), z);
  }
  return cut;
}

double length_of(const Cut& cut) {
  Polyline3 line = cut.points;
  if (cut.closed) line.push_back(line.front());
  return length(std::span<const Vec3>(line));
}

TEST(PiecesOf, AClosedCutStaysClosedWhereNothingIsTaken) {
  const Cut whole = ring(10, 60);
  const auto kept = pieces_of(whole, [](const Polyline3& line) { return std::vector<Polyline3>{line}; });
  ASSERT_EQ(kept.size(), 1u);
  EXPECT_TRUE(kept[0].closed);
  EXPECT_EQ(kept[0].points, whole.points);
  EXPECT_TRUE(pieces_of(whole, [](const Polyline3&) { return std::vector<Polyline3>{}; }).empty());
}

TEST(PiecesOf, TheStartOfAClosedCutIsNoPlaceOfItsOwn) {
  // A ring on a slope z = x, cut at heights: where it is cut does not depend on where its line begins.
  for (int start = 0; start < 12; ++start) {
    Cut slope = ring(10, 60);
    for (Vec3& p : slope.points) p.z() = p.x();
    std::rotate(slope.points.begin(), slope.points.begin() + 5 * start, slope.points.end());
    const auto kept =
        pieces_of(slope, [](const Polyline3& line) { return between_heights(line, -3.3, 3.3); });
    ASSERT_EQ(kept.size(), 2u) << start << ": above and below";
    double total = 0;
    for (const Cut& piece : kept) {
      EXPECT_FALSE(piece.closed);
      EXPECT_EQ(piece.pass, 5);
      EXPECT_EQ(piece.part, Side::left);
      EXPECT_NEAR(std::abs(piece.points.front().z()), 3.3, 1e-12);
      EXPECT_NEAR(std::abs(piece.points.back().z()), 3.3, 1e-12);
      total += length_of(piece);
    }
    double expected = 0;
    for (const Polyline3& piece : between_heights(
             [&] {
               Polyline3 line = slope.points;
               line.push_back(line.front());
               return line;
             }(),
             -3.3, 3.3))
      expected += length(std::span<const Vec3>(piece));
    EXPECT_NEAR(total, expected, 1e-9);
  }
}

/// Hands out cuts that are there already, and counts how often it was asked.
struct Given {
  std::vector<Cut> cuts;
  int asked = 0;
  CutsOf strategy() {
    return [this](const Site&, const Progress&) {
      ++asked;
      CutPlan plan = plan_of(cuts);
      plan.notes.push_back({"own", "said by the strategy", {}});
      return plan;
    };
  }
};

class Trim : public ::testing::Test {
 protected:
  std::shared_ptr<const ContactPart> slope_ = make_contact_part(
      testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 20, 20, [](double x, double) { return 0.5 * x; }));
  ToolSurface surface_ = testing::exact_surface(slope_, testing::ball_tool(6));
  Bounds bounds_{rectangle(Box2(Vec2(-20, -20), Vec2(20, 20)))};
  CutsOf passes_ = [](const Site& site, const Progress& progress) {
    return cuts_of(ParallelOptions{.stepover_mm = 2}, site, progress);
  };
};

TEST_F(Trim, HeightsScrapsAndTheOrderOfNotes) {
  Given given;
  given.cuts = {{{{-10, 0, -5}, {10, 0, 5}}}, {{{0, 1, 0}, {0.03, 1, 0}}}, {{{0, 2, 9}, {1, 2, 9}}}};
  bounds_.top_z = 2;
  bounds_.bottom_z = -1;
  const BoundedCuts kept = cuts_within(bounds_, surface_, nullptr, 0.01, given.strategy());
  const std::vector<Cut> cuts = testing::all_cuts(kept.plan);
  ASSERT_EQ(cuts.size(), 1u);
  EXPECT_EQ(cuts[0].points.front(), Vec3(-2, 0, -1));
  EXPECT_EQ(cuts[0].points.back(), Vec3(4, 0, 2));
  ASSERT_EQ(kept.plan.notes.size(), 2u);
  EXPECT_EQ(kept.plan.notes[0].about, "own");
  EXPECT_EQ(kept.plan.notes[1].about, "scraps");
  EXPECT_EQ(kept.plan.notes[1].values.back().value[0], 0.01);
  EXPECT_EQ(given.asked, 1);
  // Heights that a strategy has seen to itself change nothing more.
  const std::vector<Cut> once = testing::all_cuts(passes_({surface_, kept.area, nullptr, 0.01, 2, -1}, {}));
  bounds_.boundary = kept.area;
  const std::vector<Cut> twice =
      testing::all_cuts(cuts_within(bounds_, surface_, nullptr, 0.01, passes_).plan);
  ASSERT_EQ(once.size(), twice.size());
  for (std::size_t i = 0; i < once.size(); ++i) EXPECT_EQ(once[i].points, twice[i].points);
}

TEST_F(Trim, WhatClearsLevelsIsLeftAloneButForScraps) {
  Given given;
  given.cuts = {{{{-10, 0, -5}, {10, 0, 5}}}, {{{0, 1, 0}, {0.03, 1, 0}}}};
  bounds_.top_z = 2;
  bounds_.at_levels = true;
  const BoundedCuts kept = cuts_within(bounds_, surface_, nullptr, 0.01, given.strategy());
  ASSERT_EQ(kept.plan.cut_count(), 1u);
  EXPECT_EQ(testing::all_cuts(kept.plan)[0].points.size(), 2u);
}

/// However short its first cut is: what follows counts on the ground that a helix clears.
TEST_F(Trim, AHelixIsNoScrap) {
  bounds_.at_levels = true;
  Cut helix;
  helix.entry = Entry::helix, helix.helix = {Vec2(0, 0), 1, false};
  helix.points = {Vec3(1, 0, 5), Vec3(1, 0.001, 5)};
  Cut link = helix, scrap = helix;
  link.entry = scrap.entry = Entry::ramp;
  link.link = true;
  const auto strategy = [&](const Site&, const Progress&) { return plan_of({helix, link, scrap}); };
  const BoundedCuts kept = cuts_within(bounds_, surface_, nullptr, 0.01, strategy);
  ASSERT_EQ(kept.plan.cut_count(), 2U);
  EXPECT_EQ(kept.plan.groups[0].cuts[0].entry, Entry::helix);
  EXPECT_TRUE(kept.plan.groups[0].cuts[1].link);
}

TEST_F(Trim, ByTouchEveryStrategyIsCutWhereItTouchesOutside) {
  bounds_.rule.by = LimitBy::contact;
  const BoundedCuts kept = cuts_within(bounds_, surface_, nullptr, 0.01, passes_);
  // Up a slope of 0.5 the ball touches r sin(t) uphill of its axis.
  const double shift = 3 * 0.5 / std::sqrt(1.25);
  double low = 1e9, high = -1e9;
  for (const Cut& cut : testing::all_cuts(kept.plan))
    for (const Vec3& p : cut.points) low = std::min(low, p.x()), high = std::max(high, p.x());
  EXPECT_NEAR(low, -20 - shift, 1e-3);
  EXPECT_NEAR(high, 20 - shift, 1e-3);
  // A closed cut across the boundary is opened, one inside stays closed.
  Given given;
  given.cuts = {ring(5, 200), ring(19.5, 800)};
  for (Cut& cut : given.cuts)
    for (Vec3& p : cut.points) p.z() = surface_.height(plan(p));
  const std::vector<Cut> rings =
      testing::all_cuts(cuts_within(bounds_, surface_, nullptr, 0.01, given.strategy()).plan);
  ASSERT_EQ(rings.size(), 2u);
  EXPECT_TRUE(rings[0].closed);
  EXPECT_FALSE(rings[1].closed) << "beyond the boundary by its touch";
  EXPECT_NEAR(rings[1].points.front().x(), 20 - shift, 0.01);
}

TEST_F(Trim, ClimbsAreToldOrAvoided) {
  Mesh mesh = testing::box_mesh(Box3(Vec3(-40, -40, -5), Vec3(40, 40, 0)));
  const Mesh wall = testing::box_mesh(Box3(Vec3(12, -40, 0), Vec3(40, 40, 8)));
  for (const auto& t : wall.triangles) mesh.triangles.push_back({t[0] + 8, t[1] + 8, t[2] + 8});
  mesh.points.insert(mesh.points.end(), wall.points.begin(), wall.points.end());
  const ToolSurface surface = testing::exact_surface(make_contact_part(mesh), testing::ball_tool(6));
  bounds_.boundary = rectangle(Box2(Vec2(-20, -10), Vec2(12, 10)));
  const BoundedCuts told = cuts_within(bounds_, surface, nullptr, 0.01, passes_);
  ASSERT_EQ(told.plan.notes.size(), 1u);
  EXPECT_EQ(told.plan.notes[0].about, "rides");
  EXPECT_NEAR(told.area.box().max().x(), 12, 1e-4);
  bounds_.avoid_riding_up = true;
  const BoundedCuts avoided = cuts_within(bounds_, surface, nullptr, 0.01, passes_);
  EXPECT_NEAR(avoided.area.box().max().x(), 9, 0.35) << "a radius away from the wall";
  for (const Cut& cut : testing::all_cuts(avoided.plan))
    for (const Vec3& p : cut.points) EXPECT_LT(p.z(), 0.1);
  EXPECT_EQ(avoided.plan.notes[0].about, "rides");
  bounds_.drawn = false;
  bounds_.avoid_riding_up = false;
  EXPECT_TRUE(cuts_within(bounds_, surface, nullptr, 0.01, passes_).plan.notes.empty())
      << "nobody drew a boundary";
}

/// A rectangle whose long sides run to and fro in facets, by less than the depth.
Region faceted(double depth, double facet) {
  Polyline2 loop;
  const auto side = [&](double from, double to, double y) {
    const int count = static_cast<int>(std::round(std::abs(to - from) / facet));
    for (int i = 0; i <= count; ++i)
      loop.push_back({from + (to - from) * i / count, y + depth * std::abs(std::sin(1.7 * i))});
  };
  side(-20, 20, -10);
  side(20, -20, 10);
  return {{loop}};
}

TEST_F(Trim, AlongABorderOfFacetsAPassIsWholeOrAbsent) {
  const ToolSurface flat =
      testing::exact_surface(make_contact_part(testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2,
                                                              [](double, double) { return 0.0; })),
                             testing::ball_tool(6));
  for (const LimitBy by : {LimitBy::axis, LimitBy::contact, LimitBy::cutter}) {
    for (const double depth : {0.0, 0.002, 0.007}) {
      for (const double facet : {0.3, 2.5, 8.0}) {
        SCOPED_TRACE(::testing::Message() << name_of(by) << " " << depth << " " << facet);
        bounds_.boundary = faceted(depth, facet);
        bounds_.rule.by = by;
        const double in = by == LimitBy::cutter ? 3 : 0;
        const std::vector<Cut> cuts =
            testing::all_cuts(cuts_within(bounds_, flat, nullptr, 0.01, passes_).plan);
        ASSERT_GE(cuts.size(), 7u);
        for (const Cut& cut : cuts) {
          const double whole = length(std::span<const Vec3>(cut.points));
          // The ends of the faceted sides are as slanted as the facets are.
          EXPECT_NEAR(whole, 40 - 2 * in, 0.1);
        }
        EXPECT_NEAR(cuts.front().points.front().y(), -10 + in, depth > 0 ? 0.009 : 0.001);
        EXPECT_NEAR(cuts.back().points.front().y(), 10 - in, depth > 0 ? 0.016 : 0.001);
      }
    }
  }
}

TEST_F(Trim, WhatVanishesWhenTheAreaIsDrawnInByTheToleranceIsAScrapHoweverLong) {
  bounds_.boundary =
      unite(rectangle(Box2(Vec2(-20, -20), Vec2(20, 0))), rectangle(Box2(Vec2(-20, 2), Vec2(20, 2.015))));
  Given given;
  given.cuts = {
      {{{-20, -5, 0}, {20, -5, 0}}}, {{{-20, 2.01, 0}, {20, 2.01, 0}}}, {{{-20, 0, 0}, {20, 0, 0}}}};
  const BoundedCuts kept = cuts_within(bounds_, surface_, nullptr, 0.01, given.strategy());
  EXPECT_EQ(testing::all_cuts(kept.plan).size(), 2u) << "the strip is gone, what lies on a border stays";
  EXPECT_EQ(kept.plan.notes.back().about, "scraps");
  const BoundedCuts finer = cuts_within(bounds_, surface_, nullptr, 0.005, given.strategy());
  EXPECT_EQ(testing::all_cuts(finer.plan).size(), 3u);
  // By contact the strip is one of places of touch.
  bounds_.rule.by = LimitBy::contact;
  for (const double tolerance : {0.01, 0.005}) {
    std::int64_t in_strip = 0;
    for (const Cut& cut :
         testing::all_cuts(cuts_within(bounds_, surface_, nullptr, tolerance, given.strategy()).plan))
      in_strip += cut.points.front().y() > 1;
    EXPECT_EQ(in_strip > 0, tolerance < 0.0075);
  }
}

TEST_F(Trim, BySlopeCutsStayWhereThePartIsSoSteep) {
  // Steeper and steeper along X: the slope is atan(x / 20).
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::sheet(Box2(Vec2(0, -20), Vec2(60, 20)), 1200, 2,
                                                              [](double x, double) { return x * x / 40; })),
                             testing::ball_tool(2));
  bounds_.boundary = rectangle(Box2(Vec2(2, -10), Vec2(55, 10)));
  bounds_.slope = {20, 45};
  const std::vector<Cut> cuts = testing::all_cuts(cuts_within(bounds_, surface, nullptr, 0.01, passes_).plan);
  ASSERT_GE(cuts.size(), 10u);
  for (const Cut& cut : cuts) {
    const auto touched = [&](const Vec3& tip) { return surface.touch(yardpass::plan(tip))->point.x(); };
    const auto [low, high] = std::minmax({touched(cut.points.front()), touched(cut.points.back())});
    EXPECT_NEAR(low, 20 * std::tan(20 * std::numbers::pi / 180), 0.06);
    EXPECT_NEAR(high, 20, 0.06);
  }
}

TEST_F(Trim, OptionsThatBreakWhatTheyAskForThrow) {
  EXPECT_THROW((void)cuts_within(bounds_, surface_, nullptr, 0, passes_), Error);
  const Region area = bounds_.boundary;
  EXPECT_THROW((void)cuts_of(ParallelOptions{.stepover_mm = 0}, {surface_, area}), Error);
  EXPECT_THROW((void)cuts_of(RoughingOptions{.stepover_mm = 6}, {surface_, area, nullptr, 0.05, 1}), Error);
  EXPECT_THROW((void)cuts_of(RoughingOptions{.stepdown_mm = -1}, {surface_, area, nullptr, 0.05, 1}), Error);
  EXPECT_THROW((void)cuts_of(RoughingOptions{}, {surface_, area}), Error) << "neither a top nor material";
  EXPECT_THROW((void)lift(surface_, std::vector<Vec2>{{0, 0}, {1, 0}}, {.tolerance_mm = 0}), Error);
}

// On a steep wall a long way of the tool is short in plan: what is left halfway down it is found too.
TEST(OnlyWhereLeft, AlsoHalfwayDownASteepWall) {
  const auto ground = [](double x, double) { return std::clamp(20 * x, -20.0, 0.0); };  // 87 degrees
  const auto part = make_contact_part(testing::sheet(Box2(Vec2(-20, -10), Vec2(20, 10)), 80, 1, ground));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  Stock stock(Box3(Vec3(-20, -10, -22), Vec3(20, 10, 0)), 0.02);
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column) {
      // A band 0.1 thick, its upper side 9.2 below the top.
      const double x = stock.centre(column, row).x(), z = ground(x, 0), outside = ground(x + 0.1, 0);
      stock.set_height(column, row, outside > -10.2 ? std::max(z, std::min(outside, -9.2)) : z);
    }
  Bounds bounds{rectangle(Box2(Vec2(-10, -1), Vec2(10, 1)))};
  bounds.only_where_left_mm = 0.05;
  const BoundedCuts cuts =
      cuts_within(bounds, surface, &stock, 0.005, [&](const Site& site, const Progress& progress) {
        return cuts_of(ParallelOptions{.stepover_mm = 1}, site, progress);
      });
  ASSERT_FALSE(cuts.plan.empty());
  for (const Cut& cut : testing::all_cuts(cuts.plan)) {
    double low = 0, high = -30;
    for (const Vec3& p : cut.points) low = std::min(low, p.z()), high = std::max(high, p.z());
    EXPECT_GT(low, -19) << "not all the way down";
    EXPECT_LT(high, -6);
  }
}

}  // namespace
}  // namespace yardpass
