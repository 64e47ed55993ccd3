// Which ball reaches what, against the definition: ball centres on a fine grid, each judged by all corners
// and many points of the part.
#include <gtest/gtest.h>

#include <cmath>

#include "support/nasty.h"
#include "yardpass/survey/ball_reach.h"
#include "yardpass/survey/survey.h"

namespace yardpass {
namespace {

/// Steps, ramps and bumps on a grid of 1 mm.
Mesh rough_ground(testing::Rng& rng) {
  std::vector<double> heights(21 * 21);
  for (double& h : heights) h = rng.uniform(0, 1) < 0.3 ? rng.uniform(0, 4) : 0;
  return testing::sheet(Box2(Vec2(0, 0), Vec2(20, 20)), 20, 20, [&](double x, double y) {
    return heights[static_cast<std::size_t>(std::lround(y) * 21 + std::lround(x))];
  });
}

/// Least that a ball leaves at a place: over centres within a little more than its radius, lifted until free.
double least_left(const TipSurface& ball, const Vec3& place) {
  const double radius = ball.cutter().radius(), reach = radius + 0.3, step = 0.04;
  double least = INFINITY;
  for (double dx = -reach; dx <= reach; dx += step)
    for (double dy = -reach; dy <= reach; dy += step) {
      const Vec2 centre = plan(place) + Vec2(dx, dy);
      const double height = ball.height(centre) + radius;
      least = std::min(least, std::hypot(std::hypot(dx, dy), std::max(0.0, height - place.z())) - radius);
    }
  return least;
}

TEST(ReachProbe, AgreesWithASearchOverAllCentres) {
  int reached = 0, missed = 0, from_beyond = 0;
  for (int seed = 1; seed <= testing::rounds(4); ++seed) {
    testing::Rng rng(static_cast<std::uint64_t>(seed));
    const auto part = make_contact_part(rough_ground(rng));
    const Mesh& mesh = part->mesh();
    const double tolerance = 0.05;
    const ReachProbe probe(part, {3}, tolerance);
    const TipSurface ball(part, Profile::ball(3));
    for (int i = 0; i < 60; ++i) {
      const auto t = static_cast<std::size_t>(rng.pick(static_cast<int>(mesh.triangles.size())));
      double u = rng.uniform(0.05, 0.95), v = rng.uniform(0.05, 0.95);
      if (u + v > 1) u = 1 - u, v = 1 - v;
      const Vec3 place = mesh.corner(t, 0) + u * (mesh.corner(t, 1) - mesh.corner(t, 0)) +
                         v * (mesh.corner(t, 2) - mesh.corner(t, 0));
      const double left = least_left(ball, place);
      if (std::abs(left - tolerance) < 0.03) continue;  // the grid of centres cannot tell
      const bool found = probe.count_reaching(place, unit_normal(mesh, t), static_cast<std::int32_t>(t)) == 1;
      EXPECT_FALSE(found && left > tolerance) << "seed " << seed << ", at " << place.transpose();
      // Within the tolerance of an outer edge a ball may come from beyond it; the probe does not look there.
      from_beyond += !found && left < tolerance;
      (found ? reached : missed) += 1;
    }
  }
  EXPECT_LE(from_beyond, (reached + missed) / 50);
  EXPECT_GT(reached, 40);
  EXPECT_GT(missed, 40);
}

TEST(ReachProbe, SmallerBallsReachAtLeastAsMuch) {
  for (int kind = 0; kind < testing::kNastyKinds; ++kind) {
    testing::Rng rng(static_cast<std::uint64_t>(kind) + 20);
    const auto part = make_contact_part(testing::nasty_part(rng, kind));
    const std::vector<double> diameters{0.4, 1, 2, 4};
    for (const SurfaceSample& sample : sample_surface(part, 40)) {
      if (sample.sight != SurfaceSample::Sight::seen) continue;
      // One by one, without the search by halves that takes it for granted.
      std::size_t last = diameters.size();
      for (std::size_t k = diameters.size(); k-- > 0;) {
        const ReachProbe one(part, {diameters[k]}, 0.02);
        if (one.count_reaching(sample.at, sample.normal, sample.triangle) == 1) {
          last = k;
          break;
        }
      }
      if (last == diameters.size()) continue;
      for (std::size_t k = 0; k < last; ++k) {
        // The smaller ball inside the larger one leaves no more; a hair of tolerance for the search.
        const ReachProbe one(part, {diameters[k]}, 0.022);
        EXPECT_EQ(one.count_reaching(sample.at, sample.normal, sample.triangle), 1u)
            << testing::nasty_name(kind) << " " << diameters[k] << " at " << sample.at.transpose();
      }
    }
  }
}

TEST(Samples, StandForTheWholeSurfaceWhateverTheTriangles) {
  for (int kind = 0; kind < testing::kNastyKinds; ++kind) {
    testing::Rng rng(static_cast<std::uint64_t>(kind) + 3);
    const auto part = make_contact_part(testing::nasty_part(rng, kind));
    double whole = 0, sum = 0;
    for (std::size_t t = 0; t < part->mesh().triangles.size(); ++t)
      whole += 0.5 * (part->mesh().corner(t, 1) - part->mesh().corner(t, 0))
                         .cross(part->mesh().corner(t, 2) - part->mesh().corner(t, 0))
                         .norm();
    for (const SurfaceSample& sample : sample_surface(part, 500)) sum += sample.area_mm2;
    EXPECT_NEAR(sum, whole, 1e-6 * (1 + whole)) << testing::nasty_name(kind);
  }
}

}  // namespace
}  // namespace yardpass
