#include "yardpass/plan/four_sides.h"

#include <gtest/gtest.h>

#include <numbers>

namespace yardpass {

namespace {

Curve curve(const std::string& name, const Polyline2& line) {
  Curve result;
  result.name = name;
  for (const Vec2& p : line) result.points.push_back(with_z(p, 0));
  return result;
}

NamedSides sides() {
  return {curve("low", {{0, 0}, {30, 0}}),
          curve("high", {{30, 20}, {15, 24}, {0, 20}}),
          curve("left", {{0, 20}, {-3, 10}, {0, 0}}),
          curve("right", {{30, 0}, {30, 20}}),
          {}};
}

std::string trouble(const NamedSides& named, double reach) {
  try {
    (void)bring_together(named, reach);
  } catch (const LoopError& error) {
    EXPECT_FALSE(error.places.empty()) << error.what();
    EXPECT_FALSE(error.pieces.empty());
    return error.what();
  }
  return "none";
}

}  // namespace

TEST(FourSides, RunFromStartToEndAndFromFirstToLast) {
  const FourSides four = bring_together(sides(), 0.5);
  ASSERT_EQ(four.guides.size(), 2u);
  EXPECT_LT((four.guides[0].front() - Vec2(0, 0)).norm(), 1e-6);
  EXPECT_LT((four.guides[0].back() - Vec2(30, 0)).norm(), 1e-6);
  EXPECT_LT((four.guides[1].front() - Vec2(0, 20)).norm(), 1e-6);
  EXPECT_LT((four.guides[1].back() - Vec2(30, 20)).norm(), 1e-6);
  EXPECT_LT((four.start.back() - Vec2(0, 20)).norm(), 1e-6);
  EXPECT_LT((four.end.front() - Vec2(30, 0)).norm(), 1e-6);
}

TEST(FourSides, AreBroughtTogetherWithinTheReachAndNotBeyond) {
  NamedSides loose = sides();
  loose.first = curve("low", {{-1, 0}, {29.4, 0}});  // stands out on one side, is short on the other
  const FourSides four = bring_together(loose, 1.5);
  EXPECT_LT((four.guides[0].back() - Vec2(30, 0)).norm(), 1e-6);
  EXPECT_EQ(four.junctions.size(), 4u);
  EXPECT_NE(trouble(loose, 0.1), "none");
}

TEST(FourSides, ThatDoNotGoTogetherAreRefusedWithThePlace) {
  NamedSides beside = sides();
  std::swap(beside.last, beside.end);
  EXPECT_NE(trouble(beside, 0.5).find("must lie opposite"), std::string::npos);
  NamedSides pinched = sides();
  pinched.last = curve("high", {{0, 20}, {10, -4}, {20, -4}, {30, 20}});
  EXPECT_NE(trouble(pinched, 0.5).find("cross"), std::string::npos) << trouble(pinched, 0.5);
  NamedSides ring = sides();
  ring.first.closed = true;
  EXPECT_NE(trouble(ring, 0.5).find("closed"), std::string::npos);
  NamedSides guided = sides();
  guided.between = {curve("ridge", {{2, 10}, {24, 12}})};
  EXPECT_NE(trouble(guided, 0.5).find("does not come to"), std::string::npos);
  guided.between = {curve("ridge", {{-5, 10}, {35, 12}}), curve("valley", {{-5, 14}, {35, 8}})};
  EXPECT_NE(trouble(guided, 0.5).find("cross"), std::string::npos);
  guided.between = {curve("ridge", {{-5, 10}, {10, -3}, {20, -3}, {35, 12}})};
  EXPECT_NE(trouble(guided, 0.5).find("cross"), std::string::npos);
}

TEST(FourSides, CurvesBetweenAreCutAtTheEndsOrRunOnToThem) {
  NamedSides guided = sides();
  guided.between = {curve("upper", {{35, 14}, {15, 15}, {-6, 14}}), curve("lower", {{-1, 6}, {29, 7}})};
  const FourSides four = bring_together(guided, 2);
  ASSERT_EQ(four.guides.size(), 4u);
  for (const Polyline2& guide : four.guides) {
    EXPECT_LT(guide.front().x(), 1);
    EXPECT_NEAR(guide.back().x(), 30, 1e-6);
  }
  EXPECT_LT(four.guides[1].front().y(), four.guides[2].front().y());
  // Each patch ends exactly on the next one's beginning.
  const std::vector<Rails> rails = rails_of(four, 2);
  ASSERT_EQ(rails.size(), 3u);
  for (std::size_t i = 1; i < rails.size(); ++i) {
    EXPECT_LT((rails[i - 1].lines.front().back() - rails[i].lines.front().front()).norm(), 1e-9);
    EXPECT_LT((rails[i - 1].lines.back().back() - rails[i].lines.back().front()).norm(), 1e-9);
    EXPECT_EQ(folds_of(rails[i]).folded, 0);
  }
}

TEST(FourSides, TheClearestCornersOfABorder) {
  // A bent strip with rounded corners, and a dent that is no corner.
  Polyline2 loop;
  const auto arc = [&](const Vec2& centre, double radius, double from, double to, int n) {
    for (int i = 0; i <= n; ++i) {
      const double a = (from + (to - from) * i / n) * std::numbers::pi / 180;
      loop.push_back(centre + radius * Vec2(std::cos(a), std::sin(a)));
    }
  };
  arc({0, 0}, 40, 0, 90, 90);
  arc({0, 0}, 25, 90, 0, 60);
  const std::array<Vec2, 4> corners = clearest_corners(loop);
  for (const Vec2& corner : {Vec2(40, 0), Vec2(0, 40), Vec2(0, 25), Vec2(25, 0)})
    EXPECT_TRUE(std::any_of(corners.begin(), corners.end(),
                            [&](const Vec2& found) { return (found - corner).norm() < 0.5; }));
  const NamedSides named = sides_of(loop, corners);
  const FourSides four = bring_together(named, 0.1);
  EXPECT_GT(length(std::span<const Vec2>(four.guides[0])), 2 * length(std::span<const Vec2>(four.start)));
  loop.clear();
  arc({0, 0}, 10, 0, 350, 100);
  EXPECT_THROW((void)clearest_corners(loop), Error);
  loop = {{0, 0}, {20, 0}, {26, 10}, {20, 20}, {0, 20}, {-6, 10}};
  try {
    (void)clearest_corners(loop);
    FAIL();
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what()).find("degrees at X"), std::string::npos) << error.what();
  }
}

TEST(FourSides, KinksAreToldAndArcsAreNot) {
  const std::vector<Kink> kinks = kinks_of({{0, 0}, {20, 0}, {40, 4}}, false, 0.5, 5);
  ASSERT_EQ(kinks.size(), 1u);
  EXPECT_NEAR(kinks[0].turn_deg, std::atan2(4, 20) * 180 / std::numbers::pi, 0.1);
  EXPECT_LT((kinks[0].at - Vec2(20, 0)).norm(), 0.2);
  Polyline2 arc;
  for (int i = 0; i <= 400; ++i) arc.emplace_back(3 * std::cos(i * 0.005), 3 * std::sin(i * 0.005));
  EXPECT_TRUE(kinks_of(arc, false, 0.5, 5).empty());
}

}  // namespace yardpass
