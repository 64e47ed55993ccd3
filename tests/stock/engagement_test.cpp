#include "yardpass/stock/engagement.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/rng.h"
#include "yardpass/stock/stock.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

Stock block(double cell = 0.1) { return Stock(Box3(Vec3(0, 0, -10), Vec3(60, 40, 0)), cell); }

struct Met {
  double least = 180, greatest = 0, mean = 0, nothing = 0, length = 0;
};
/// Over the middle of a line, away from where it enters the block.
Met along(EngagementMeter& meter, const Vec3& from, const Vec3& to, double skip) {
  Met met;
  meter.go(from, to, [&](const EngagementStep& step) {
    if ((step.to - from).norm() < skip || (step.to - to).norm() < skip) return;
    const double length = (step.to - step.from).norm();
    met.least = std::min(met.least, step.angle_deg), met.greatest = std::max(met.greatest, step.angle_deg);
    met.mean += length * step.angle_deg, met.length += length;
    if (!step.takes) met.nothing += length;
  });
  met.mean /= met.length;
  return met;
}

class EngagementOnAWall : public ::testing::TestWithParam<double> {};

/// A pass a stepover w into a straight side: cos phi = 1 - w / R, at the ring at the top of the step.
TEST_P(EngagementOnAWall, IsTheAngleOfItsStepover) {
  const double angle = GetParam();
  for (const auto& [cutter, ring] : {std::pair(Profile::flat(10), 5.0), std::pair(Profile::bull(10, 2), 5.0),
                                     std::pair(Profile::ball(10), std::sqrt(25.0 - 9.0))}) {
    EngagementMeter meter(block(), cutter);
    const double stepover = ring * (1 - std::cos(angle * kPi / 180));
    const Met met = along(meter, {-8, -ring + stepover, -2}, {68, -ring + stepover, -2}, 20);
    EXPECT_NEAR(met.mean, angle, 3) << ring;
    EXPECT_LT(met.greatest - met.least, 6) << ring;
    EXPECT_EQ(met.nothing, 0);
    meter.lift();
    const Met again = along(meter, {-8, -ring + stepover, -2}, {68, -ring + stepover, -2}, 20);
    EXPECT_EQ(again.greatest, 0) << "nothing is left to meet";
    EXPECT_NEAR(again.nothing, again.length, 0.02 * again.length);
  }
}
INSTANTIATE_TEST_SUITE_P(Angles, EngagementOnAWall, ::testing::Values(30.0, 45.0, 60.0, 90.0, 120.0));

TEST(Engagement, AFullSlotIsHalfATurn) {
  EngagementMeter meter(block(), Profile::flat(8));
  const Met met = along(meter, {-6, 20, -3}, {66, 20, -3}, 15);
  EXPECT_GT(met.least, 174);
}

/// A skin thinner than a hundredth of the radius is not seen, a thicker one is.
TEST(Engagement, SkinsUnderTheCutterCountFromAHundredthOfTheRadius) {
  for (const auto& [depth, seen] : {std::pair(0.03, false), std::pair(0.08, true)}) {
    EngagementMeter meter(block(), Profile::flat(10));
    const Met met = along(meter, {-8, 20, -depth}, {68, 20, -depth}, 20);
    EXPECT_EQ(met.greatest > 0, seen) << depth;
  }
}

TEST(Engagement, StraightDownHasNoAngle) {
  EngagementMeter meter(block(), Profile::flat(10));
  double greatest = 0;
  meter.go({30, 20, 5}, {30, 20, -5},
           [&](const EngagementStep& step) { greatest = std::max(greatest, step.angle_deg); });
  EXPECT_EQ(greatest, 0);
}

/// After a sharp turn the cutter does not meet what it has just cut, but for its last steps.
TEST(Engagement, BackAlongItsOwnWayItMeetsNothing) {
  EngagementMeter meter(block(), Profile::flat(10));
  meter.go({-8, -2.5, -2}, {40, -2.5, -2}, [](const EngagementStep&) {});
  const Met back = along(meter, {40, -2.5, -2}, {-8, -2.5, -2}, 1);
  EXPECT_EQ(back.greatest, 0);
}

/// Over hills and hollows and round corners it takes away what the cutter sweeps, all of it and no more.
TEST(Engagement, TakesWhatTheCutterSweeps) {
  for (const Profile& cutter :
       {Profile::ball(6), Profile::bull(8, 1.5), Profile::flat(5), Profile::ball(1)}) {
    const double radius = cutter.radius();
    for (std::uint64_t seed = 1; seed <= 8; ++seed) {
      testing::Rng rng(seed);
      const Stock before(Box3(Vec3(0, 0, -12), Vec3(30, 20, 0)), 0.1);
      EngagementMeter meter(before, cutter);
      std::vector<SweptMove> swept;
      Vec3 at(rng.uniform(5, 25), rng.uniform(5, 15), -4);
      double angle = rng.uniform(0, 6);
      for (int k = 0; k < 40; ++k) {
        // Gentle bends, now and then a corner or a way straight down.
        angle += rng.pick(6) == 0 ? rng.uniform(-3, 3) : rng.uniform(-0.25, 0.25);
        const double length = rng.uniform(0.02, 1) * radius;
        const double rise = rng.pick(4) == 0 ? 0 : rng.uniform(-0.9, 0.9);
        Vec3 to = at + length * Vec3(std::cos(angle), std::sin(angle), rise);
        if (rng.pick(12) == 0) to = at - Vec3(0, 0, 0.3 * radius);
        to = to.cwiseMax(Vec3(1, 1, -9)).cwiseMin(Vec3(29, 19, -0.2));
        meter.go(at, to, [](const EngagementStep&) {});
        swept.push_back({at, to, 0});
        at = to;
      }
      meter.lift();
      Stock after = before;
      carve(after, std::span(&cutter, 1), swept);
      double high = 0, low = 0, sum = 0;
      for (std::size_t i = 0; i < after.heights().size(); ++i) {
        const double off = meter.stock().heights()[i] - after.heights()[i];
        high = std::max(high, off), low = std::min(low, off), sum += std::abs(off);
      }
      EXPECT_GT(low, -0.02 * radius) << radius << ", " << seed;
      // At the very rim, where the cutter is upright, a step more or less is a height.
      EXPECT_LT(sum / static_cast<double>(after.heights().size()), 0.002 * radius)
          << radius << ", " << seed << ": " << high;
    }
  }
}

/// In a hollow of the way the corner itself is lowest.
TEST(Engagement, TakesAllOfAHollow) {
  const Profile cutter = Profile::ball(6);
  const Stock before = block();
  EngagementMeter meter(before, cutter);
  std::vector<SweptMove> swept;
  Vec3 at(10, 20, -1);
  for (const Vec3& to : {Vec3(15, 20, -5.5), Vec3(20, 20, -1), Vec3(25, 20, -6.5), Vec3(32, 20, -1)}) {
    meter.go(at, to, [](const EngagementStep&) {});
    swept.push_back({at, to, 0});
    at = to;
  }
  meter.lift();
  Stock after = before;
  carve(after, std::span(&cutter, 1), swept);
  double high = 0;
  for (int row = 0; row < after.rows(); ++row)
    for (int column = 0; column < after.columns(); ++column)
      if (std::abs(after.centre(column, row).y() - 20) < 1.5)
        high = std::max(high, meter.stock().height(column, row) - after.height(column, row));
  EXPECT_LT(high, 0.015);
}

}  // namespace
}  // namespace yardpass
