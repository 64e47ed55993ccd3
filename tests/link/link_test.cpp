#include "yardpass/link/link.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/nasty.h"
#include "support/planning.h"

namespace yardpass {
namespace {

class LinkBowl : public ::testing::Test {
 protected:
  std::shared_ptr<const ContactPart> part_ = make_contact_part(demo::bowl(40, 20, 60, 0.01));
  Tool flat_ = testing::flat_tool(6), ball_ = drilling(testing::ball_tool(6));
  static Tool drilling(Tool tool) {
    tool.steepest_entry_deg = 90;
    return tool;
  }
  Region area_ = rectangle(Box2(Vec2(-24, -24), Vec2(24, 24)));
  Stock block_{Box3(Vec3(-30, -30, -20), Vec3(30, 30, 2)), 0.2};
  LinkOptions options_{.plane_z = 8, .steps = {.ladder = {.stay_down_mm = 6}}};

  /// What every toolpath must keep: rapids in air, all moves off the part, ramps no steeper than asked, no
  /// plunge into solid.
  void expect_sound(const Toolpath& path, const TipSurface& surface, Stock stock, double deepest_plunge) {
    const Profile cutter[] = {surface.cutter()};
    Vec3 at = path.start;
    EXPECT_EQ(at.z(), options_.plane_z);
    const double steepest = std::tan(options_.ramp_angle_deg * std::numbers::pi / 180);
    for (const Move& move : path.moves) {
      ASSERT_GE(room_around(surface, at, move.to, 0.0), -1e-8);
      if (move.kind == MoveKind::ramp)
        ASSERT_LE(at.z() - move.to.z(), steepest * (plan(at) - plan(move.to)).norm() + 1e-9);
      if (move.kind == MoveKind::plunge && plan(at) == plan(move.to))
        EXPECT_GE(move.to.z(), stock.free_height(surface.cutter(), plan(at)) - deepest_plunge);
      const SweptMove swept[] = {{at, move.to, 0, move.kind != MoveKind::rapid}};
      CarveLog log;
      carve(stock, cutter, swept, &log);
      EXPECT_EQ(log.entered[0], 0) << "a rapid meets material";
      EXPECT_EQ(move.feed_mm_min > 0, move.kind != MoveKind::rapid);
      at = move.to;
    }
    EXPECT_EQ(at.z(), options_.plane_z);
  }
};

TEST_F(LinkBowl, RoughingRampsInAndIsSafe) {
  const ToolSurface surface(part_, flat_, {.allowance_mm = 0.2});
  const auto plan =
      cuts_of(RoughingOptions{.stepdown_mm = 2, .stepover_mm = 2.5}, {surface, area_, &block_, 0.05});
  const Toolpath path = link_cuts(plan, surface, block_, options_).path;
  const TipSurface plain(part_, profile_of(flat_));
  expect_sound(path, plain, block_, 0.0);
  EXPECT_GT(measure(path).ramp_mm, 0);
}

// Cuts that were shortened keep what they say of their entry; a helix that they do not begin on is not used.
TEST_F(LinkBowl, AHelixOnlyWhereTheCutBeginsOnIt) {
  const ToolSurface surface(part_, flat_, {.allowance_mm = 0.2});
  Cut cut;
  cut.points = {{3, 0, -2.5}, {3, 4, -2.5}, {-3, 4, -2.5}};
  cut.entry = Entry::helix;
  cut.helix = {{1, 0}, 2, false};
  const auto expect = [&](const Cut& one, bool helix) {
    const Toolpath path = link_cuts(plan_of({one}), surface, block_, options_).path;
    expect_sound(path, TipSurface(part_, profile_of(flat_)), block_, 0.0);
    double round = 0;
    for (const Move& move : path.moves)
      if (move.kind == MoveKind::ramp)
        round = std::max(round, std::abs((plan(move.to) - Vec2(1, 0)).norm() - 2));
    EXPECT_EQ(round < 1e-6, helix);
  };
  expect(cut, true);
  cut.points.erase(cut.points.begin());
  expect(cut, false);
}

TEST_F(LinkBowl, FinishingLinksAlongTheSurface) {
  const ToolSurface surface(part_, ball_);
  const CutPlan plan = cuts_of(ParallelOptions{.stepover_mm = 1.5}, {surface, area_});
  const Toolpath path = link_cuts(plan, surface, block_, options_).path;
  expect_sound(path, surface, block_, 100);
  EXPECT_EQ(measure(path).retracts, 1);
  EXPECT_GT(measure(path).link_mm, 0);
  double cut = 0;
  for (const Cut& c : testing::all_cuts(plan)) cut += length(std::span<const Vec3>(c.points));
  EXPECT_NEAR(measure(path).cut_mm, cut, 1e-6);
}

TEST_F(LinkBowl, WithoutLinksEachPassRetracts) {
  const ToolSurface surface(part_, ball_);
  const CutPlan plan = cuts_of(ParallelOptions{.stepover_mm = 6}, {surface, area_});
  options_.steps.ladder.stay_down_mm = 0;
  const Toolpath path = link_cuts(plan, surface, block_, options_).path;
  EXPECT_EQ(measure(path).retracts, static_cast<std::int64_t>(plan.cut_count()));
  expect_sound(path, surface, block_, 100);
}

TEST_F(LinkBowl, RapidTurnsIntoFeedAboveTheMaterialAsItThenIs) {
  // The first pass clears a slot; the second one, in the same place but deeper, may come down inside it at
  // rapid.
  const auto floor = make_contact_part(
      testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 1, 1, [](double, double) { return -10.0; }));
  const ToolSurface surface(floor, ball_);
  const CutPlan plan = plan_of(
      {{{{-20, 0, -2}, {20, 0, -2}}}, {{{-20, 0, -3}, {20, 0, -3}}}, {{{-20, 12, -2}, {20, 12, -2}}}});
  const Stock stock(Box3(Vec3(-40, -40, -12), Vec3(40, 40, 0)), 0.1);
  options_.steps.ladder.stay_down_mm = 1;
  const Toolpath path = link_cuts(plan, surface, stock, options_).path;
  std::vector<double> landed;
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    if (move.kind == MoveKind::rapid && move.to.z() < at.z()) landed.push_back(move.to.z());
    at = move.to;
  }
  ASSERT_EQ(landed.size(), 3u);
  EXPECT_NEAR(landed[0], 1, 0.1);
  EXPECT_LT(landed[1], 0.3);  // the rim of the slot beside the wider cutter counts, not the block's top
  EXPECT_NEAR(landed[2], 1, 0.1);
}

// Ribs that two passes of an operation leave standing between cell centres stop the rapids of the next one.
TEST_F(LinkBowl, RapidsStopAboveRibsThinnerThanACell) {
  const auto floor = make_contact_part(
      testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 1, 1, [](double, double) { return -10.0; }));
  const ToolSurface wide(floor, testing::flat_tool(10)), narrow(floor, ball_);
  options_.plane_z = 20, options_.steps.ladder.stay_down_mm = 0;
  Stock stock(Box3(Vec3(-40, -40, -12), Vec3(40, 40, 0)), 1);
  // From outside the block, so that all of it but a rib of 0.3 is cut down to -8.
  const CutPlan passes =
      plan_of({{{{-50, -5.25, -8}, {50, -5.25, -8}}}, {{{-50, 5.05, -8}, {50, 5.05, -8}}}});
  stock = link_cuts(passes, wide, std::move(stock), options_).stock;
  ASSERT_FALSE(stock.hidden().empty());
  for (const HiddenSquare& square : stock.hidden()) {
    EXPECT_NEAR(stock.box_of(square).center().y(), -0.1, 0.61);
    EXPECT_EQ(square.top_z, 0);
  }
  const auto landed = [&](double y) {
    const Toolpath path = link_cuts(plan_of({{{{-10, y, -7}, {10, y, -7}}}}), narrow, stock, options_).path;
    return path.moves.front().to.z();
  };
  EXPECT_NEAR(landed(-0.1), 1.5, 0.5) << "on the rib";
  EXPECT_LT(landed(-6), -5) << "beside it";
  // Once it is cut away it stops nothing.
  stock = link_cuts(plan_of({{{{-50, -0.1, -8}, {50, -0.1, -8}}}}), wide, std::move(stock), options_).stock;
  EXPECT_TRUE(stock.hidden().empty());
  EXPECT_LT(landed(-0.1), -5);
}

// A rib is no higher than what another move left there, though that one cut none of the corners last.
TEST_F(LinkBowl, RibsAreNoHigherThanEarlierMovesLeftThem) {
  const auto floor = make_contact_part(
      testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 1, 1, [](double, double) { return -10.0; }));
  const ToolSurface wide(floor, testing::flat_tool(10));
  options_.plane_z = 20, options_.steps.ladder.stay_down_mm = 0;
  const Stock stock(Box3(Vec3(-40, -40, -12), Vec3(40, 40, 0)), 1);
  const CutPlan passes = plan_of({{{{-50, 0, -7}, {50, 0, -7}}},
                                  {{{-50, -5.25, -8}, {50, -5.25, -8}}},
                                  {{{-50, 5.05, -8}, {50, 5.05, -8}}}});
  const LinkedCuts linked = link_cuts(passes, wide, stock, options_);
  ASSERT_FALSE(linked.stock.hidden().empty());
  for (const HiddenSquare& square : linked.stock.hidden())
    if (std::abs(linked.stock.box_of(square).center().y()) < 4) EXPECT_NEAR(square.top_z, -7, 1e-9);
}

TEST_F(LinkBowl, RapidsStopAboveRibsOfTheirOwnOperation) {
  const auto floor = make_contact_part(
      testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 1, 1, [](double, double) { return -10.0; }));
  const ToolSurface wide(floor, testing::flat_tool(10));
  options_.plane_z = 20, options_.steps.ladder.stay_down_mm = 0;
  const Stock stock(Box3(Vec3(-40, -40, -12), Vec3(40, 40, 0)), 1);
  const CutPlan passes = plan_of({{{{-50, -5.25, -8}, {50, -5.25, -8}}},
                                  {{{-50, 5.05, -8}, {50, 5.05, -8}}},
                                  {{{-50, -14, -8}, {50, -14, -8}}},
                                  {{{-10, -0.1, -7}, {10, -0.1, -7}}},
                                  {{{-10, -9, -7}, {10, -9, -7}}}});
  const Toolpath path = link_cuts(passes, wide, stock, options_).path;
  const auto landed = [&](double y) {
    double lowest = 1e9;
    for (const Move& move : path.moves)
      if (move.kind == MoveKind::rapid && std::abs(move.to.y() - y) < 1e-9 && move.to.x() == -10)
        lowest = std::min(lowest, move.to.z());
    return lowest;
  };
  EXPECT_GT(landed(-0.1), 0.5) << "above the rib that the first two passes left";
  EXPECT_LT(landed(-9), -5) << "where they left none";
}

TEST_F(LinkBowl, RefusesALowClearancePlane) {
  const ToolSurface surface(part_, ball_);
  options_.plane_z = 2;
  EXPECT_THROW((void)link_cuts({}, surface, block_, options_), Error);
}

TEST_F(LinkBowl, EveryMoveKnowsItsCutAndPass) {
  const ToolSurface surface(part_, ball_);
  const CutPlan plan = cuts_of(ParallelOptions{.stepover_mm = 3}, {surface, area_});
  const Toolpath path = link_cuts(plan, surface, block_, options_).path;
  ASSERT_EQ(path.cuts.size(), plan.cut_count());
  EXPECT_EQ(path.tool.name, "ball");
  EXPECT_EQ(path.rounding_reserve_mm, surface.rounding_reserve_mm());
  std::size_t met = 0;
  const std::vector<Cut> cuts = testing::all_cuts(plan);
  for (const Move& move : path.moves) {
    if (move.kind != MoveKind::cut) continue;
    ASSERT_GE(move.cut, 0);
    const Cut& cut = cuts[static_cast<std::size_t>(move.cut)];
    EXPECT_EQ(path.pass_of(move), cut.pass);
    EXPECT_NE(std::find(cut.points.begin(), cut.points.end(), move.to), cut.points.end());
    ++met;
  }
  EXPECT_GT(met, 50u);
}

TEST_F(LinkBowl, WhatCannotBeLinkedIsRefusedAndNothingIsHalfCarved) {
  const ToolSurface surface(part_, ball_);
  CutPlan plan = plan_of({{{{-20, 0, 2}, {20, 0, 2}}}});
  plan.groups.push_back(plan.groups[0]);
  plan.groups[0].after = {1};
  EXPECT_THROW((void)link_cuts(plan, surface, block_, options_), Error) << "a group after a later one";
  plan.groups[0].after.clear();
  plan.groups[1].after = {0};
  EXPECT_NO_THROW((void)link_cuts(plan, surface, block_, options_));
  Tool still = ball_;
  still.feed_mm_min = 0;
  try {
    (void)link_cuts(plan, ToolSurface(part_, still), block_, options_);
    FAIL();
  } catch (const Error& error) {
    EXPECT_STREQ(error.what(), "tool \"ball\": \"feed\" is missing; mm/min");
  }
  for (const LinkOptions& wrong :
       {LinkOptions{.plane_z = 8, .feed_height_mm = 0},
        LinkOptions{.plane_z = 8, .steps = {.ladder = {.stay_down_mm = -1}}},
        LinkOptions{.plane_z = 8, .ramp_angle_deg = 0}, LinkOptions{.plane_z = 8, .ramp_angle_deg = 50},
        LinkOptions{.plane_z = 8, .tolerance_mm = 0}})
    EXPECT_THROW((void)link_cuts(plan, surface, block_, wrong), Error);
  const double before = block_.volume_mm3();
  EXPECT_THROW((void)link_cuts(plan, surface, block_, options_, [](double) { return false; }), Stopped);
  EXPECT_EQ(block_.volume_mm3(), before);
}

}  // namespace
}  // namespace yardpass
