// Proof along moves: never above what a dense scan sees, reproduced by a touch where it says, and in space
// equal to what distances say.
#include <gtest/gtest.h>

#include <cmath>

#include "support/definition.h"
#include "support/nasty.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass {
namespace {

using testing::Rng;

Profile any_profile(Rng& rng) {
  const double d = rng.uniform(0.6, 8);
  switch (rng.pick(6)) {
    case 0:
      return Profile::flat(d);
    case 1:
      return Profile::bull(d, rng.uniform(0.05, 0.45) * d);
    case 2:
      return Profile::taper(0.5 * d, rng.uniform(2, 30), rng.uniform(0, 0.25) * d, 2 * d);
    case 3:
      return Profile::chamfer(d, rng.uniform(20, 70), rng.uniform(0, 0.5) * d);
    default:
      return Profile::ball(d);
  }
}

struct Move {
  Mesh mesh;
  Profile cutter;
  Vec3 a, b;
};

Move any_move(int seed) {
  Rng rng(static_cast<std::uint64_t>(seed));
  Mesh mesh = testing::nasty_part(rng, seed % testing::kNastyKinds);
  Profile cutter = any_profile(rng);
  const Vec2 from = testing::aim(rng, mesh, cutter.radius());
  Vec2 to = testing::aim(rng, mesh, cutter.radius());
  if (rng.pick(3) == 0) to = from + Vec2(rng.uniform(-0.3, 0.3), rng.uniform(-0.3, 0.3));
  if (rng.pick(12) == 0) to = from;
  const double z = mesh.box().center().z();
  Vec3 a = with_z(from, z + rng.uniform(-4, 4)), b = with_z(to, z + rng.uniform(-4, 4));
  if (rng.pick(4) == 0) b.z() = a.z();
  return {std::move(mesh), std::move(cutter), a, b};
}

TEST(Clearance, NeverAboveADenseScanAndReproducedByATouch) {
  int met = 0;
  for (int seed = 1; seed <= testing::rounds(4000); ++seed) {
    const Move m = any_move(seed);
    SCOPED_TRACE("seed " + std::to_string(seed) + "\n" + testing::to_text(m.mesh));
    const TipSurface surface(make_contact_part(m.mesh), m.cutter);
    const Clearance found = surface.clearance(m.a, m.b);
    // The scan's tool is thinner by a hair: exactly at a rim, Z may jump by a wall's height from one bit to
    // the next.
    const Resized thin = *resized(m.cutter, -1e-8);
    const TipSurface thinner(surface.shared_part(), thin.profile);
    for (int i = 0; i <= 60; ++i) {
      const Vec3 tip = m.a + i / 60.0 * (m.b - m.a);
      const double height = thinner.height(plan(tip)) - thin.tip_z_mm;
      if (height != kNothingBelow) ASSERT_LE(found.room, tip.z() - height + 1e-7) << "share " << i / 60.0;
    }
    if (found.triangle < 0) continue;
    ++met;
    // In space: with the tool thinner by a hair the named place is the least room; in Z alone walls would not
    // let it.
    const Vec3 at_limit = found.tip - Vec3(0, 0, found.room);
    EXPECT_NEAR(room_around(surface, at_limit, at_limit, 1e-2), 0, 2e-7);
  }
  EXPECT_GT(met, testing::rounds(4000) / 2);
}

TEST(Clearance, IndexGivesTheSameBitsAsEveryTriangle) {
  for (int seed = 1; seed <= testing::rounds(4000); ++seed) {
    const Move m = any_move(seed);
    const auto part = make_contact_part(m.mesh);
    const Clearance fast = TipSurface(part, m.cutter).clearance(m.a, m.b);
    const Clearance plain = TipSurface(part, m.cutter, {.brute_force = true}).clearance(m.a, m.b);
    EXPECT_EQ(fast.room, plain.room) << "seed " << seed;
    EXPECT_EQ(fast.triangle, plain.triangle) << "seed " << seed;
    EXPECT_EQ(fast.share, plain.share) << "seed " << seed;
  }
}

TEST(Clearance, ALimitOnlyHidesWhatIsAboveIt) {
  for (int seed = 1; seed <= testing::rounds(1000); ++seed) {
    const Move m = any_move(seed);
    const TipSurface surface(make_contact_part(m.mesh), m.cutter);
    const double full = surface.clearance(m.a, m.b).room, limited = surface.clearance(m.a, m.b, 0.5).room;
    EXPECT_EQ(limited, std::min(full, 0.5)) << "seed " << seed;
  }
}

// A long move past a single corner: both ends see nothing, and so does a search that starts from them.
TEST(Clearance, LongMovesMissNoCorner) {
  for (int seed = 1; seed <= testing::rounds(2000); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    Mesh mesh;
    mesh.points = {{0, 0, 0}, {0.001, 0, -1}, {0, 0.001, -1}};
    mesh.triangles = {{0, 1, 2}};
    const double radius = 3, offset = rng.uniform(-2.9, 2.9), depth = rng.uniform(0.01, 1);
    const double reach = std::sqrt(radius * radius - offset * offset);
    const double low = radius - reach;  // height of the ball at that offset
    const TipSurface surface(make_contact_part(mesh), Profile::ball(2 * radius));
    const double angle = rng.uniform(0, 6.28);
    const Vec2 along(std::cos(angle), std::sin(angle)), across(-along.y(), along.x());
    const Vec2 a = across * offset - along * rng.uniform(50, 500),
               b = across * offset + along * rng.uniform(50, 500);
    const double z = -low - depth;
    EXPECT_NEAR(surface.clearance(with_z(a, z), with_z(b, z)).room, -depth, 1e-9) << "seed " << seed;
  }
}

TEST(RoomAround, OfABallIsTheDistanceOfItsMiddle) {
  // Only the middle's way counts: the ball without what is above it, so keep to parts that are seen from
  // above.
  for (int seed = 1; seed <= testing::rounds(60); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    const Mesh mesh = testing::nasty_part(rng, 1);
    const double radius = rng.uniform(0.5, 3);
    const TipSurface surface(make_contact_part(mesh), Profile::ball(2 * radius));
    const Vec2 from(rng.uniform(-4, 4), rng.uniform(-4, 4)),
        to = from + Vec2(rng.uniform(-1, 1), rng.uniform(-1, 1));
    const Vec3 a = with_z(from, surface.height(from) + rng.uniform(-0.3, 0.5)),
               b = with_z(to, surface.height(to) + rng.uniform(-0.3, 0.5));
    const Vec3 up(0, 0, radius);
    const double distance = testing::segment_to_mesh(a + up, b + up, mesh) - radius;
    EXPECT_NEAR(room_around(surface, a, b, 5), std::min(distance, 5.0), 1e-6) << "seed " << seed;
  }
}

TEST(RoomAround, IsFiniteAndSteadyBesideAWall) {
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(0, -50, 0), Vec3(10, 50, 20))));
  const TipSurface flat(part, Profile::flat(8)), ball(part, Profile::ball(8));
  for (const double into : {1e-6, 1e-3, 0.05, 0.4}) {
    const Vec3 a(-4 + into, -10, 5), b(-4 + into, 10, 5);
    EXPECT_LT(flat.clearance(a, b).room, -14.9);  // in Z: up to the top of the wall
    EXPECT_NEAR(room_around(flat, a, b, 1), -into, 2e-9);
    EXPECT_NEAR(room_around(ball, a, b, 1), -into, 2e-9);
    const Vec3 a2(-4 - into, -10, 5), b2(-4 - into, 10, 5);
    EXPECT_NEAR(room_around(flat, a2, b2, 1), into, 2e-9);
  }
}

TEST(RoomAround, FollowsTheMiddleOfACutterThatIsSunkInThePart) {
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(-90, -90, -90), Vec3(90, 90, 0))));
  for (const double depth : {3.0, 5.0, 5.01, 8.0, 40.0})
    for (const Profile& cutter : {Profile::ball(10), Profile::flat(10), Profile::bull(10, 2)}) {
      const TipSurface surface(part, cutter);
      EXPECT_NEAR(room_around(surface, {5, 0, -1}, {5, 1, -depth}, 1), -depth, 1e-6) << depth;
    }
}

}  // namespace
}  // namespace yardpass
