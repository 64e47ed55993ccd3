#include "yardpass/geom/arc.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/nasty.h"
#include "yardpass/geom/error.h"

namespace yardpass {
namespace {

constexpr double kPi = std::numbers::pi;

/// Distance from a point to a polyline.
double beside(const std::vector<Vec3>& line, const Vec3& p) {
  double best = 1e300;
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const Vec3 along = line[i + 1] - line[i];
    const double t = std::clamp((p - line[i]).dot(along) / std::max(along.squaredNorm(), 1e-300), 0.0, 1.0);
    best = std::min(best, (line[i] + t * along - p).norm());
  }
  return best;
}

TEST(Arc, TurnsTheWayItsPlaneSays) {
  const Arc plan_arc = Arc::in_plan({2, 0, 1}, {0, 0}, kPi / 2, 1);
  EXPECT_LT((plan_arc.end - Vec3(0, 2, 1)).norm(), 1e-12);
  EXPECT_LT((plan_arc.direction(0) - Vec3(0, 1, 0)).norm(), 1e-12);
  EXPECT_NEAR(plan_arc.length(), kPi, 1e-12);
  // Seen from +Y the axes of G18 are Z to the right and X up; from +X those of G19 are Y and Z.
  const Arc upright{{0, 5, 2}, {2, 5, 0}, {0, 0, 0}, kPi / 2, ArcPlane::zx};
  EXPECT_LT((upright.at(0.5) - Vec3(std::sqrt(2), 5, std::sqrt(2))).norm(), 1e-12);
  const Arc sideways{{5, 2, 0}, {5, 0, 2}, {0, 0, 0}, kPi / 2, ArcPlane::yz};
  EXPECT_LT((sideways.at(0.5) - Vec3(5, std::sqrt(2), std::sqrt(2))).norm(), 1e-12);
}

TEST(Arc, ItsBoxHoldsItAndNoMore) {
  testing::Rng rng(11);
  for (int round = 0; round < 600; ++round) {
    const auto plane = static_cast<ArcPlane>(round % 3);
    const PlaneAxes axes = axes_of(plane);
    const double radius = std::exp(rng.uniform(-3, 7)), first = rng.uniform(-4, 4),
                 turn = round % 7 ? rng.uniform(-7, 7) : std::copysign(2 * kPi, rng.uniform(-1, 1));
    Arc arc{{}, {}, Vec3(rng.uniform(-9, 9), rng.uniform(-9, 9), rng.uniform(-9, 9)), turn, plane};
    arc.start = arc.end = arc.centre;
    arc.start[axes.first] += radius * std::cos(first), arc.start[axes.second] += radius * std::sin(first);
    arc.end[axes.first] += radius * std::cos(first + turn),
        arc.end[axes.second] += radius * std::sin(first + turn);
    arc.end[arc.axis()] += rng.uniform(-3, 3);
    const Box3 box = arc.box();
    Box3 seen;
    constexpr int kPlaces = 4000;
    for (int i = 0; i <= kPlaces; ++i) seen.extend(arc.at(static_cast<double>(i) / kPlaces));
    const double eps = 1e-9 * (1 + radius), step = std::abs(turn) / kPlaces;
    EXPECT_TRUE((box.min() - seen.min()).maxCoeff() <= eps && (seen.max() - box.max()).maxCoeff() <= eps);
    EXPECT_LE((box.sizes() - seen.sizes()).maxCoeff(), eps + 2 * radius * step * step);
  }
}

TEST(Arc, ChordsKeepTheSagittaAndTheEnds) {
  testing::Rng rng(3);
  for (int round = 0; round < 300; ++round) {
    const double radius = rng.uniform(0.05, 40), angle = rng.uniform(0, 6.28);
    const Vec3 centre(rng.uniform(-9, 9), rng.uniform(-9, 9), rng.uniform(-9, 9));
    Arc arc = Arc::in_plan(centre + radius * Vec3(std::cos(angle), std::sin(angle), 0), plan(centre),
                           rng.uniform(-12, 12), centre.z() + (round % 3 ? 0.0 : rng.uniform(-3, 3)));
    if (round % 2)  // its ends not equally far from the axis, as rounding makes them
      arc.end += rng.uniform(-1e-3, 1e-3) * with_z(plan(arc.end) - plan(centre), 0);
    const double sagitta = round % 5 ? 1e-3 : 0.05;
    const auto points = chord_points(arc, sagitta);
    EXPECT_EQ(points.front(), arc.start);
    EXPECT_EQ(points.back(), arc.end);
    double worst = 0, length = 0;
    Vec3 before = arc.start;
    for (int i = 1; i <= 2000; ++i) {
      const Vec3 here = arc.at(i / 2000.0);
      if (i % 20 == 7) worst = std::max(worst, beside(points, here));
      length += (here - before).norm();
      if (i > 1 && i < 2000) EXPECT_GT(arc.direction((i - 0.5) / 2000).dot(here - before), 0);
      before = here;
    }
    EXPECT_LE(worst, sagitta) << round;
    // Not many more than are needed.
    const double least = std::abs(arc.turn_rad) / (2 * std::acos(std::max(0.0, 1 - sagitta / radius)));
    EXPECT_LT(static_cast<double>(points.size()), 1.2 * least + 12) << round;
    EXPECT_NEAR(length, arc.length(), 1e-3 * length + 1e-6) << round;
  }
  EXPECT_THROW((void)chord_points(Arc{}, 0), Error);
}

}  // namespace
}  // namespace yardpass
