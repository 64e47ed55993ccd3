// Parallel finishing.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/nasty.h"
#include "support/planning.h"
#include "yardpass/plan/trim.h"

namespace yardpass {
namespace {

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

// Waves along the passes and a slope across them.
ToolSurface wavy() {
  return testing::exact_surface(
      make_contact_part(testing::sheet(
          Box2(Vec2(-30, -30), Vec2(30, 30)), 120, 120,
          [](double x, double y) { return 3 * std::sin(x / 4) + 0.4 * std::cos(x) - 0.3 * y; })),
      testing::ball_tool(6));
}

TEST(Parallel, UpHillPassesOnlyRiseAndCoverTheSame) {
  const ToolSurface surface = wavy();
  const Region area = rectangle(Box2(Vec2(-20, -20), Vec2(20, 20)));
  const auto length_of = [](const std::vector<Cut>& cuts) {
    double sum = 0;
    for (const Cut& cut : cuts) sum += length(std::span<const Vec3>(cut.points));
    return sum;
  };
  ParallelOptions options{.angle_deg = 20, .stepover_mm = 1.5, .direction = PassDirection::one_way};
  const double whole = length_of(testing::parallel_cuts(surface, area, options));
  for (const bool up : {true, false}) {
    options.direction = up ? PassDirection::up_hill : PassDirection::down_hill;
    const auto cuts = testing::parallel_cuts(surface, area, options, 0.01);
    for (const Cut& cut : cuts) {
      double extreme = cut.points.front().z();
      for (const Vec3& p : cut.points) {
        EXPECT_GE(up ? p.z() - extreme : extreme - p.z(), -0.01 - 1e-9);
        extreme = up ? std::max(extreme, p.z()) : std::min(extreme, p.z());
      }
    }
    EXPECT_NEAR(length_of(cuts), whole, 1e-6);
  }
}

TEST(Parallel, TheFirstPassLiesWhereItIsAskedFor) {
  const ToolSurface surface = wavy();  // lower at high Y
  const Region area = rectangle(Box2(Vec2(-20, -20), Vec2(20, 20)));
  const auto first_y = [&](FirstPass first) {
    const auto cuts = testing::parallel_cuts(surface, area, {.stepover_mm = 1.5, .first = first});
    for (std::size_t i = 0; i < cuts.size(); ++i) EXPECT_EQ(cuts[i].pass, static_cast<std::int32_t>(i) + 1);
    // On the boundary itself, the first and the last.
    EXPECT_NEAR(std::abs(cuts.front().points.front().y()), 20, 0.001);
    EXPECT_NEAR(std::abs(cuts.back().points.front().y()), 20, 0.001);
    return cuts.front().points.front().y();
  };
  EXPECT_LT(first_y(FirstPass::near_side), 0);
  EXPECT_GT(first_y(FirstPass::far_side), 0);
  EXPECT_GT(first_y(FirstPass::low_side), 0);
  EXPECT_LT(first_y(FirstPass::high_side), 0);
}

TEST(Parallel, ClimbKeepsWhatIsStillToBeCutOnTheRight) {
  const ToolSurface surface = wavy();
  const Region area = rectangle(Box2(Vec2(-20, -20), Vec2(20, 20)));
  for (const double angle : {0.0, 50.0, 180.0})
    for (const FirstPass first : {FirstPass::near_side, FirstPass::far_side})
      for (const bool climb : {true, false}) {
        const auto cuts =
            testing::parallel_cuts(surface, area,
                                   {.angle_deg = angle,
                                    .stepover_mm = 1.5,
                                    .direction = climb ? PassDirection::climb : PassDirection::conventional,
                                    .first = first});
        const Vec2 on = plan(cuts[10].points.front()) - plan(cuts[9].points.front());
        const Vec2 way = plan(cuts[9].points.back()) - plan(cuts[9].points.front());
        EXPECT_EQ(cross2(way, on) < 0, climb) << "the next pass lies on the right";
      }
}

TEST(Parallel, ByContactTheOuterPassesTouchTheBorderItself) {
  // Passes along the slope touch a good way beside their axis.
  const ToolSurface surface = testing::exact_surface(
      make_contact_part(testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 20, 20,
                                       [](double x, double y) { return 0.6 * y + 0.1 * x; })),
      testing::ball_tool(8));
  const Region touched = rectangle(Box2(Vec2(-15, -11), Vec2(15, 12)));
  for (const bool on_border : {true, false}) {
    Bounds bounds{touched, {LimitBy::contact}};
    const CutPlan plan =
        cuts_within(bounds, surface, nullptr, 0.01, [&](const Site& site, const Progress& progress) {
          return cuts_of(ParallelOptions{.stepover_mm = 0.9, .on_border = on_border}, site, progress);
        }).plan;
    const auto cuts = testing::all_cuts(plan);
    const auto touch = [&](const Cut& cut) {
      return surface.touch(yardpass::plan(cut.points.front()))->point.y();
    };
    const double inside = on_border ? 0 : 0.44;
    EXPECT_NEAR(touch(cuts.front()), -11 + inside, on_border ? 0.001 : 0.01);
    EXPECT_NEAR(touch(cuts.back()), 12 - inside, on_border ? 0.001 : 0.01);
  }
}

TEST(Parallel, StaysInsideTheBoundaryAndItsHoles) {
  const auto part = make_contact_part(
      testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [](double, double) { return 0.0; }));
  const Region area{{{{-20, -20}, {20, -20}, {20, 20}, {-20, 20}}, {{-5, -5}, {5, -5}, {5, 5}, {-5, 5}}}};
  double length = 0;
  for (const Cut& cut : testing::parallel_cuts(testing::exact_surface(part, testing::flat_tool(6)), area,
                                               {.stepover_mm = 1})) {
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
  const auto part = make_contact_part(demo::bowl(40, 20, 60, 0.01));
  int calls = 0;
  EXPECT_THROW((void)testing::parallel_cuts(testing::exact_surface(part, testing::ball_tool(6)),
                                            rectangle(Box2(Vec2(-20, -20), Vec2(20, 20))), {.stepover_mm = 1},
                                            0.01, [&](double) { return ++calls < 3; }),
               Stopped);
}

TEST(Parallel, HeightsCutPasses) {
  const ToolSurface surface =
      testing::exact_surface(make_contact_part(weld(demo::bowl(30, 25, 80, 0.02))), testing::ball_tool(6));
  const Region area = rectangle(Box2(Vec2(-24, -24), Vec2(24, 24)));
  const ParallelOptions options{.stepover_mm = 2};
  const auto whole = testing::parallel_cuts(surface, area, options);
  const auto limited = testing::all_cuts(cuts_of(options, {surface, area, nullptr, 0.01, -3, -9}));
  double low = 0, high = -100, kept = 0, expected = 0;
  for (const Cut& cut : limited) {
    kept += length(std::span<const Vec3>(cut.points));
    for (const Vec3& p : cut.points) low = std::min(low, p.z()), high = std::max(high, p.z());
  }
  EXPECT_NEAR(low, -9, 1e-9);
  EXPECT_NEAR(high, -3, 1e-9);
  for (const Cut& cut : whole)
    for (const Polyline3& piece : between_heights(cut.points, -9, -3))
      expected += length(std::span<const Vec3>(piece));
  EXPECT_NEAR(kept, expected, 0.5) << "below the bottom a pass is not followed: chords end elsewhere";
  EXPECT_GT(limited.size(), whole.size()) << "passes fall into a left and a right piece";
}

TEST(Parallel, PiecesOfARowShareItsNumber) {
  const auto part = make_contact_part(
      testing::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [](double, double) { return 0.0; }));
  const ToolSurface surface = testing::exact_surface(part, testing::ball_tool(6));
  const Region ring = subtract(rectangle(Box2(Vec2(-10, -10), Vec2(10, 10))),
                               rectangle(Box2(Vec2(-4.5, -4.5), Vec2(4.5, 4.5))));
  std::int32_t last = 0;
  int split = 0;
  for (const Cut& cut : testing::parallel_cuts(surface, ring, {.stepover_mm = 1})) {
    EXPECT_TRUE(cut.pass == last || cut.pass == last + 1);
    split += cut.pass == last;
    last = cut.pass;
    EXPECT_NEAR(cut.points[0].y(), -10 + (cut.pass - 1) * 1.0, 0.01) << "rows count from the lowest";
  }
  EXPECT_EQ(last, 21);
  EXPECT_EQ(split, 9) << "rows across the hole fall into two";
}

}  // namespace
}  // namespace yardpass
