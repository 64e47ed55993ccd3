#include "yardpass/strategy/morph.h"

#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <map>

#include "support/front_spacing.h"
#include "support/grounds.h"
#include "support/turned_parts.h"
#include "yardpass/curve/close_loop.h"
#include "yardpass/plan/trim.h"
#include "yardpass/strategy/flowline.h"

namespace yardpass {
namespace {

using testing::all_cuts;
using testing::circle_around;

Region square(double half) { return rectangle(Box2(Vec2(-half, -half), Vec2(half, half))); }

Curve named(const std::string& name, const Polyline2& line, bool closed = false) {
  Curve curve{{}, closed, name};
  for (const Vec2& p : line) curve.points.push_back(with_z(p, 5));
  return curve;
}
GivenCurves given(const std::string& name, const Polyline2& line, bool closed = false) {
  return {{name}, {named(name, line, closed)}};
}

MorphOptions strip() {
  MorphOptions options;
  options.rails.stepover_mm = 0.8;
  options.first = given("low", {{-9, -8}, {9, -9}});
  options.last = given("high", {{-9, 8}, {0, 6}, {9, 9}});
  return options;
}
MorphOptions ring() {
  MorphOptions options;
  options.rails.stepover_mm = 0.8;
  options.first = given("rim", circle_around({0, 0}, 9, 120), true);
  options.last = given("hub", circle_around({1, 1}, 3, 60), true);
  return options;
}
FlowlineOptions patch() {
  FlowlineOptions options;
  options.rails.stepover_mm = 0.8;
  options.rails.direction = RailDirection::forward;
  options.first = given("low", {{-9, -8}, {9, -9}});
  options.last = given("high", {{-9, 8}, {0, 6}, {9, 9}});
  options.start = given("left", {{-9, -8}, {-8, 0}, {-9, 8}});
  options.end = given("right", {{9, -9}, {9, 9}});
  options.between = {{"ridge"}, {named("ridge", {{-10, 1}, {0, -1}, {10, 1}})}};
  return options;
}

/// The farthest place of an area, seen from above, from any cut; beside places without a part none counts.
double farthest(const CutPlan& plan, const Region& area, const ToolSurface& surface) {
  testing::NearSegments near(1);
  for (const Cut& cut : all_cuts(plan))
    for (std::size_t i = 1; i < cut.points.size() + (cut.closed ? 1 : 0); ++i)
      near.add(with_z(yardpass::plan(cut.points[i - 1]), 0),
               with_z(yardpass::plan(cut.points[i % cut.points.size()]), 0));
  const auto all_touched = [&](const Vec2& at) {
    for (const double a : {-0.6, 0.0, 0.6})
      for (const double b : {-0.6, 0.0, 0.6})
        if (!surface.touch(at + Vec2(a, b))) return false;
    return true;
  };
  double worst = 0;
  const Box2 box = area.box();
  for (double x = box.min().x(); x < box.max().x(); x += 0.31)
    for (double y = box.min().y(); y < box.max().y(); y += 0.31)
      if (area.contains({x, y}) && all_touched({x, y}))
        worst = std::max(worst, near.distance(Vec3(x, y, 0), 4));
  return worst;
}

}  // namespace

TEST(Morph, AndFlowlineGougeNothingAndMissNothingOnAnyGroundWithAnyTool) {
  const Region inside_patch{{{{-8.8, -7.9}, {8.8, -8.7}, {8.8, 8.7}, {0, 5.9}, {-8.8, 7.8}, {-7.9, 0}}}};
  const Region inside_strip{{{{-8.9, -7.9}, {8.9, -8.8}, {8.9, 8.9}, {0, 5.9}, {-8.9, 7.9}}}};
  for (const testing::Ground& ground : testing::grounds())
    for (const Shape shape : {Shape::ball, Shape::bull, Shape::flat, Shape::taper}) {
      SCOPED_TRACE(std::string(ground.name) + " " + std::to_string(static_cast<int>(shape)));
      const ToolSurface surface =
          testing::exact_surface(make_contact_part(ground.mesh), testing::tool_of(shape));
      const Region area = square(9.5);
      const Site site{surface, area, nullptr, 0.01};
      const CutPlan blended = cuts_of(strip(), site), flowing = cuts_of(patch(), site);
      MorphOptions round = ring();
      round.rails.pattern = RailPattern::spiral;
      testing::expect_no_gouge(blended, surface, area, 350);
      testing::expect_no_gouge(flowing, surface, area, 350);
      testing::expect_no_gouge(cuts_of(round, site), surface, area, 250);
      EXPECT_LT(farthest(blended, inside_strip, surface), 0.45);
      EXPECT_LT(farthest(flowing, inside_patch, surface), 0.45);
    }
}

TEST(Morph, IsTheSameOnOneThreadAndOnMany) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::grounds()[2].mesh), testing::tool_of(Shape::ball));
  const Region area = square(9.5);
  const auto cuts = [&](std::size_t threads) {
    tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    return all_cuts(cuts_of(ring(), {surface, area, nullptr, 0.01}));
  };
  const std::vector<Cut> one = cuts(1), many = cuts(3);
  ASSERT_EQ(one.size(), many.size());
  for (std::size_t i = 0; i < one.size(); ++i) EXPECT_EQ(one[i].points, many[i].points);
}

TEST(Morph, ASpiralIsOneLine) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::grounds()[0].mesh), testing::tool_of(Shape::ball));
  const Region area = square(9.5);
  MorphOptions options = ring();
  options.rails.pattern = RailPattern::spiral;
  options.between = given("half way", circle_around({0.5, 0}, 6, 80), true);
  const CutPlan plan = cuts_of(options, {surface, area, nullptr, 0.01});
  ASSERT_EQ(plan.cut_count(), 1u);
  const Cut& cut = plan.groups.front().cuts.front();
  for (std::size_t i = 1; i < cut.points.size(); ++i)
    EXPECT_GT((cut.points[i] - cut.points[i - 1]).norm(), 0);
  // The outer ones and the one between are there whole.
  for (const auto& [middle, radius] :
       {std::pair(Vec2(0, 0), 9.0), std::pair(Vec2(0.5, 0), 6.0), std::pair(Vec2(1, 1), 3.0)}) {
    double on = 0;
    for (std::size_t i = 1; i < cut.points.size(); ++i)
      if (std::abs((yardpass::plan(cut.points[i]) - middle).norm() - radius) < 0.01 &&
          std::abs((yardpass::plan(cut.points[i - 1]) - middle).norm() - radius) < 0.01)
        on += (yardpass::plan(cut.points[i]) - yardpass::plan(cut.points[i - 1])).norm();
    EXPECT_GT(on, 0.98 * 2 * std::numbers::pi * radius);
  }
}

TEST(Morph, AClosedPassThatTheBorderCutsStaysInOnePiece) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::grounds()[0].mesh), testing::tool_of(Shape::ball));
  // The first points of the passes lie on the side that stays.
  const Region half = rectangle(Box2(Vec2(-4, -9.5), Vec2(9.5, 9.5)));
  MorphOptions options = ring();
  options.first = given("rim", circle_around({0, 0}, 9, 120), true);
  options.last = given("hub", circle_around({0, 0}, 6, 120), true);
  const CutPlan plan = cuts_of(options, {surface, half, nullptr, 0.01});
  std::map<std::int32_t, int> pieces;
  for (const Cut& cut : all_cuts(plan)) ++pieces[cut.pass];
  EXPECT_GE(pieces.size(), 4u);
  for (const auto& [pass, count] : pieces) EXPECT_EQ(count, 1) << pass;
}

TEST(Morph, DirectionAndBeginChangeTheFirstPointAsTheySay) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::grounds()[0].mesh), testing::tool_of(Shape::ball));
  const Region area = square(9.5);
  const auto first = [&](RailDirection direction, RailBegin begin) {
    MorphOptions options = strip();
    options.rails.direction = direction, options.rails.begin = begin;
    const CutPlan plan = cuts_of(options, {surface, area, nullptr, 0.01});
    return Vec2(yardpass::plan(plan.groups.front().cuts.front().points.front()));
  };
  using D = RailDirection;
  EXPECT_LT((first(D::forward, RailBegin::first) - Vec2(-9, -8)).norm(), 1e-6);
  EXPECT_LT((first(D::backward, RailBegin::first) - Vec2(9, -9)).norm(), 1e-6);
  EXPECT_LT((first(D::forward, RailBegin::last) - Vec2(-9, 8)).norm(), 1e-6);
  EXPECT_LT((first(D::backward, RailBegin::last) - Vec2(9, 9)).norm(), 1e-6);
  // What is still to be cut lies above the first pass: on the right of one that runs to lower X.
  EXPECT_LT((first(D::climb, RailBegin::first) - Vec2(9, -9)).norm(), 1e-6);
  EXPECT_LT((first(D::conventional, RailBegin::first) - Vec2(-9, -8)).norm(), 1e-6);
}

TEST(Flowline, EightOrdersOfTheSameSidesHaveEightFirstPoints) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::grounds()[0].mesh), testing::tool_of(Shape::ball));
  const Region area = square(9.5);
  struct Order {
    bool across;
    RailBegin begin;
    RailDirection direction;
    Vec2 from, towards;
  };
  using D = RailDirection;
  const Vec2 a(-9, -8), b(9, -9), c(9, 9), d(-9, 8);
  const Order orders[] = {
      {false, RailBegin::first, D::forward, a, b}, {false, RailBegin::first, D::backward, b, a},
      {false, RailBegin::last, D::forward, d, c},  {false, RailBegin::last, D::backward, c, d},
      {true, RailBegin::first, D::forward, a, d},  {true, RailBegin::first, D::backward, d, a},
      {true, RailBegin::last, D::forward, b, c},   {true, RailBegin::last, D::backward, c, b}};
  for (const Order& order : orders) {
    FlowlineOptions options = patch();
    options.between = {};
    options.across = order.across;
    options.rails.begin = order.begin, options.rails.direction = order.direction;
    const CutPlan plan = cuts_of(options, {surface, area, nullptr, 0.01});
    const Polyline3& line = plan.groups.front().cuts.front().points;
    EXPECT_LT((yardpass::plan(line.front()) - order.from).norm(), 1e-6);
    EXPECT_LT((yardpass::plan(line.back()) - order.towards).norm(), 1e-6);
    // And it is told before.
    const std::vector<CurveRole> roles = roles_of(options, area);
    EXPECT_LT((roles.front().line.front() - order.from).norm(), 1e-6);
  }
}

TEST(Flowline, ACurveBetweenIsAPassOfItsOwn) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::grounds()[0].mesh), testing::tool_of(Shape::ball));
  const Region area = square(9.5);
  const CutPlan plan = cuts_of(patch(), {surface, area, nullptr, 0.01});
  double best = 1e9;
  for (const Cut& cut : all_cuts(plan)) {
    double off = 0;
    for (const Vec3& p : cut.points) off = std::max(off, std::abs(p.y() - (std::abs(p.x()) / 5 - 1)));
    best = std::min(best, off);
  }
  EXPECT_LT(best, 0.01);
  bool told = false;
  for (const Note& note : plan.notes) told = told || note.about == "kinks";
  EXPECT_TRUE(told) << "its corner at the middle is copied";
}

TEST(Flowline, FromTheBorderOfAnAreaAlone) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::grounds()[0].mesh), testing::tool_of(Shape::ball));
  const Region strip{{{{-9, -5}, {0, -6}, {9, -5}, {8, 5}, {0, 4}, {-8, 5}}}};
  FlowlineOptions options;
  options.rails.stepover_mm = 0.8;
  options.rails.direction = RailDirection::forward;
  const CutPlan plan = cuts_of(options, {surface, strip, nullptr, 0.01});
  const Polyline3& line = plan.groups.front().cuts.front().points;
  EXPECT_LT((yardpass::plan(line.front()) - Vec2(-9, -5)).norm(), 0.01);
  EXPECT_LT((yardpass::plan(line.back()) - Vec2(9, -5)).norm(), 0.01);
  options.corners = {{9, -5}, {8, 5}, {-9, -5}, {-8, 5}};
  EXPECT_FALSE(cuts_of(options, {surface, strip, nullptr, 0.01}).empty());
  options.corners.clear();
  const Region disc{{circle_around({0, 0}, 6, 90)}};
  try {
    (void)cuts_of(options, {surface, disc, nullptr, 0.01});
    FAIL();
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what()).find("corners"), std::string::npos) << error.what();
  }
}

TEST(Morph, CrossingCurvesAndFoldsAreRefusedWithThePlace) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::grounds()[0].mesh), testing::tool_of(Shape::ball));
  const Region area = square(9.5);
  MorphOptions crossing = strip();
  crossing.last = given("high", {{-9, 8}, {0, -9}, {9, 9}});
  MorphOptions folding = ring();
  folding.first = given("bend", {{-9, -9}, {9, -9}, {9, -3}, {-3, -3}, {-3, 9}, {-9, 9}}, true);
  folding.last = given("hub", circle_around({-6, 6.5}, 1, 60), true);
  for (const auto& [options, words] :
       {std::pair(&crossing, "cross or touch at X"), std::pair(&folding, "fold over each other at X")})
    try {
      (void)cuts_of(*options, {surface, area, nullptr, 0.01});
      ADD_FAILURE() << words;
    } catch (const LoopError& error) {
      EXPECT_NE(std::string(error.what()).find(words), std::string::npos) << error.what();
      EXPECT_EQ(error.pieces.size(), 2u);
      EXPECT_EQ(error.places.size(), 1u);
    }
}

TEST(Morph, BetweenNeighboursRunsFromWhereTheToolTouchesBothToWhereItDoesAgain) {
  // A level top, a slope of 30 degrees, a level floor; the ball of 3 stands off the foot of the slope.
  const double rise = std::tan(30 * std::numbers::pi / 180);
  const Mesh mesh = testing::turned_part({{0, 0}, {10, 0}, {20, -10 * rise}, {34, -10 * rise}}, 480);
  const ToolSurface surface = testing::exact_surface(make_contact_part(mesh), testing::tool_of(Shape::ball));
  const Region top{{circle_around({0, 0}, 10, 480)}}, outer{{circle_around({0, 0}, 20, 480)}},
      whole{{circle_around({0, 0}, 32, 480)}};
  const Region slope = subtract(outer, top), area = offset(slope, 3);
  MorphOptions options;
  options.rails.stepover_mm = 0.6;
  options.rails.pattern = RailPattern::spiral;
  options.beside_first = {GivenArea::From::region, "top", top};
  options.beside_last = {GivenArea::From::region, "floor", subtract(whole, outer)};
  Site site{surface, area, nullptr, 0.01};
  site.touched = &slope;
  const CutPlan plan = cuts_of(options, site);
  ASSERT_EQ(plan.cut_count(), 1u);
  const Polyline3& line = plan.groups.front().cuts.front().points;
  EXPECT_NEAR(yardpass::plan(line.front()).norm(), 10, 0.1);
  EXPECT_NEAR(yardpass::plan(line.back()).norm(), 20 + 3 * std::tan(15 * std::numbers::pi / 180), 0.1);
  options.beside_last.area = {{circle_around({90, 0}, 3, 30)}};
  EXPECT_THROW((void)cuts_of(options, site), Error);
}

TEST(Morph, SaysWhereTheLongestRailMakesTheRestDense) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(testing::grounds()[0].mesh), testing::tool_of(Shape::ball));
  const Region area = square(9.5);
  MorphOptions options = ring();
  options.last = given("hub", circle_around({6.5, 0}, 1, 60), true);
  const auto says = [&](const MorphOptions& one) {
    const CutPlan plan = cuts_of(one, {surface, area, nullptr, 0.01});
    return std::any_of(plan.notes.begin(), plan.notes.end(),
                       [](const Note& note) { return note.about == "dense"; });
  };
  EXPECT_TRUE(says(options));
  MorphOptions even = ring();
  even.last = given("hub", circle_around({0, 0}, 3, 60), true);
  EXPECT_FALSE(says(even));
}

}  // namespace yardpass
