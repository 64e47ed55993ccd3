// The tip surface against the definition, against surfaces with formulas, and against itself by other routes.
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "support/definition.h"
#include "support/nasty.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass {
namespace {

using testing::Rng;
using testing::RoundedDisc;

constexpr double kWithin = 1e-6;  // of the search in the definition; the library promises more

struct AnyCutter {
  Profile profile;
  RoundedDisc solid;
};

AnyCutter any_cutter(Rng& rng) {
  const double radius = rng.uniform(0.3, 4);
  switch (rng.pick(3)) {
    case 0:
      return {Profile::ball(2 * radius), {0, radius}};
    case 1:
      return {Profile::flat(2 * radius), {radius, 0}};
    default: {
      const double corner = rng.uniform(0.05, 0.95) * radius;
      return {Profile::bull(2 * radius, corner), {radius - corner, corner}};
    }
  }
}

struct Case {
  Mesh mesh;
  AnyCutter cutter;
  Vec2 place;
};

Case any_case(int seed) {
  Rng rng(static_cast<std::uint64_t>(seed));
  Mesh mesh = testing::nasty_part(rng, seed % testing::kNastyKinds);
  AnyCutter cutter = any_cutter(rng);
  const Vec2 place = testing::aim(rng, mesh, cutter.solid.radius());
  return {std::move(mesh), std::move(cutter), place};
}

std::string words(int seed, const Case& c) {
  return "seed " + std::to_string(seed) + ", " + testing::nasty_name(seed % testing::kNastyKinds) +
         ", disc " + std::to_string(c.cutter.solid.disc) + " corner " +
         std::to_string(c.cutter.solid.corner) + " at " + std::to_string(c.place.x()) + " " +
         std::to_string(c.place.y()) + "\n" + testing::to_text(c.mesh);
}

// Blind spot: a wrong height() of the profile that agrees with the one of the definition for these three
// shapes.
TEST(Touch, NeverGougesNeverFloats) {
  int touched = 0;
  for (int seed = 1; seed <= testing::rounds(1800); ++seed) {
    const Case c = any_case(seed);
    SCOPED_TRACE(words(seed, c));
    const TipSurface surface(make_contact_part(c.mesh), c.cutter.profile);
    const double z = surface.height(c.place);
    const double thin = stand_off(c.cutter.solid.grown(-kWithin), c.place, c.mesh);
    const double thick = stand_off(c.cutter.solid.grown(kWithin), c.place, c.mesh);
    EXPECT_GE(z, thin - 1e-9);
    if (z != kNothingBelow) EXPECT_LE(z, thick + 1e-9);
    touched += z != kNothingBelow;
  }
  EXPECT_GT(touched, testing::rounds(1800) / 2);
}

TEST(Touch, IndexGivesTheSameBitsAsEveryTriangle) {
  for (int seed = 1; seed <= testing::rounds(3000); ++seed) {
    const Case c = any_case(seed);
    const auto part = make_contact_part(c.mesh);
    const TipSurface fast(part, c.cutter.profile), plain(part, c.cutter.profile, {.brute_force = true});
    const auto a = fast.touch(c.place), b = plain.touch(c.place);
    ASSERT_EQ(a.has_value(), b.has_value()) << words(seed, c);
    if (!a) continue;
    EXPECT_EQ(a->height, b->height) << words(seed, c);
    EXPECT_EQ(a->triangle, b->triangle) << words(seed, c);
    EXPECT_EQ(a->point, b->point) << words(seed, c);
  }
}

TEST(Touch, OrderAndFacingDoNotMatter) {
  for (int seed = 1; seed <= testing::rounds(500); ++seed) {
    const Case c = any_case(seed);
    Mesh turned = c.mesh;
    std::reverse(turned.triangles.begin(), turned.triangles.end());
    for (auto& t : turned.triangles) t = {t[1], t[0], t[2]};
    const TipSurface one(make_contact_part(c.mesh), c.cutter.profile),
        two(make_contact_part(turned), c.cutter.profile);
    const double z = one.height(c.place);
    if (z == kNothingBelow) {
      EXPECT_EQ(two.height(c.place), z);
      continue;
    }
    // Beside walls Z is ill-posed, so compare in space: the other one's position must touch without gouging.
    const Vec3 tip = with_z(c.place, two.height(c.place));
    EXPECT_GE(room_around(one, tip, tip, 1e-3), -2e-9) << words(seed, c);
    EXPECT_LE(room_around(one, tip, tip, 1e-3), 2e-9) << words(seed, c);
  }
}

TEST(Touch, SplittingTrianglesDoesNotMatter) {
  for (int seed = 1; seed <= testing::rounds(400); ++seed) {
    const Case c = any_case(seed);
    Rng rng(static_cast<std::uint64_t>(seed) + 77777);
    Mesh split;
    for (std::size_t i = 0; i < c.mesh.triangles.size(); ++i) {
      const Vec3 &p = c.mesh.corner(i, 0), &q = c.mesh.corner(i, 1), &r = c.mesh.corner(i, 2);
      const Vec3 middle = p + rng.uniform(0.2, 0.8) * (q - p);
      const auto first = static_cast<std::int32_t>(split.points.size());
      split.points.insert(split.points.end(), {p, q, r, middle});
      split.triangles.push_back({first, first + 3, first + 2});
      split.triangles.push_back({first + 3, first + 1, first + 2});
    }
    const TipSurface whole(make_contact_part(c.mesh), c.cutter.profile),
        parts(make_contact_part(split), c.cutter.profile);
    const double z = parts.height(c.place);
    if (z == kNothingBelow || whole.height(c.place) == kNothingBelow) continue;
    const Vec3 tip = with_z(c.place, z);
    EXPECT_NEAR(room_around(whole, tip, tip, 1e-3), 0, 2e-9)  // half of it is the bisection's
        << words(seed, c);
  }
}

TEST(Touch, RaisingThePartRaisesTheResult) {
  for (int seed = 1; seed <= testing::rounds(400); ++seed) {
    const Case c = any_case(seed);
    Mesh raised = c.mesh;
    for (Vec3& p : raised.points) p.z() += 0.25;
    const double low = TipSurface(make_contact_part(c.mesh), c.cutter.profile).height(c.place);
    const double high = TipSurface(make_contact_part(raised), c.cutter.profile).height(c.place);
    if (low == kNothingBelow)
      EXPECT_EQ(high, low);
    else
      EXPECT_NEAR(high - low, 0.25, 1e-7) << words(seed, c);
  }
}

TEST(Touch, ConcaveOverOneTriangle) {
  for (int seed = 1; seed <= testing::rounds(2000); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    const Mesh mesh = testing::nasty_part(rng, 0);
    const AnyCutter cutter = any_cutter(rng);
    const TipSurface surface(make_contact_part(mesh), cutter.profile);
    const Vec2 a = testing::aim(rng, mesh, cutter.solid.radius()),
               b = a + Vec2(rng.uniform(-3, 3), rng.uniform(-3, 3));
    for (std::int32_t t = 0; t < 3; ++t) {
      const double at_a = surface.height_over(t, a), at_b = surface.height_over(t, b);
      if (at_a == kNothingBelow || at_b == kNothingBelow) continue;
      EXPECT_GE(surface.height_over(t, 0.5 * (a + b)), 0.5 * (at_a + at_b) - 1e-9) << "seed " << seed;
    }
  }
}

TEST(Touch, OnPlanes) {
  for (const double slope : {0.0, 0.3, 1.0, 4.0}) {
    const double turn = 0.7, gx = slope * std::cos(turn), gy = slope * std::sin(turn),
                 w = std::sqrt(1 + slope * slope);
    const auto part = make_contact_part(testing::sheet(
        Box2(Vec2(-30, -30), Vec2(30, 30)), 7, 9, [&](double x, double y) { return gx * x + gy * y + 2; }));
    const Vec2 place(1.25, -2.5);
    const double plane = gx * place.x() + gy * place.y() + 2;
    EXPECT_NEAR(TipSurface(part, Profile::ball(6)).height(place), plane + 3 * (w - 1), 1e-12);
    EXPECT_NEAR(TipSurface(part, Profile::flat(6)).height(place), plane + 3 * slope, 1e-12);
    EXPECT_NEAR(TipSurface(part, Profile::bull(6, 1)).height(place), plane + 2 * slope + 1 * (w - 1), 1e-12);
    EXPECT_NEAR(TipSurface(part, Profile::needle()).height(place), plane, 1e-12);
    const auto touch = TipSurface(part, Profile::ball(6)).touch(place);
    EXPECT_NEAR((touch->normal - Vec3(-gx, -gy, 1) / w).norm(), 0, 1e-9);
  }
}

/// Points at most `error` inside a surface with formula bound the height from both sides.
TEST(Touch, OnSphereCylinderAndTorus) {
  const double big = 10, ball = 3;
  // Dome: the middle of the ball lies big + ball from the middle of the sphere, less at most the chord error.
  const int cells = 240;
  const double side = 8.0 / cells * 2, error = 3 * side * side / (4 * big);  // squares stretch on slopes
  const auto dome =
      make_contact_part(testing::sheet(Box2(Vec2(-8, -8), Vec2(8, 8)), cells, cells, [&](double x, double y) {
        return std::sqrt(std::max(0.0, big * big - x * x - y * y));
      }));
  const auto bowl =
      make_contact_part(testing::sheet(Box2(Vec2(-8, -8), Vec2(8, 8)), cells, cells, [&](double x, double y) {
        return -std::sqrt(std::max(0.0, big * big - x * x - y * y));
      }));
  const auto pipe =
      make_contact_part(testing::sheet(Box2(Vec2(-8, -8), Vec2(8, 8)), cells, cells,
                                       [&](double x, double) { return std::sqrt(big * big - x * x); }));
  // Torus with its axis along Z: tube radius 2 around a circle of radius 6, upper half.
  const auto torus_height = [](double x, double y) {
    const double off = std::hypot(x, y) - 6;
    return std::abs(off) < 2 ? std::sqrt(4 - off * off) : 0.0;
  };
  const auto torus =
      make_contact_part(testing::sheet(Box2(Vec2(-9, -9), Vec2(9, 9)), 600, 600, torus_height));
  Rng rng(5);
  for (int i = 0; i < 200; ++i) {
    const Vec2 p(rng.uniform(-3, 3), rng.uniform(-3, 3));
    const double tip_on_dome = TipSurface(dome, Profile::ball(2 * ball)).height(p);
    EXPECT_LE(with_z(p, tip_on_dome + ball).norm(), big + ball + 1e-9);
    EXPECT_GE(with_z(p, tip_on_dome + ball).norm(), big + ball - error);
    const double tip_in_bowl = TipSurface(bowl, Profile::ball(2 * ball)).height(p);
    EXPECT_GE(with_z(p, tip_in_bowl + ball).norm(), big - ball - error - 1e-9);
    EXPECT_LE(with_z(p, tip_in_bowl + ball).norm(), big - ball + error);
    const double tip_on_pipe = TipSurface(pipe, Profile::ball(2 * ball)).height(p);
    EXPECT_NEAR(std::hypot(p.x(), tip_on_pipe + ball), big + ball, error);
    // A flat end stands on the highest point below it: of the dome, the one nearest to the top.
    const double nearest = std::max(0.0, p.norm() - ball);
    EXPECT_NEAR(TipSurface(dome, Profile::flat(2 * ball)).height(p), std::sqrt(big * big - nearest * nearest),
                error * 2);
    // On the torus's crest the ball's middle is 2 + ball above the circle in the middle of the tube.
    const Vec2 on_crest = 6 * p.normalized();
    EXPECT_NEAR(TipSurface(torus, Profile::ball(2 * ball)).height(on_crest), 2, 1e-3);
    const Vec2 beside = 7 * p.normalized();
    const double across = std::sqrt((2 + ball) * (2 + ball) - 1);
    EXPECT_NEAR(TipSurface(torus, Profile::ball(2 * ball)).height(beside), across - ball, 2e-3);
    // In its middle the ball sinks until it touches all round: tube distance 6 = horizontal leg.
    if (i == 0)
      EXPECT_NEAR(TipSurface(torus, Profile::ball(40)).height({0, 0}), std::sqrt(22.0 * 22 - 36) - 20, 2e-3);
  }
}

TEST(Touch, NothingBelow) {
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(1, 1, 1))));
  const TipSurface surface(part, Profile::ball(2));
  EXPECT_FALSE(surface.touch({5, 5}).has_value());
  EXPECT_EQ(surface.height({5, 5}), kNothingBelow);
  EXPECT_EQ(surface.clearance({5, 5, -100}, {6, 5, -100}).triangle, -1);
  EXPECT_FALSE(TipSurface(make_contact_part({}), Profile::ball(2)).touch({0, 0}).has_value());
}

TEST(Touch, RimExactlyOnACornerCounts) {
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(4, 4, 2))));
  EXPECT_EQ(TipSurface(part, Profile::flat(6)).height({-3, 2}), 2);
  EXPECT_EQ(TipSurface(part, Profile::ball(6)).height({-3, 2}), -1);  // the ball's equator at the edge
  EXPECT_EQ(TipSurface(part, Profile::flat(6)).height({-3.0000001, 2}), kNothingBelow);
}

TEST(Touch, AllowanceIsLeftNormalToTheSurface) {
  const double slope = 1.5, w = std::sqrt(1 + slope * slope);
  const auto part = make_contact_part(
      testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 4, 4, [&](double x, double) { return slope * x; }));
  for (const Profile& cutter : {Profile::ball(6), Profile::flat(6), Profile::bull(6, 1)}) {
    const TipSurface plain(part, cutter), thick(part, cutter, {.allowance_mm = 0.3});
    EXPECT_NEAR(thick.height({0, 0}) - plain.height({0, 0}), 0.3 * w, 1e-12);
    const Vec3 tip(0, 0, thick.height({0, 0}));
    EXPECT_NEAR(room_around(plain, tip, tip, 1), 0.3, 2e-9);
  }
  const TipSurface overcut(part, Profile::ball(6), {.allowance_mm = -0.3});
  EXPECT_NEAR(overcut.height({0, 0}), TipSurface(part, Profile::ball(6)).height({0, 0}) - 0.3 * w, 1e-12);
  EXPECT_THROW(TipSurface(part, Profile::flat(6), {.allowance_mm = -0.1}), Error);
  // A tapered ball: its ball and its cone cut in by as much as is asked, whatever rim the cone ends in.
  const Profile tapered = Profile::taper(4, 5, 2, 12);
  for (const double steep : {0.0, 1.0, 8.0, 20.0}) {
    Mesh ramp;
    ramp.points = {Vec3(-50, -50, -50 * steep), Vec3(50, -50, 50 * steep), Vec3(50, 50, 50 * steep),
                   Vec3(-50, 50, -50 * steep)};
    ramp.triangles = {{0, 1, 2}, {0, 2, 3}};
    const auto slanted = make_contact_part(ramp);
    const double whole = TipSurface(slanted, tapered).height({0, 0}),
                 cut_in = TipSurface(slanted, tapered, {.allowance_mm = -0.2}).height({0, 0});
    if (steep < 11)  // below the steep of the cone
      EXPECT_NEAR(cut_in, whole - 0.2 * std::sqrt(1 + steep * steep), 1e-9) << steep;
    else
      EXPECT_GE(cut_in, whole - 0.2 * std::sqrt(1 + steep * steep) - 1e-9) << steep;
  }
  EXPECT_THROW(TipSurface(part, Profile::taper(4, 5, 2, 12), {.allowance_mm = -2.1}), Error);
  EXPECT_THROW(TipSurface(part, Profile::taper(4, 45, 1, 6), {.allowance_mm = -0.1}), Error);
  EXPECT_THROW(TipSurface(part, Profile::bull(6, 1), {.allowance_mm = -1.1}), Error);
}

}  // namespace
}  // namespace yardpass
