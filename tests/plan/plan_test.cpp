#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/plan/level_set.h"
#include "yardpass/plan/spacing.h"

namespace yardpass {
namespace {

using testing::Rng;

/// A cone standing on a plate: level sets are circles.
std::shared_ptr<const ContactPart> cone_part() {
  return make_contact_part(
      testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 240, 240,
                     [](double x, double y) { return std::max(0.0, 10 - std::hypot(x, y)); }));
}

TEST(LevelSet, AroundACone) {
  // A flat end of radius 3 meets height z of the cone 10 - z + 3 from its axis.
  const LevelGrid grid(TipSurface(cone_part(), Profile::flat(6)), Box2(Vec2(-25, -25), Vec2(25, 25)), 0.4);
  for (const double z : {2.0, 5.5, 9.0}) {
    const Region free = intersect(grid.at_or_below(z), rectangle(Box2(Vec2(-20, -20), Vec2(20, 20))));
    const double radius = 13 - z;
    EXPECT_NEAR(free.area_mm2(), 1600 - std::numbers::pi * radius * radius, 1.5);
    ASSERT_EQ(pieces(free).size(), 1u);
    EXPECT_FALSE(free.contains({0, 0}));
  }
  EXPECT_NEAR(grid.at_or_below(100).area_mm2(), 50 * 50, 300);  // all of the box and its rim
  EXPECT_TRUE(grid.at_or_below(-1).empty());
}

TEST(Parallel, RowsAreEvenAndCoverTheArea) {
  const auto part = make_contact_part(
      testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [](double, double) { return 0.0; }));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  for (const double angle : {0.0, 90.0, 30.0, -45.0}) {
    const auto cuts = testing::parallel_cuts(surface, rectangle(Box2(Vec2(-20, -10), Vec2(20, 10))),
                                    {.angle_deg = angle, .stepover_mm = 0.7});
    const double turn = angle * std::numbers::pi / 180;
    const Vec2 across(-std::sin(turn), std::cos(turn));
    double last = 0;
    for (std::size_t i = 0; i < cuts.size(); ++i) {
      const double at = plan(cuts[i].points.front()).dot(across);
      EXPECT_NEAR(plan(cuts[i].points.back()).dot(across), at, 1e-9);
      if (i > 0) {
        EXPECT_LE(at - last, 0.7 + 1e-9);
        EXPECT_GT(at - last, 0.6);
        // Zigzag: each pass runs against the one before.
        const auto way = [](const Cut& cut) -> Vec2 {
          return plan(cut.points.back()) - plan(cut.points.front());
        };
        if (way(cuts[i]).norm() > 0.1 && way(cuts[i - 1]).norm() > 0.1)
          EXPECT_LT(way(cuts[i]).dot(way(cuts[i - 1])), 0);
      }
      last = at;
    }
    const double width = 40 * std::abs(across.x()) + 20 * std::abs(across.y());
    EXPECT_NEAR(static_cast<double>(cuts.size()), std::ceil(width / 0.7) + 1, 2.1);
  }
}

TEST(Parallel, StaysInsideTheBoundaryAndItsHoles) {
  const auto part = make_contact_part(
      testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [](double, double) { return 0.0; }));
  const Region area{{{{-20, -20}, {20, -20}, {20, 20}, {-20, 20}}, {{-5, -5}, {5, -5}, {5, 5}, {-5, 5}}}};
  double length = 0;
  for (const Cut& cut : testing::parallel_cuts(testing::exact_surface(part, testing::flat_tool(6)), area, {.stepover_mm = 1})) {
    for (const Vec3& p : cut.points) {
      EXPECT_LE(plan(p).cwiseAbs().maxCoeff(), 20 + 1e-9);
      EXPECT_GE(plan(p).cwiseAbs().maxCoeff(), 5 - 1e-9);
    }
    length += (cut.points.back() - cut.points.front()).norm();
  }
  EXPECT_NEAR(length, 1600 + 40 - 100, 25);
}

TEST(Parallel, SameBitsForAnyNumberOfThreads) {
  const auto part = make_contact_part(demo::bowl(40, 20, 60, 0.01));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  const auto run = [&](std::size_t threads) {
    tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
    return testing::parallel_cuts(surface, rectangle(Box2(Vec2(-22, -22), Vec2(22, 22))),
                         {.angle_deg = 20, .stepover_mm = 1});
  };
  const auto one = run(1), two = run(2);
  ASSERT_EQ(one.size(), two.size());
  for (std::size_t i = 0; i < one.size(); ++i) EXPECT_EQ(one[i].points, two[i].points);
}

TEST(Parallel, CanBeStopped) {
  const auto part = cone_part();
  int calls = 0;
  EXPECT_THROW(
      (void)testing::parallel_cuts(testing::exact_surface(part, testing::ball_tool(6)),
                                   rectangle(Box2(Vec2(-20, -20), Vec2(20, 20))), {.stepover_mm = 1}, 0.01,
                                   [&](double) { return ++calls < 3; }),
      Stopped);
}

struct Roughed {
  CutPlan plan;
  Stock left;
};

Roughed rough(const ToolSurface& surface, const Region& area, double top, const RoughingOptions& options) {
  Box3 block = surface.part().box();
  block.max().z() = top;
  Stock left(block, 0.2);
  CutPlan plan = cuts_of(options, {surface, area, &left, 0.05});
  const Profile cutter[] = {surface.cutter()};
  std::vector<SweptMove> moves;
  for (const Cut& cut : testing::all_cuts(plan)) {
    for (std::size_t i = 1; i < cut.points.size(); ++i)
      moves.push_back({cut.points[i - 1], cut.points[i], 0, true});
    if (cut.closed) moves.push_back({cut.points.back(), cut.points.front(), 0, true});
  }
  carve(left, cutter, moves);
  return {std::move(plan), std::move(left)};
}

/// Wherever the tool's centre may stand at a level, the material is gone down to it: no peg, with narrow and
/// wide stepovers.
TEST(Roughing, LeavesNoPeg) {
  const auto part = make_contact_part(demo::bowl(40, 20, 60, 0.01));
  const ToolSurface surface = testing::exact_surface(part, testing::flat_tool(6), {.allowance_mm = 0.2});
  const Region area = rectangle(Box2(Vec2(-28, -28), Vec2(28, 28)));
  for (const double stepover : {1.3, 2.7, 3.0, 4.0, 5.5}) {
    const Roughed result = rough(surface, area, 1, {.stepdown_mm = 2, .stepover_mm = stepover});
    ASSERT_FALSE(result.plan.empty());
    const LevelGrid grid(surface.with_more_allowance(0.1), area.box(), 0.5);
    for (const double z : testing::levels_of(result.plan)) {
      const Region free = offset(intersect(grid.at_or_below(z), area), -0.1);
      int pegs = 0;
      for (int row = 0; row < result.left.rows(); ++row)
        for (int column = 0; column < result.left.columns(); ++column)
          pegs +=
              result.left.height(column, row) > z + 1e-6 && free.contains(result.left.centre(column, row));
      EXPECT_EQ(pegs, 0) << "stepover " << stepover << " level " << z;
    }
  }
}

TEST(Roughing, LeavesTheAllowanceAndCutsTheFlats) {
  const auto part = make_contact_part(demo::bowl(40, 20, 60, 0.01));
  const ToolSurface surface = testing::exact_surface(part, testing::flat_tool(6), {.allowance_mm = 0.2});
  const TipSurface plain(part, Profile::flat(6));
  const Region area = rectangle(Box2(Vec2(-28, -28), Vec2(28, 28)));
  const CutPlan plan = cuts_of(RoughingOptions{.stepdown_mm = 2}, {surface, area, nullptr, 0.05, 1});
  EXPECT_NEAR(testing::levels_of(plan).front(), 0.2, 1e-9);  // the plate's face, with its allowance
  for (const Cut& cut : testing::all_cuts(plan))
    for (std::size_t i = 1; i < cut.points.size(); ++i)
      ASSERT_GE(room_around(plain, cut.points[i - 1], cut.points[i], 0.2), 0.2 - 1e-8);
}

TEST(Spacing, StepoverAndRidgesGiveEachOther) {
  const Tool flat = completed(testing::flat_tool(10)), ball = completed(testing::ball_tool(6));
  // Ridge left by a ball of radius 3 at that stepover on flat ground.
  const double s = stepover_for(ball, 0.02, true).value;
  EXPECT_NEAR(3 - std::sqrt(9 - s * s / 4), 0.02, 1e-12);
  EXPECT_NEAR(scallop_height(ball, s), 0.02, 1e-12);
  EXPECT_EQ(stepover_for(flat, 0.02).value, 5);
  EXPECT_EQ(scallop_height(flat, 5), 0);
  // A lollipop cuts with its ball.
  Tool lollipop = ball;
  lollipop.shape = Shape::lollipop;
  EXPECT_EQ(stepover_for(lollipop, 0.02).value, s);
}

TEST(Roughing, WantsWhatItsToolGives) {
  const Tool flat = completed(testing::flat_tool(10));
  const Usual usual = usual_of(RoughingOptions{.stepover_mm = 4.5}, flat);
  EXPECT_EQ(usual.allowance_mm.value, 0.3);
  EXPECT_NEAR(usual.tolerance_mm.value, 0.05, 1e-12);
  EXPECT_EQ(usual.spacing_mm, 4.5);
  EXPECT_TRUE(usual.at_levels);
}

}  // namespace
}  // namespace yardpass
