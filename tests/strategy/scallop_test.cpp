#include "yardpass/strategy/scallop.h"

#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include "support/front_spacing.h"
#include "support/grounds.h"
#include "yardpass/plan/trim.h"
#include "yardpass/strategy/by_slope.h"

namespace yardpass {
namespace {

using testing::all_cuts;
using testing::circle_around;

Region square(double half) { return rectangle(Box2(Vec2(-half, -half), Vec2(half, half))); }

Curve closed_curve(const Polyline2& loop) {
  Curve curve{{}, true};
  for (const Vec2& p : loop) curve.points.push_back(with_z(p, 5));
  return curve;
}

Mesh plane() {
  return testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 2, 2, [](double, double) { return 0; });
}

}  // namespace

TEST(Scallop, GougesNothingAndFloatsNowhereOnAnyGroundWithAnyTool) {
  for (const testing::Ground& ground : testing::grounds())
    for (const Shape shape : {Shape::ball, Shape::bull, Shape::flat, Shape::taper}) {
      SCOPED_TRACE(std::string(ground.name) + " " + std::to_string(static_cast<int>(shape)));
      const ToolSurface surface =
          testing::exact_surface(make_contact_part(ground.mesh), testing::tool_of(shape));
      const Region area = square(9);
      ScallopOptions options;
      options.stepover_mm = 0.8;
      options.start.curves = {closed_curve(circle_around({1, -1}, 2, 60))};
      const CutPlan plan = cuts_of(options, {surface, area, nullptr, 0.01});
      testing::expect_no_gouge(plan, surface, area, 18 * 18);
    }
}

TEST(Scallop, IsTheSameOnOneThreadAndOnMany) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::grounds()[2].mesh), testing::tool_of(Shape::ball));
  const auto cuts = [&](std::size_t threads) {
    tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    ScallopOptions options;
    options.measure = FrontMeasure::scallop;
    options.pattern = FrontPattern::spiral;
    return all_cuts(cuts_of(options, {surface, square(8), nullptr, 0.01}));
  };
  const std::vector<Cut> one = cuts(1), many = cuts(3);
  ASSERT_EQ(one.size(), many.size());
  for (std::size_t i = 0; i < one.size(); ++i) EXPECT_EQ(one[i].points, many[i].points);
}

TEST(Scallop, FollowsTheOutlineInwardsOneRunAfterTheOther) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(plane()), testing::tool_of(Shape::ball));
  ScallopOptions options;
  options.middle_passes = false;
  for (const bool climb : {true, false}) {
    options.climb = climb;
    const CutPlan plan = cuts_of(options, {surface, square(10), nullptr, 0.01});
    std::vector<Cut> cuts = all_cuts(plan);
    ASSERT_GE(cuts.size(), 19u);
    for (std::size_t i = 0; i < cuts.size(); ++i) {
      EXPECT_TRUE(cuts[i].closed);
      EXPECT_EQ(cuts[i].pass, static_cast<std::int32_t>(i) + 1);
      Polyline2 loop;
      for (const Vec3& p : cuts[i].points) loop.push_back(yardpass::plan(p));
      // What is still to be cut lies inside: on the right, so the way is clockwise.
      EXPECT_EQ(signed_area(loop) < 0, climb);
      EXPECT_NEAR(std::sqrt(std::abs(signed_area(loop))), 20 - 1.0 * static_cast<double>(i), 0.05);
    }
    const Region area = square(10);
    for (const Vec2& corner : area.loops[0]) {
      double least = 1;
      for (const Vec3& p : cuts.front().points) least = std::min(least, (yardpass::plan(p) - corner).norm());
      EXPECT_LT(least, 1e-6) << "the outline's own corners stay sharp";
    }
  }
}

TEST(Scallop, RunsToAndFroWhereTheBorderCutsItOrOneWay) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(plane()), testing::tool_of(Shape::ball));
  ScallopOptions options;
  options.middle_passes = false;
  Curve line{{{-40, -12, 0}, {40, -12, 0}}, false};
  options.start.curves = {line};
  for (const FrontPattern pattern : {FrontPattern::zigzag, FrontPattern::loops}) {
    options.pattern = pattern;
    const CutPlan plan = cuts_of(options, {surface, square(10), nullptr, 0.01});
    const std::vector<Cut> cuts = all_cuts(plan);
    ASSERT_EQ(cuts.size(), 40u);
    for (std::size_t i = 0; i + 1 < cuts.size(); ++i) {
      const double here = cuts[i].points.back().x() - cuts[i].points.front().x(),
                   next = cuts[i + 1].points.back().x() - cuts[i + 1].points.front().x();
      EXPECT_EQ(here * next < 0, pattern == FrontPattern::zigzag);
      EXPECT_NEAR(cuts[i + 1].points.front().y() - cuts[i].points.front().y(), 0.5, 0.01);
    }
  }
  options.side = FrontSide::inward;
  try {
    (void)cuts_of(options, {surface, square(10), nullptr, 0.01});
    FAIL();
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what()).find("valid: \"both\""), std::string::npos) << error.what();
  }
}

TEST(Scallop, SpiralIsOneCutForEachRunOfClosedPasses) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(plane()), testing::tool_of(Shape::ball));
  ScallopOptions options;
  options.pattern = FrontPattern::spiral;
  options.middle_passes = false;
  const Region disc{{circle_around({0, 0}, 10, 180)}};
  EXPECT_EQ(all_cuts(cuts_of(options, {surface, disc, nullptr, 0.01})).size(), 1u);
  // Two halls and a neck: links as often as it parts.
  const auto box = [](double x0, double y0, double x1, double y1) {
    return rectangle(Box2(Vec2(x0, y0), Vec2(x1, y1)));
  };
  const Region halls = unite(unite(box(-20, -6, -6, 6), box(6, -6, 20, 6)), box(-7, -2.3, 7, 2.3));
  const CutPlan plan = cuts_of(options, {surface, halls, nullptr, 0.01});
  EXPECT_LE(all_cuts(plan).size(), 5u);
  EXPECT_GE(all_cuts(plan).size(), 3u);
  for (std::size_t g = 1; g < 3; ++g) EXPECT_EQ(plan.groups[g].after, std::vector<std::int32_t>{0});
}

TEST(Scallop, ByContactItBeginsWhereTheToolTouchesTheBorder) {
  // Down the side of a dome: the ball touches the border, its axis stands outside.
  const Mesh dome = testing::turned_part(testing::arc_chain({0, -40}, 40, 89.99, 20, 160), 240);
  const ToolSurface surface = testing::exact_surface(make_contact_part(dome), testing::tool_of(Shape::ball));
  Bounds bounds;
  bounds.boundary = {{circle_around({0, 0}, 25, 240)}};
  bounds.rule.by = LimitBy::contact;
  ScallopOptions options;
  const BoundedCuts bounded = cuts_within(
      bounds, surface, nullptr, 0.01,
      [&](const Site& site, const Progress& progress) { return cuts_of(options, site, progress); });
  double widest = 0;
  for (const Cut& cut : all_cuts(bounded.plan))
    for (const Vec3& p : cut.points) widest = std::max(widest, yardpass::plan(p).norm());
  EXPECT_NEAR(widest, 25 * 43.0 / 40, 0.03);
}

TEST(Scallop, NamesWaterlinesWhereWallsAreUpright) {
  const Mesh step = testing::box_mesh(Box3(Vec3(-6, -6, -9), Vec3(6, 6, 0)));
  Mesh part = testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 2, 2, [](double, double) { return -9; });
  const auto first = static_cast<std::int32_t>(part.points.size());
  part.points.insert(part.points.end(), step.points.begin(), step.points.end());
  for (auto t : step.triangles) part.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
  Tool tool = testing::tool_of(Shape::flat);
  const ToolSurface surface = testing::exact_surface(make_contact_part(part), tool);
  ScallopOptions options;
  options.stepover_mm = 1;
  const CutPlan plan = cuts_of(options, {surface, square(20), nullptr, 0.01});
  const auto note =
      std::find_if(plan.notes.begin(), plan.notes.end(), [](const Note& n) { return n.about == "walls"; });
  ASSERT_NE(note, plan.notes.end());
  EXPECT_NE(note->says.find("waterline"), std::string::npos);
  const ToolSurface level = testing::exact_surface(make_contact_part(plane()), tool);
  for (const Note& other : cuts_of(options, {level, square(20), nullptr, 0.01}).notes)
    EXPECT_NE(other.about, "walls");
}

TEST(Scallop, CutsTheShallowSideInOneOperationWithWaterlines) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::drafted_pocket()), testing::tool_of(Shape::ball));
  BySlopeOptions options;
  options.steep.stepdown_mm = 0.6;
  options.scallop = ScallopOptions{};
  options.split.overlap_mm = 0.5;
  const Region area{{testing::rounded_rectangle(31.9, 21.9, 8.9)}};
  const CutPlan plan = cuts_of(options, {surface, area, nullptr, 0.01});
  bool level = false, beside = false;
  std::vector<FrontPass> lines;
  for (const Cut& cut : all_cuts(plan)) {
    const bool wall = cut.part != Side::below;
    (wall ? level : beside) = true;
    FrontPass line;
    for (const Vec3& p : cut.points) line.line.push_back(yardpass::plan(p));
    line.closed = cut.closed;
    if (!wall && line.line.size() > 1) lines.push_back(line);
  }
  EXPECT_TRUE(level && beside);
  const SlopeAreas areas = slope_areas(surface, area, options.split);
  EXPECT_LE(testing::coverage_of(surface, areas.shallow, lines, 0.5, 0.6, 5000).farthest, 0.65);
}

}  // namespace yardpass
