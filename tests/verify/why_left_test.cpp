// Why material is left: each reason where it must be, by construction.
#include "yardpass/verify/why_left.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/nasty.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"

namespace yardpass {
namespace {

/// A floor at 0 with a wall of 6 mm along Y at x = 10, cut by a ball of 6: along the foot of the wall it
/// leaves its own roundness.
struct Step {
  std::shared_ptr<const ContactPart> part = make_contact_part(testing::sheet(
      Box2(Vec2(-20, -15), Vec2(20, 15)), 400, 10, [](double x, double) { return x > 10 ? 6.0 : 0.0; }));
  Tool ball = completed({.name = "ball6", .number = 1, .diameter_mm = 6});
  Stock stock{Box3(Vec3(-20, -15, -5), Vec3(20, 15, 8)), 0.1};

  Step() {  // passes along the wall, 0.05 mm apart
    const Profile cutter = profile_of(ball);
    const TipSurface surface(part, cutter);
    std::vector<SweptMove> moves;
    for (double x = -22; x < 22; x += 0.05) {
      const double z = surface.height({std::clamp(x, -19.9, 19.9), 0});
      moves.push_back({Vec3(x, -20, z), Vec3(x, 20, z), 0, true});
    }
    carve(stock, std::span<const Profile>(&cutter, 1), moves);
  }
  [[nodiscard]] WhyLeft explained(const std::vector<LeftByOperation>& operations) const {
    return explain_left(stock, left_map(stock, *part, 5), part, operations, {}, {.limit_mm = 0.05});
  }
  [[nodiscard]] LeftBecause at(const WhyLeft& left, double x, double y) const {
    const auto range = stock.cells_between({x - 0.06, y - 0.06}, {x + 0.06, y + 0.06});
    return left.why[stock.index(range.first_column, range.first_row)];
  }
};

const Region kAll = rectangle(Box2(Vec2(-30, -30), Vec2(30, 30)));

TEST(WhyLeft, TheRoundnessAtAFootIsOutOfReach) {
  const Step step;
  const WhyLeft left = step.explained({{kAll, {}, 0, &step.ball}});
  EXPECT_EQ(step.at(left, 0, 0), LeftBecause::thin);
  EXPECT_EQ(step.at(left, 9.5, 0), LeftBecause::out_of_reach);
  EXPECT_LT(left.missed_mm2, 0.01 * left.out_of_reach_mm2);
  // From where the arc is 0.05 off the floor or wall: about 0.55 mm from each, of 3 mm.
  EXPECT_NEAR(left.out_of_reach_mm2, 30 * 2.45, 30 * 0.5);
}

TEST(WhyLeft, ABallHalfAsWideCouldHaveTakenIt) {
  const Step step;
  const Tool small = completed({.name = "ball2", .number = 2, .diameter_mm = 2});
  const WhyLeft left = step.explained({{kAll, {}, 0, &step.ball}, {kAll, {}, 0, &small}});
  EXPECT_EQ(step.at(left, 9.0, 0), LeftBecause::missed);
  EXPECT_GT(left.missed_mm2, 20);
  ASSERT_FALSE(left.thickest.empty());
  EXPECT_EQ(left.thickest[0].why, LeftBecause::missed);
  EXPECT_GT(left.thickest[0].at.x(), 8);
}

// Walls of 75 degrees, passes 0.6 apart along them: ridges of 0.015 mm, but 0.06 in Z, so a judge in Z calls
// the whole flank of the notch missed.
TEST(WhyLeft, OnSteepWallsDistanceInSpaceCounts) {
  const double slope = std::tan(75 * std::numbers::pi / 180);
  const auto part = make_contact_part(testing::sheet(Box2(Vec2(-8, -12), Vec2(8, 12)), 64, 2,
                                                     [&](double x, double) { return std::abs(x) * slope; }));
  const TipSurface surface(part, Profile::ball(6));
  std::vector<SweptMove> moves;
  const double step = 0.6 * std::cos(75 * std::numbers::pi / 180);
  for (double x = -3; x <= 3; x += step) {
    // The pass that lies nearest to the lowest place of the ball is moved there.
    const double at = std::abs(x) < step / 2 ? 0 : x, z = surface.height({at, 0});
    moves.push_back({{at, -20, z}, {at, 20, z}, 0, true});
  }
  Stock stock(Box3(Vec3(-3, -5, 0), Vec3(3, 5, 30)), 0.05);
  const Profile ball = Profile::ball(6);
  carve(stock, {&ball, 1}, moves);
  const Tool tool = completed({.name = "ball6", .number = 1, .diameter_mm = 6});
  const WhyLeft left =
      explain_left(stock, left_map(stock, *part, 5), part, {{kAll, {}, 0, &tool}}, {}, {.limit_mm = 0.05});
  EXPECT_GT(left.out_of_reach_mm2, 5);
  EXPECT_LT(left.missed_mm2, 0.002 * left.out_of_reach_mm2);
}

// A round boss with a draft of 5 degrees: beside it a flat cutter reaches every height of the wall, from
// whatever side; so what a wider allowance left there is missed, all around.
TEST(WhyLeft, NothingOnARoundBossIsOutOfReachOfAFlatCutter) {
  const double draft = std::tan(5 * std::numbers::pi / 180);
  const auto part =
      make_contact_part(testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 200, 200, [&](double x, double y) {
        return std::clamp((12 - std::hypot(x, y)) / draft, -10.0, 0.0);
      }));
  Stock stock(Box3(Vec3(4, 0, -12), Vec3(14, 14, 0)), 0.2);
  const TipSurface needle(part, Profile::needle());
  for (int row = 0; row < stock.rows(); ++row)
    for (int column = 0; column < stock.columns(); ++column) {
      const Vec2 p = stock.centre(column, row);
      const double beside = std::hypot(p.x(), p.y()) - 12;
      // 0.4 thick on the wall, from its top to where the floor begins.
      stock.set_height(column, row, std::clamp((12.4 - std::hypot(p.x(), p.y())) / draft, -10.0, 0.0));
      if (beside > 0.4 && stock.height(column, row) < -7) stock.set_height(column, row, -10);
    }
  const Tool flat = completed({.name = "flat12", .number = 1, .shape = Shape::flat, .diameter_mm = 12});
  const WhyLeft left =
      explain_left(stock, left_map(stock, *part, 5), part, {{kAll, {}, 0.3, &flat}}, {}, {.limit_mm = 0.05});
  EXPECT_GT(left.missed_mm2, 8);
  EXPECT_LT(left.out_of_reach_mm2, 0.03 * left.missed_mm2) << "the mesh of the wall is a little jagged";
}

// An allowance for walls took what was missed on the floor for meant.
TEST(WhyLeft, WallsAndFloorsHaveTheirOwnAllowances) {
  Step step;
  for (int row = 0; row < step.stock.rows(); ++row)
    for (int column = 0; column < step.stock.columns(); ++column)
      if (step.stock.centre(column, row).x() < 5) step.stock.set_height(column, row, 0.3);
  LeftByOperation walls{kAll, {}, 0, &step.ball};
  walls.wall_extra_mm = 0.3;
  EXPECT_EQ(step.at(step.explained({walls}), 0, 0), LeftBecause::missed);
  LeftByOperation floors{kAll, {}, 0, &step.ball};
  floors.floor_extra_mm = 0.3;
  EXPECT_EQ(step.at(step.explained({floors}), 0, 0), LeftBecause::on_purpose);
}

TEST(WhyLeft, SamplesTellTheSameButForTheirRims) {
  const Step step;
  const Tool small = completed({.name = "ball2", .number = 2, .diameter_mm = 2});
  const std::vector<LeftByOperation> operations{{kAll, {}, 0, &step.ball}, {kAll, {}, 0, &small}};
  const WhyLeft all = step.explained(operations);
  EXPECT_EQ(all.asked_every, 1);
  const LeftMap map = left_map(step.stock, *step.part, 5);
  const WhyLeft some =
      explain_left(step.stock, map, step.part, operations, {}, {.limit_mm = 0.05, .most_work = 30000});
  EXPECT_GT(some.asked_every, 1);
  EXPECT_NEAR(some.missed_mm2, all.missed_mm2, 0.3 * all.missed_mm2);
  const WhyLeft none =
      explain_left(step.stock, map, step.part, operations, {}, {.limit_mm = 0.05, .most_work = 0});
  EXPECT_EQ(none.asked_every, 0);
  EXPECT_EQ(none.missed_mm2 + none.out_of_reach_mm2, 0);
  EXPECT_NEAR(none.not_asked_mm2, all.missed_mm2 + all.out_of_reach_mm2, 1e-9);
}

TEST(WhyLeft, PurposeIsAllowanceLidOrOutsideAllBoundaries) {
  Step step;
  for (int row = 0; row < step.stock.rows(); ++row)
    for (int column = 0; column < step.stock.columns(); ++column)
      if (step.stock.centre(column, row).x() < 0) step.stock.set_height(column, row, 0.3);
  const Region left_half = rectangle(Box2(Vec2(-30, -30), Vec2(0, 30))),
               corner = rectangle(Box2(Vec2(-15, 0), Vec2(-10, 5)));
  EXPECT_EQ(step.at(step.explained({{left_half, {}, 0.3, &step.ball}}), -12, 2), LeftBecause::on_purpose)
      << "its allowance";
  const WhyLeft missed = step.explained({{left_half, corner, 0, &step.ball}});
  EXPECT_EQ(step.at(missed, -5, 2), LeftBecause::missed);
  EXPECT_EQ(step.at(missed, -12, 2), LeftBecause::on_purpose) << "under a lid";
  EXPECT_EQ(step.at(missed, 9.5, 2), LeftBecause::on_purpose) << "outside all boundaries";
  EXPECT_NEAR(missed.missed_mm2, 20 * 30 - 25, 8);
  EXPECT_EQ(missed.thickest.size(), 10u);
  for (std::size_t i = 0; i < 10; ++i)
    for (std::size_t k = 0; k < i; ++k)
      EXPECT_GE((plan(missed.thickest[i].at) - plan(missed.thickest[k].at)).norm(), 1 - 1e-9);
  EXPECT_EQ(step.explained({}).missed_mm2, 0);
}

}  // namespace
}  // namespace yardpass
