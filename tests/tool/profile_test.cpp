#include "yardpass/tool/profile.h"

#include <gtest/gtest.h>

#include <cmath>

#include "support/rng.h"
#include "yardpass/geom/error.h"
#include "yardpass/tool/segment_touch.h"
#include "yardpass/tool/tool.h"

namespace yardpass {
namespace {

using testing::Rng;

std::vector<Profile> all_shapes() {
  return {Profile::flat(10),
          Profile::ball(6),
          Profile::bull(8, 1.5),
          Profile::taper(2, 5, 1, 20),
          Profile::taper(4, 10, 0.5, 15),
          Profile::taper(3, 30, 0, 6),
          Profile::chamfer(8, 45, 1),
          Profile::chamfer(6, 30, 0)};
}

TEST(Profile, NeighbouringShapesAgree) {
  for (double r = 0; r <= 4; r += 0.1) {
    EXPECT_NEAR(Profile::bull(8, 4).height(r), Profile::ball(8).height(r), 1e-15);
    EXPECT_EQ(Profile::bull(8, 0).height(r), Profile::flat(8).height(r));
    EXPECT_NEAR(Profile::bull(8, 1e-9).height(r), 0, 2e-9);
    EXPECT_EQ(Profile::taper(8, 0, 1, 20).height(r), Profile::bull(8, 1).height(r));
    EXPECT_NEAR(Profile::bull(8, 4 - 1e-9).height(r), Profile::ball(8).height(r), 1e-4);
  }
  EXPECT_TRUE(Profile::ball(6).is_ball());
  EXPECT_FALSE(Profile::bull(6, 1).is_ball());
}

TEST(Profile, IsConvexAndItsSlopesRise) {
  for (const Profile& profile : all_shapes()) {
    const double step = profile.radius() / 500;
    for (double r = step; r < profile.radius() - step; r += step)
      EXPECT_GE(profile.height(r - step) + profile.height(r + step), 2 * profile.height(r) - 1e-12);
  }
}

TEST(Profile, TouchingPlaneIsTheBestOfAllPlaces) {
  for (const Profile& profile : all_shapes()) {
    for (const double m : {0.0, 0.01, 0.3, 1.0, 1.7, 5.0, 11.5, 80.0, 1e6}) {
      const double r = profile.radius_at_slope(m), best = m * r - profile.height(r);
      for (int i = 0; i <= 2000; ++i) {
        const double other = profile.radius() * i / 2000;
        EXPECT_LE(m * other - profile.height(other), best + 1e-9 * (1 + m));
      }
    }
  }
}

TEST(Profile, SectionTouchIsTheBestOfAllPlaces) {
  Rng rng(3);
  for (const Profile& profile : all_shapes()) {
    for (int round = 0; round < 200; ++round) {
      const double d = profile.radius() * rng.uniform(0, 0.9999),
                   m = std::pow(10, rng.uniform(-3, 3)) * (rng.pick(2) ? 1 : -1);
      const double half = std::sqrt(profile.radius() * profile.radius() - d * d);
      const auto value = [&](double s) {
        return m * s - profile.height(std::min(profile.radius(), std::hypot(d, s)));
      };
      const double s = profile.along_at_slope(d, m);
      ASSERT_LE(std::abs(s), half + 1e-12);
      for (int i = 0; i <= 500; ++i)
        ASSERT_LE(value(half * (i / 250.0 - 1)), value(s) + 1e-9 * (1 + std::abs(m)));
    }
  }
}

/// Growth by definition: every point of the new surface lies exactly `by` from the old solid.
TEST(Resized, GrownSurfaceIsThatFarFromTheOld) {
  for (const Profile& profile : all_shapes()) {
    const Resized grown = *resized(profile, 0.4);
    EXPECT_NEAR(grown.tip_z_mm, -0.4, 1e-12);
    EXPECT_NEAR(grown.profile.radius(), profile.radius() + 0.4, 1e-12);
    for (int i = 0; i < 300; ++i) {
      const double r = grown.profile.radius() * i / 300, z = grown.profile.height(r) + grown.tip_z_mm;
      double nearest = 1e9;
      for (int k = 0; k <= 40000; ++k) {
        const double q = profile.radius() * k / 40000;
        nearest = std::min(nearest, std::hypot(r - q, z - profile.height(q)));
      }
      const double top = profile.height(profile.radius());
      if (z > top) nearest = std::min(nearest, r - profile.radius());
      EXPECT_NEAR(nearest, 0.4, 2e-3 * 0.4);
    }
  }
}

TEST(Resized, ShrinkingUndoesGrowing) {
  for (const Profile& profile : all_shapes()) {
    for (const double by : {1e-6, 0.01, 0.35}) {
      const Resized grown = *resized(profile, by);
      const Resized back = *resized(grown.profile, -by);
      EXPECT_NEAR(back.profile.radius(), profile.radius(), 1e-12);
      EXPECT_NEAR(grown.tip_z_mm + back.tip_z_mm, 0, 1e-9);
      for (double r = 0; r < profile.radius(); r += 0.01)
        EXPECT_NEAR(back.profile.height(r), profile.height(r), 1e-7);
    }
  }
}

/// Shrunk by definition: from each point of the new surface the old one is at least `by` away, and just so.
TEST(Resized, ShrunkSurfaceIsThatDeepInTheOld) {
  for (const Profile& profile : all_shapes()) {
    for (const double by : {0.2, 0.8}) {
      const auto shrunk = resized(profile, -by);
      if (!shrunk) continue;
      for (int i = 0; i < 200; ++i) {
        const double r = shrunk->profile.radius() * i / 200, z = shrunk->profile.height(r) + shrunk->tip_z_mm;
        double nearest = profile.radius() - r;  // the side
        for (int k = 0; k <= 40000; ++k) {
          const double q = profile.radius() * k / 40000;
          nearest = std::min(nearest, std::hypot(r - q, z - profile.height(q)));
        }
        EXPECT_NEAR(nearest, by, 2e-3);
      }
    }
  }
  EXPECT_FALSE(resized(Profile::ball(6), -3).has_value());
  EXPECT_TRUE(resized(Profile::ball(6), -2.999).has_value());
}

TEST(Profile, RefusesWhatIsNoCutter) {
  EXPECT_THROW((void)Profile::ball(0), Error);
  EXPECT_THROW((void)Profile::bull(6, 4), Error);
  EXPECT_THROW((void)Profile::taper(6, 95, 0, 10), Error);
  EXPECT_THROW((void)Profile::chamfer(6, 45, 7), Error);
  // A dent: steep, then flat.
  try {
    (void)Profile::from_pieces({{0, 0, 1, 2, 2, 2}, {1, 2, 2, 2.5, 0.5, 0.5}});
    FAIL();
  } catch (const Error& error) {
    EXPECT_NE(std::string(error.what()).find("piece 2"), std::string::npos);
  }
}

TEST(Profile, OutlinesMakeTheSameCutters) {
  const Profile::OutlinePoint bull[] = {{2.5, 0}, {4, 1.5, 1.5}}, ball[] = {{3, 3, 3}};
  const Profile by_outline = Profile::from_outline(bull), direct = Profile::bull(8, 1.5);
  for (double r = 0; r <= 4; r += 0.05) EXPECT_NEAR(by_outline.height(r), direct.height(r), 1e-9);
  EXPECT_TRUE(Profile::from_outline(ball).is_ball());
  const auto refused = [](std::vector<Profile::OutlinePoint> points) -> std::string {
    try {
      (void)Profile::from_outline(points);
      return "accepted";
    } catch (const Error& error) {
      return error.what();
    }
  };
  EXPECT_EQ(refused({}), "an outline needs at least one point");
  EXPECT_NE(refused({{1, 1}, {2, 1.5}}).find("outline point 2: is reached less steeply"), std::string::npos);
  EXPECT_NE(refused({{1, 0}, {0.5, 1}}).find("outline point 2: must lie farther out"), std::string::npos);
  EXPECT_NE(refused({{1, 0}, {2, -1}}).find("outline point 2"), std::string::npos);
  EXPECT_NE(refused({{1, 0}, {5, 4, 2}}).find("too small"), std::string::npos);
}

TEST(Tool, MissingValuesFollowTheRules) {
  const Tool tool = completed({.diameter_mm = 6, .feed_mm_min = 1800});
  EXPECT_EQ(tool.plunge_feed_mm_min, 600);
  EXPECT_EQ(tool.ramp_feed_mm_min, 900);
  EXPECT_EQ(tool.link_feed_mm_min, 1800);
  EXPECT_EQ(tool.shank_diameter_mm, 6);
  EXPECT_EQ(tool.stickout_mm, 24);
  EXPECT_EQ(tool.flute_length_mm, 12);
}

TEST(Tool, UndercutCuttersHaveANeckAndTheOutlineOfTheirUnderside) {
  const Tool lollipop =
      completed({.shape = Shape::lollipop, .diameter_mm = 10, .stickout_mm = 40, .feed_mm_min = 900});
  EXPECT_TRUE(lollipop.undercuts());
  EXPECT_EQ(lollipop.neck_diameter_mm, 5);
  EXPECT_NEAR(lollipop.flute_length_mm, 5 + std::sqrt(25 - 6.25), 1e-12) << "where the ball meets its neck";
  EXPECT_NEAR(lollipop.flute_length_mm + lollipop.neck_length_mm, 40, 1e-12);
  EXPECT_TRUE(profile_of(lollipop).is_ball());
  const Tool disc = completed({.shape = Shape::tslot,
                               .diameter_mm = 20,
                               .corner_radius_mm = 1,
                               .flute_length_mm = 5,
                               .feed_mm_min = 900});
  EXPECT_TRUE(disc.undercuts());
  EXPECT_EQ(profile_of(disc).height(9.5), Profile::bull(20, 1).height(9.5));
  EXPECT_FALSE(completed({.diameter_mm = 6}).undercuts());
}

TEST(SweptHeight, OfABallAlongASlope) {
  // The ball's envelope along a straight move is a cylinder: beside the path it is the circle tilted by the
  // slope.
  const Profile ball = Profile::ball(6);
  const Vec3 a(0, 0, 0), b(40, 0, 20);
  const double m = 0.5, w = std::sqrt(1 + m * m);
  for (double d = -2.9; d < 3; d += 0.1) {
    const double axis = 3 + m * 20;  // height of the ball's middle above x = 20
    EXPECT_NEAR(swept_height(ball, {20, d}, a, b), axis - std::sqrt(9 - d * d) * w, 1e-12);
  }
  EXPECT_EQ(swept_height(ball, {20, 3.1}, a, b), std::numeric_limits<double>::infinity());
}

}  // namespace
}  // namespace yardpass
