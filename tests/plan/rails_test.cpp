#include "yardpass/plan/rails.h"

#include <gtest/gtest.h>

#include "support/demo_files.h"
#include "support/grounds.h"
#include "support/rail_gaps.h"
#include "yardpass/part/outlines.h"
#include "yardpass/plan/four_sides.h"

namespace yardpass {

namespace {

using testing::circle_around;

constexpr double kStepover = 0.8, kRailsApart = 2;

template <typename At>
Polyline2 drawn(const At& at, int pieces) {
  Polyline2 line;
  for (int i = 0; i <= pieces; ++i) line.push_back(at(static_cast<double>(i) / pieces));
  return line;
}

Mesh saddle() {
  return testing::sheet(Box2(Vec2(-34, -34), Vec2(34, 34)), 136, 136,
                        [](double x, double y) { return (x * x - y * y) / 60; });
}
TipSurface ball_over(const Mesh& mesh) { return {make_contact_part(mesh), Profile::ball(6)}; }

const Polyline2 kBend{{-30, -25}, {30, -25}, {30, -5}, {-8, -5}, {-8, 28}, {-30, 28}};
const Polyline2 kStraight{{-25, -25}, {25, -25}};
Polyline2 bay() {  // wider inside than at its mouth
  return drawn(
      [](double t) {
        if (t < 0.25) return Vec2(-25 + 22 * t / 0.25, -12);
        if (t > 0.75) return Vec2(3 + 22 * (t - 0.75) / 0.25, -12);
        const double a = -std::numbers::pi / 2 - 0.3 - (2 * std::numbers::pi - 0.6) * (t - 0.25) / 0.5;
        return Vec2(10 * std::cos(a), -2.4 + 10 * std::sin(a));
      },
      400);
}

struct Between {
  const char* name;
  Mesh mesh;
  Polyline2 from, to;
  bool closed;
};

std::vector<Between> without_folds() {
  std::vector<Between> all;
  all.push_back({"ring", saddle(), circle_around({0, 0}, 12, 200), circle_around({0, 0}, 29, 300), true});
  all.push_back({"strip",
                 saddle(),
                 {{-30, -18}, {30, -18}},
                 drawn([](double t) { return Vec2(-30 + 60 * t, 4 + 7 * std::sin(6 * t)); }, 300),
                 false});
  all.push_back({"circle in a bend", saddle(), circle_around({-19, -15}, 4, 100), kBend, true});
  all.push_back({"deep cusp", saddle(), kStraight,
                 drawn(
                     [](double t) {
                       const double x = -25 + 50 * t;
                       return Vec2(x, 20 - 34 * std::exp(-x * x / 18));
                     },
                     400),
                 false});
  all.push_back({"draft of 87 degrees", testing::drafted_pocket(), testing::rounded_rectangle(31, 21, 8),
                 circle_around({0, 0}, 4, 100), true});
  // A wall of 87 degrees that crosses the rails askew.
  all.push_back(
      {"askew wall",
       testing::sheet(Box2(Vec2(-14, -14), Vec2(14, 14)), 560, 560,
                      [](double x, double y) { return std::clamp((0.64 * x + 0.77 * y) * 19, -3.0, 3.0); }),
       {{-9, -9}, {9, -9}},
       {{-9, 9}, {9, 9}},
       false});
  return all;
}

}  // namespace

TEST(Rails, PassesLieNoFartherApartThanTheStepoverOnAnyGround) {
  for (const Between& one : without_folds()) {
    SCOPED_TRACE(one.name);
    const TipSurface surface = ball_over(one.mesh);
    const Rails rails = straight_rails(one.from, one.to, one.closed, kRailsApart);
    EXPECT_EQ(folds_of(rails).folded, 0);
    const DividedRails divided(surface, rails, kStepover);
    const testing::Gaps gaps = testing::gaps_of(surface, divided, one.closed);
    EXPECT_LE(gaps.widest, 1.02 * kStepover) << gaps.at.transpose();
    // The longest rail alone sets how many there are.
    EXPECT_NEAR(divided.facts().longest_mm / kStepover, divided.steps(), 1);
    EXPECT_GT(gaps.length, 300);
  }
}

TEST(Rails, RidgesHoldInAHollowHardlyWiderThanTheBall) {
  // A fillet of 3.3 under a ball of 3, between level ground and a slope.
  constexpr double kFillet = 3.3, kBall = 3, kSteepest = 75 * std::numbers::pi / 180, kStep = 0.4;
  const Mesh mesh = testing::sheet(Box2(Vec2(-10, -8), Vec2(6, 8)), 1600, 16, [](double x, double) {
    const double turn = std::sin(kSteepest) * kFillet, on = std::clamp(x, 0.0, turn);
    return kFillet - std::sqrt(kFillet * kFillet - on * on) + std::max(0.0, x - on) * std::tan(kSteepest);
  });
  const TipSurface surface = ball_over(mesh);
  const Rails rails = straight_rails({{-4, -5}, {-4, 5}}, {{1.5, -5}, {1.5, 5}}, false, kRailsApart);
  const auto highest_ridge = [&](RailMeasure by) {
    const DividedRails divided(surface, rails, kStep, {}, by);
    double worst = 0, before = -100;
    for (std::int32_t k = 0; k <= divided.steps(); ++k) {
      const Vec2 at = divided.pass(static_cast<double>(k) / divided.steps()).front();
      const double turned = std::atan2(at.x(), kFillet - surface.height(at) - kBall);
      const double way = at.x() < 0 ? at.x() : kFillet * std::min(turned, kSteepest), apart = way - before;
      if (way > 0) worst = std::max(worst, apart * apart / 8 * (1 / kBall - 1 / kFillet));
      before = way;
    }
    return worst;
  };
  const double asked = kStep * kStep / 8 / kBall;
  EXPECT_GT(highest_ridge(RailMeasure::tip), 4 * asked);
  EXPECT_LT(highest_ridge(RailMeasure::ridges), 2 * asked);
}

TEST(Rails, FacetsDoNotShakePassesWhereRidgesAreHeld) {
  // Over the fillet and the facets of a whole part: as calm as passes that know nothing of hollows.
  const Mesh mesh = testing::demo_mesh("hull-plug");
  const Polyline2 around =
      simplify_loop(std::span<const Vec2>(offset(slice_at(mesh, -25.98), 1.5).loops.front()), 0.001);
  const FourSides sides =
      bring_together(sides_of(around, {Vec2(60, -8), Vec2(60, 8), Vec2(-57, 14), Vec2(-57, -14)}), 1);
  const Rails rails = rails_of(sides, kRailsApart).front();
  const TipSurface surface = ball_over(mesh);
  const auto turn_of_most = [&](RailMeasure by) {
    const DividedRails divided(surface, rails, 0.4, {}, by);
    std::vector<double> turns;
    for (std::int32_t k = 0; k <= divided.steps(); ++k) {
      const Polyline2 all = divided.pass(static_cast<double>(k) / divided.steps()),
                      pass = simplify(std::span<const Vec2>(all), 0.001);
      for (std::size_t i = 1; i + 1 < pass.size(); ++i) {
        const Vec2 in = pass[i] - pass[i - 1], on = pass[i + 1] - pass[i];
        turns.push_back(std::abs(std::atan2(in.x() * on.y() - in.y() * on.x(), in.dot(on))));
      }
    }
    std::sort(turns.begin(), turns.end());
    return turns[turns.size() * 95 / 100] * 180 / std::numbers::pi;
  };
  EXPECT_LT(turn_of_most(RailMeasure::ridges), 1.5 * turn_of_most(RailMeasure::tip));
}

TEST(Rails, OuterPassesAreTheCurvesThemselves) {
  for (const Between& one : without_folds()) {
    SCOPED_TRACE(one.name);
    const DividedRails divided(ball_over(one.mesh), straight_rails(one.from, one.to, one.closed, kRailsApart),
                               kStepover);
    for (const auto& [curve, share] : {std::pair(&one.from, 0.0), std::pair(&one.to, 1.0)}) {
      testing::NearSegments near(1);
      for (std::size_t i = 1; i < curve->size() + (one.closed ? 1 : 0); ++i)
        near.add(with_z((*curve)[i - 1], 0), with_z((*curve)[i % curve->size()], 0));
      double off = 0;
      const Polyline2 pass = divided.pass(share);
      for (const Vec2& p : pass) off = std::max(off, near.distance(with_z(p, 0), 1));
      EXPECT_LT(off, 1e-6);
      EXPECT_NEAR(
          length(std::span<const Vec2>(pass)) + (one.closed ? (pass.back() - pass.front()).norm() : 0),
          length(std::span<const Vec2>(*curve)) + (one.closed ? (curve->back() - curve->front()).norm() : 0),
          1e-3);
    }
  }
}

TEST(Rails, ThatCannotSeeRoundACornerFoldAndThePlaceIsTold) {
  for (const auto& [from, to, closed, low, high] :
       {std::tuple(circle_around({-19, 18}, 4, 100), kBend, true, Vec2(-14, -10), Vec2(-2, 4)),
        std::tuple(kStraight, bay(), false, Vec2(-8, -18), Vec2(8, -6))}) {
    const Rails straight = straight_rails(from, to, closed, kRailsApart);
    EXPECT_GT(folds_of(straight).folded, 20);
    const Rails better = relaxed(straight);
    const RailFolds folds = folds_of(better);
    EXPECT_LT(folds.folded * 100, folds.cells);
    if (folds.folded == 0) continue;
    EXPECT_TRUE(Box2(low, high).contains(folds.at)) << folds.at.transpose();
  }
}

TEST(Rails, RelaxingMendsAFoldAndKeepsBothCurves) {
  // A side that overhangs.
  const Polyline2 first = drawn(
      [](double t) {
        const double s = std::sin(std::numbers::pi * t);
        return Vec2(34 * t + 3.2 * std::sin(4 * std::numbers::pi * t), 12 * s * s);
      },
      200);
  const Polyline2 last{{0, 16}, {34, 16}};
  const Rails straight = patch_rails({first, last, {{0, 0}, {0, 16}}, {{34, 0}, {34, 16}}}, 1);
  ASSERT_GT(folds_of(straight).folded, 0);
  const Rails better = relaxed(straight);
  EXPECT_EQ(folds_of(better).folded, 0);
  for (std::size_t i = 0; i < better.lines.size(); ++i) {
    EXPECT_EQ(better.lines[i].front(), straight.lines[i].front());
    EXPECT_EQ(better.lines[i].back(), straight.lines[i].back());
  }
}

TEST(Rails, MatchedPlacesBelongTogetherAndMustComeInOneOrder) {
  const Polyline2 from{{0, 0}, {30, 0}}, to{{0, 20}, {10, 26}, {30, 20}};
  const std::vector<MatchedPlaces> matched{{{20, 0}, {10, 26}}};
  const Rails rails = straight_rails(from, to, false, 1, matched);
  const auto at = std::find_if(rails.lines.begin(), rails.lines.end(), [](const Polyline2& line) {
    return (line.front() - Vec2(20, 0)).norm() < 1e-9;
  });
  ASSERT_NE(at, rails.lines.end());
  EXPECT_LT((at->back() - Vec2(10, 26)).norm(), 1e-9);
  const std::vector<MatchedPlaces> askew{{{20, 0}, {10, 26}}, {{25, 0}, {5, 23}}};
  EXPECT_THROW((void)straight_rails(from, to, false, 1, askew), Error);
  // Whichever way the other curve runs.
  EXPECT_EQ(straight_rails(from, {{30, 20}, {10, 26}, {0, 20}}, false, 1).lines,
            straight_rails(from, to, false, 1).lines);
}

TEST(Rails, ClosedCurvesAreTurnedSoThatRailsAreShort) {
  Polyline2 outer = circle_around({0, 0}, 20, 128);
  std::rotate(outer.begin(), outer.begin() + 41, outer.end());
  std::reverse(outer.begin(), outer.end());
  const Rails rails = straight_rails(circle_around({0, 0}, 10, 64), outer, true, kRailsApart);
  for (const Polyline2& line : rails.lines) EXPECT_NEAR((line.back() - line.front()).norm(), 10, 0.02);
}

TEST(Rails, ASpiralGoesOnWithoutAGapFromTurnToTurn) {
  const TipSurface surface = ball_over(saddle());
  const DividedRails rails(
      surface,
      straight_rails(circle_around({0, 0}, 8, 128), circle_around({1, 2}, 26, 256), true, kRailsApart),
      kStepover);
  testing::Gaps gaps;
  FrontPass before{.line = rails.pass(0), .closed = true};
  for (std::int32_t k = 0; k < rails.steps(); ++k) {
    const Polyline2 turn = rails.turn(static_cast<double>(k) / rails.steps(), (k + 1.0) / rails.steps());
    EXPECT_LT((turn.front() - (k == 0 ? before.line.front() : before.line.back())).norm(), 1e-9);
    testing::NearSegments near(1);
    const auto old = testing::places_of(surface, before, 0.05);
    for (std::size_t i = 1; i < old.size(); ++i) near.add(old[i - 1].tip, old[i].tip);
    FrontPass now{.line = turn};
    for (const auto& place : testing::places_of(surface, now, 0.2))
      gaps.widest = std::max(gaps.widest, near.distance(place.tip, 5));
    before = now;
  }
  EXPECT_LE(gaps.widest, 1.02 * kStepover);
}

TEST(Rails, TrianglesDoNotMatter) {
  // The same form with other triangles: passes move by no more than the meshes differ.
  const auto form = [](double x, double y) { return (x * x - y * y) / 60; };
  const Box2 box(Vec2(-34, -24), Vec2(34, 24));
  const Rails rails = patch_rails({{{-30, -18}, {30, -18}},
                                   {{-28, 16}, {0, 20}, {27, 15}},
                                   {{-30, -18}, {-33, 0}, {-28, 16}},
                                   {{30, -18}, {31, 2}, {27, 15}}},
                                  kRailsApart);
  const TipSurface fine = ball_over(testing::sheet(box, 136, 96, form)),
                   coarse = ball_over(testing::sheet(box, 101, 77, form));
  const DividedRails a(fine, rails, kStepover), b(coarse, rails, kStepover);
  ASSERT_EQ(a.steps(), b.steps());
  double apart = 0, surfaces = 0;
  for (int k = 0; k <= a.steps(); ++k) {
    FrontPass pass{.line = b.pass(static_cast<double>(k) / a.steps())};
    testing::NearSegments near(1);
    for (std::size_t i = 1; i < pass.line.size(); ++i)
      near.add(with_z(pass.line[i - 1], 0), with_z(pass.line[i], 0));
    for (const Vec2& p : a.pass(static_cast<double>(k) / a.steps())) {
      apart = std::max(apart, near.distance(with_z(p, 0), 1));
      surfaces = std::max(surfaces, std::abs(fine.height(p) - coarse.height(p)));
    }
  }
  EXPECT_GT(surfaces, 0.001);
  EXPECT_LT(apart, surfaces);
}

TEST(Rails, UprightWallsDoNotCountAndAreTold) {
  Mesh step = testing::box_mesh(Box3(Vec3(-20, -20, -10), Vec3(20, 0.3, 0)));
  const Mesh upper = testing::box_mesh(Box3(Vec3(-20, 0.3, -10), Vec3(20, 20, 5)));
  for (const auto& t : upper.triangles) {
    const auto base = static_cast<std::int32_t>(step.points.size());
    for (const std::int32_t corner : t) step.points.push_back(upper.points[static_cast<std::size_t>(corner)]);
    step.triangles.push_back({base, base + 1, base + 2});
  }
  const DividedRails rails(
      ball_over(step), straight_rails({{-10, -12}, {10, -12}}, {{-10, 12}, {10, 12}}, false, 1), kStepover);
  // The ball rolls over the edge for the last 3 mm of 5.
  EXPECT_NEAR(rails.facts().highest_wall_mm, 2, 0.05);
  EXPECT_LT(rails.facts().longest_mm, 40);
}

}  // namespace yardpass
