// Carving along arcs against what the definition says.
#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <cmath>
#include <numbers>

#include "support/plain_cutters.h"
#include "support/rng.h"
#include "yardpass/stock/stock.h"

namespace yardpass {
namespace {

using testing::every_cutter;
using testing::PlainCutter;
using testing::Rng;

constexpr double kPi = std::numbers::pi;

/// Least distance in plan from a place to an arc about `centre`, by plain search.
double least_distance(const Vec2& place, const Vec2& centre, const Vec2& start, double turn) {
  const double radius = (start - centre).norm(),
               angle = std::atan2(start.y() - centre.y(), start.x() - centre.x());
  const auto far = [&](double share) {
    const double a = angle + share * turn;
    return (centre + radius * Vec2(std::cos(a), std::sin(a)) - place).norm();
  };
  constexpr int steps = 60;
  double best = std::min(far(0), far(1));
  for (int i = 1; i < steps; ++i) best = std::min(best, far(static_cast<double>(i) / steps));
  for (int i = 0; i < steps; ++i) {
    double low = static_cast<double>(i) / steps, high = static_cast<double>(i + 1) / steps;
    if (std::min(far(low), far(high)) > best + std::abs(turn) * radius / steps / 2) continue;
    for (int k = 0; k < 45; ++k) {
      const double t1 = low + (high - low) / 3, t2 = high - (high - low) / 3;
      best = std::min({best, far(t1), far(t2)});
      (far(t1) < far(t2) ? high : low) = far(t1) < far(t2) ? t2 : t1;
    }
  }
  return best;
}

TEST(CarveArcs, LevelOnesAreExactForEveryCutter) {
  const std::vector<PlainCutter> cutters = every_cutter();
  std::vector<Profile> profiles;
  for (const PlainCutter& cutter : cutters) profiles.push_back(cutter.profile);
  for (int seed = 1; seed <= testing::rounds(4); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    Stock stock(Box3(Vec3(0, 0, -4), Vec3(26, 20, 4)), 0.37);
    std::vector<Arc> arcs;
    std::vector<SweptMove> moves;
    for (int i = 0; i < 14; ++i) {
      const Vec2 centre(rng.uniform(-3, 29), rng.uniform(-3, 23));
      const double radius = i % 4 ? rng.uniform(0.2, 9) : rng.uniform(20, 60), angle = rng.uniform(0, 6.28);
      const double z = rng.uniform(-3, 4);
      const Vec3 start = with_z(centre + radius * Vec2(std::cos(angle), std::sin(angle)), z);
      arcs.push_back(Arc::in_plan(start, centre, i % 5 ? rng.uniform(-6.2, 6.2) : 2 * kPi, z));
    }
    for (std::size_t i = 0; i < arcs.size(); ++i)
      moves.push_back(
          {arcs[i].start, arcs[i].end, rng.pick(static_cast<int>(cutters.size())), true, &arcs[i]});
    carve(stock, profiles, moves);
    int lowered = 0;
    for (int row = 0; row < stock.rows(); ++row)
      for (int column = 0; column < stock.columns(); ++column) {
        const Vec2 p = stock.centre(column, row);
        double expected = 4;
        bool at_rim = false;
        for (std::size_t i = 0; i < arcs.size(); ++i) {
          const PlainCutter& cutter = cutters[static_cast<std::size_t>(moves[i].cutter)];
          const double far = least_distance(p, plan(arcs[i].centre), plan(arcs[i].start), arcs[i].turn_rad);
          at_rim = at_rim || std::abs(far - cutter.radius) < 1e-6;
          if (far <= cutter.radius) expected = std::min(expected, arcs[i].start.z() + cutter.height(far));
        }
        lowered += expected < 4;
        if (!at_rim)
          ASSERT_NEAR(stock.height(column, row), std::max(expected, -4.0), 1e-6)
              << "seed " << seed << " cell " << column << " " << row;
      }
    EXPECT_GT(lowered, 500);
  }
}

TEST(CarveArcs, HelicesAndUprightArcsAreWithinTheChordsTolerance) {
  Rng rng(5);
  for (int round = 0; round < testing::rounds(12); ++round) {
    const double tool = rng.uniform(1, 3), radius = rng.uniform(0.5, 6);
    Arc arc = Arc::in_plan({8 + radius, 8, 1}, {8, 8}, rng.uniform(-9, 9), 1 - rng.uniform(0.2, 4));
    if (round % 3 == 0) arc = {{8, 8, 1}, {8 + 2 * radius, 8, 1}, {8 + radius, 8, 1}, -kPi, ArcPlane::zx};
    Stock stock(Box3(Vec3(0, 0, -6), Vec3(20, 16, 4)), 0.43);
    const Profile ball = Profile::ball(2 * tool);
    const SweptMove move{arc.start, arc.end, 0, true, &arc};
    carve(stock, {&ball, 1}, {&move, 1});
    // A ball thicker by twice the tolerance takes at least as much, a thinner one no more.
    std::vector<Vec3> tips;
    for (int i = 0; i <= 4000; ++i) tips.push_back(arc.at(i / 4000.0));
    const auto lowest = [&](const Vec2& p, double r) {
      double low = 4;
      for (const Vec3& tip : tips) {
        const double far = (plan(tip) - p).norm();
        if (far <= r) low = std::min(low, tip.z() + tool - std::sqrt(r * r - far * far));
      }
      return std::max(low, -6.0);
    };
    for (int row = 0; row < stock.rows(); row += 3)
      for (int column = 0; column < stock.columns(); column += 3) {
        const Vec2 p = stock.centre(column, row);
        const double height = stock.height(column, row);
        EXPECT_GE(height, lowest(p, tool + 2e-4) - 1e-5) << round;
        EXPECT_LE(height, lowest(p, tool - 2e-4) + 1e-5) << round;
      }
  }
}

// A flat cutter of radius R winds down once around at radius a: a place at distance s from the middle keeps
// the height of the last passage over it, an angle acos((s^2 + a^2 - R^2) / (2 s a)) after its own.
TEST(CarveArcs, VolumeOfAHelixIsTheFormulas) {
  const double a = 8, tool = 3, depth = 4;
  double volume = 0;
  constexpr int steps = 200000;
  for (int i = 0; i < steps; ++i) {
    const double s = a - tool + 2 * tool * (i + 0.5) / steps;
    const double late = std::acos((s * s + a * a - tool * tool) / (2 * s * a));
    volume += s * (2 * kPi * kPi + 4 * kPi * late - 2 * late * late) * depth / (2 * kPi) * 2 * tool / steps;
  }
  const Arc arc = Arc::in_plan({a, 0, 0}, {0, 0}, 2 * kPi, -depth);
  const SweptMove move{arc.start, arc.end, 0, true, &arc};
  const Profile flat = Profile::flat(2 * tool);
  for (const double cell : {0.4, 0.2, 0.1}) {
    Stock stock(Box3(Vec3(-15, -15, -10), Vec3(15, 15, 0)), cell);
    const double before = stock.volume_mm3();
    carve(stock, {&flat, 1}, {&move, 1});
    const double wall = 2 * kPi * ((a + tool) + (a - tool)) * depth;
    EXPECT_NEAR(before - stock.volume_mm3(), volume, 0.5 * cell * wall);
  }
}

TEST(CarveArcs, LogsAndTestedBodiesFollowThemOnAnyNumberOfThreads) {
  const Arc level = Arc::in_plan({25, 12, -2}, {12, 12}, 1.5 * kPi, -2),
            helix = Arc::in_plan({12, -1, -2}, {12, 12}, -kPi, -3);
  const Profile cutters[] = {Profile::ball(4)};
  const SweptMove moves[] = {{level.start, level.end, 0, true, &level},
                             {helix.start, helix.end, 0, true, &helix}};
  // A collar 3 above the tip, wider than the ball: it meets the block's top, 0, where the helix is below -3.
  const TestedBody collar{0, Profile::flat(8), 2.5, true};
  std::vector<double> heights;
  for (const int threads : {1, 2}) {
    const tbb::global_control limit(tbb::global_control::max_allowed_parallelism,
                                    static_cast<std::size_t>(threads));
    Stock stock(Box3(Vec3(0, 0, -8), Vec3(24, 24, 0)), 0.1);
    CarveLog log;
    carve(stock, cutters, moves, &log, {}, {&collar, 1});
    EXPECT_EQ(log.removed, (std::vector<std::uint8_t>{1, 1}));
    ASSERT_EQ(log.meetings.size(), 1u);
    EXPECT_EQ(log.meetings[0].move, 1);
    EXPECT_NEAR(log.meetings[0].depth_mm, 0.5, 0.02);
    EXPECT_EQ(*std::max_element(log.last_cut.begin(), log.last_cut.end()), 1);
    const std::vector<double> now(stock.heights().begin(), stock.heights().end());
    if (heights.empty()) heights = now;
    EXPECT_EQ(heights, now);
  }
}

}  // namespace
}  // namespace yardpass
