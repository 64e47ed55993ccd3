// Areas at a level, where formulas tell them, on random ground, and at necks a hundredth of a millimetre
// wide.
#include "yardpass/plan/level_area.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/nasty.h"
#include "support/rng.h"

namespace yardpass {
namespace {

using testing::Rng;

void expect_proved(const LevelArea& level, const TipSurface& surface, double z, const std::string& what) {
  EXPECT_EQ(level.unproven, 0) << what;
  for (const Polyline2& loop : level.area.loops)
    for (std::size_t i = 0; i < loop.size(); ++i) {
      const Vec2 &a = loop[i], &b = loop[(i + 1) % loop.size()];
      // A tenth of the tolerance is what areas are rounded to.
      ASSERT_GE(surface.clearance(with_z(a, z + 0.002), with_z(b, z + 0.002), 0.0).room, 0) << what;
    }
}

/// A plate at 0 with walls up to 10 where `wall` says so, its cells 0.05 apart near walls of any direction.
Mesh walled(const Polyline2& outline) {
  // An upright prism around the outline (counter-clockwise), and a floor.
  Mesh mesh = testing::sheet(Box2(Vec2(-60, -60), Vec2(60, 60)), 1, 1, [](double, double) { return 0.0; });
  const auto index = [&](const Vec3& p) {
    mesh.points.push_back(p);
    return static_cast<std::remove_cvref_t<decltype(mesh.triangles[0][0])>>(mesh.points.size() - 1);
  };
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const Vec2 &a = outline[i], &b = outline[(i + 1) % outline.size()];
    const auto low = index(with_z(a, 0)), low2 = index(with_z(b, 0)), high = index(with_z(a, 10)),
               high2 = index(with_z(b, 10));
    mesh.triangles.push_back({low, low2, high2});
    mesh.triangles.push_back({low, high2, high});
  }
  return mesh;
}

/// A wall as a loop of upright sides, outside of which there is nothing: what is inside can be milled.
Polyline2 turned(Polyline2 outline, double degrees) {
  const double c = std::cos(degrees * std::numbers::pi / 180), s = std::sin(degrees * std::numbers::pi / 180);
  for (Vec2& p : outline) p = Vec2(c * p.x() - s * p.y(), s * p.x() + c * p.y());
  return outline;
}

TEST(LevelAreas, AroundACone) {
  const auto part =
      make_contact_part(testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 240, 240, [](double x, double y) {
        return std::max(0.0, 10 - std::hypot(x, y));
      }));
  const TipSurface surface(part, Profile::flat(6));
  const LevelAreas levels(surface, Box2(Vec2(-20, -20), Vec2(20, 20)), {.tolerance_mm = 0.02});
  for (const double z : {2.0, 5.5, 9.0}) {
    const LevelArea level = levels.at(z);
    const double radius = 13 - z;
    EXPECT_NEAR(level.area.area_mm2(), 1600 - std::numbers::pi * radius * radius,
                2 * std::numbers::pi * radius * 0.06);
    EXPECT_LT(level.area.area_mm2(), 1600 - std::numbers::pi * radius * radius + 0.3) << "never more";
    ASSERT_EQ(pieces(level.area).size(), 1u);
    EXPECT_FALSE(level.area.contains({0, 0}));
    expect_proved(level, surface, z, "cone");
  }
  EXPECT_NEAR(levels.at(100).area.area_mm2(), 1600, 1e-3);
  EXPECT_TRUE(levels.at(-1).area.empty());
}

TEST(LevelAreas, OfASlotAndOfAHoleThatTheToolJustFits) {
  for (const double play : {0.06, 0.3, 2.0})
    for (const double angle : {0.0, 27.0, 45.0}) {
      const double half = 3 + play / 2;
      const TipSurface surface(
          make_contact_part(walled(turned({{-20, -half}, {20, -half}, {20, half}, {-20, half}}, angle))),
          Profile::flat(6));
      const double tolerance = 0.01;
      const LevelArea level =
          LevelAreas(surface, Box2(Vec2(-16, -16), Vec2(16, 16)), {.tolerance_mm = tolerance}).at(5);
      const Region inside = intersect(level.area, rectangle(Box2(Vec2(-8, -8), Vec2(8, 8))));
      const double length = angle == 0    ? 16
                            : angle == 45 ? 16 * std::sqrt(2.0)
                                          : 16 / std::cos(27 * M_PI / 180);
      // Inside the slot the axis has the play; what lies outside the walls belongs to no one.
      double area = 0;
      for (const Region& piece : pieces(inside))
        if (piece.contains(turned({{0, 0}}, angle)[0])) area += piece.area_mm2();
      const double wide = play - 2 * tolerance, corners = angle == 45 ? wide * wide / 2 : 0;
      EXPECT_NEAR(area, length * wide - corners, length * 0.011 + 0.01) << play << " " << angle;
      expect_proved(level, surface, 5, "slot");
    }
  for (const double play : {0.05, 0.5}) {
    Polyline2 hole;
    for (int k = 0; k < 720; ++k)
      hole.push_back((3 + play / 2) * Vec2(std::cos(k * M_PI / 360), std::sin(k * M_PI / 360)) +
                     Vec2(0.31, 0.17));
    const TipSurface surface(make_contact_part(walled(hole)), Profile::flat(6));
    const LevelArea level =
        LevelAreas(surface, Box2(Vec2(-3, -3), Vec2(3, 3)), {.tolerance_mm = 0.005}).at(5);
    if (play > 0.1) {
      ASSERT_EQ(pieces(level.area).size(), 1u);
      EXPECT_NEAR(level.area.area_mm2(), std::numbers::pi * std::pow(play / 2 - 0.005, 2), 0.02);
      EXPECT_TRUE(level.area.contains({0.31, 0.17}));
    }
    expect_proved(level, surface, 5, "hole");
  }
}

/// Two rooms, joined by a neck that is wider than the tool by the play.
TEST(LevelAreas, NecksAreKeptOrClosedAsStated) {
  for (const double angle : {0.0, 27.0, 61.3})
    for (const double play : {0.01, 0.05, 0.2}) {
      const double half = 3 + play / 2;
      const TipSurface surface(make_contact_part(walled(turned({{-25, -10},
                                                                {-6, -10},
                                                                {-6, -half},
                                                                {6, -half},
                                                                {6, -10},
                                                                {25, -10},
                                                                {25, 10},
                                                                {6, 10},
                                                                {6, half},
                                                                {-6, half},
                                                                {-6, 10},
                                                                {-25, 10}},
                                                               angle))),
                               Profile::flat(6));
      const LevelArea level = LevelAreas(surface, Box2(Vec2(-21, -21), Vec2(21, 21)),
                                         {.tolerance_mm = 0.002, .least_play_mm = 0.02})
                                  .at(5);
      const Vec2 left = turned({{-15, 0}}, angle)[0], right = turned({{15, 0}}, angle)[0];
      int of_rooms = 0;
      bool joined = false;
      for (const Region& piece : pieces(level.area)) {
        of_rooms += piece.contains(left) || piece.contains(right);
        joined |= piece.contains(left) && piece.contains(right);
      }
      EXPECT_EQ(of_rooms, joined ? 1 : 2);
      if (play > 0.03) EXPECT_TRUE(joined) << "play " << play << " at " << angle;
      if (!joined) EXPECT_FALSE(level.closed_necks.empty()) << "play " << play << " at " << angle;
      expect_proved(level, surface, 5, "neck");
    }
}

TEST(LevelAreas, NothingBlockedIsInsideAndLittleThatIsFreeIsLost) {
  int checked = 0, with_unproven = 0;
  for (int seed = 1; seed <= testing::rounds(25); ++seed) {
    Rng rng(static_cast<std::uint64_t>(seed));
    const double a = rng.uniform(0.3, 1.2), b = rng.uniform(0.3, 1.2);
    Rng noise(rng.bits());
    const double rough = rng.uniform(0, 0.6);
    const auto part =
        make_contact_part(testing::sheet(Box2(Vec2(-12, -12), Vec2(12, 12)), 60, 60, [&](double x, double y) {
          return 2 * std::sin(a * x) * std::cos(b * y) + noise.uniform(0, rough);
        }));
    const Profile cutters[] = {Profile::flat(3), Profile::ball(3), Profile::bull(4, 0.8), Profile::flat(1)};
    const TipSurface surface(part, cutters[rng.pick(4)]);
    const double tolerance = 0.02, z = rng.uniform(-0.5, 2);
    const LevelAreas levels(surface, Box2(Vec2(-9, -9), Vec2(9, 9)), {.tolerance_mm = tolerance});
    const LevelArea level = levels.at(z);
    with_unproven += level.unproven > 0;
    const Region inside = offset(level.area, -0.002), outside = offset(level.area, 3 * tolerance);
    const TipSurface thicker = surface.with_more_allowance(2 * tolerance);
    for (int k = 0; k < 400; ++k) {
      const Vec2 p(rng.uniform(-8.8, 8.8), rng.uniform(-8.8, 8.8));
      if (surface.height(p) > z + 0.3)
        EXPECT_FALSE(inside.contains(p)) << "seed " << seed << " at " << p.transpose();
      // Free with room to spare all round, as far as a cell.
      if (thicker.height(p) <= z && surface.with_more_allowance(levels.spacing_mm()).height(p) <= z)
        EXPECT_TRUE(outside.contains(p)) << "seed " << seed << " at " << p.transpose();
      ++checked;
    }
  }
  EXPECT_GT(checked, 1000);
  EXPECT_LE(with_unproven, testing::rounds(25) / 100) << "a chord that runs into an island is rare";
}

TEST(LevelAreas, OptionsThatBreakWhatTheyAskForThrow) {
  const TipSurface surface(make_contact_part(testing::box_mesh(Box3(Vec3(0, 0, 0), Vec3(1, 1, 1)))),
                           Profile::flat(1));
  const Box2 box(Vec2(0, 0), Vec2(1, 1));
  EXPECT_THROW((void)LevelAreas(surface, box, {.tolerance_mm = 0}), Error);
  EXPECT_THROW((void)LevelAreas(surface, box, {.least_play_mm = 0}), Error);
  EXPECT_THROW((void)LevelAreas(surface, box, {.spacing_mm = -1}), Error);
}

// A level on a flat, with heights that rounding scatters around it: what the tool just rests on is free, all
// of it, and falls into no splinters.
TEST(LevelAreas, AFlatIsFreeAtItsOwnHeight) {
  const auto part =
      make_contact_part(testing::sheet(Box2(Vec2(-26, -26), Vec2(26, 26)), 208, 208, [](double x, double y) {
        return std::max(-12.0, std::min(0.0, 2 * (13 - std::hypot(x, 1.3 * y))));
      }));
  for (const double allowance : {0.1, 0.2, 0.3, 0.7})
    for (const Profile& cutter : {Profile::flat(6), Profile::bull(6, 1)}) {
      const TipSurface surface(part, cutter, {.allowance_mm = allowance});
      const LevelAreas areas(surface, Box2(Vec2(-25, -25), Vec2(25, 25)), {.tolerance_mm = 0.02});
      const LevelArea level = areas.at(-12 + allowance);
      EXPECT_TRUE(areas.rests_at(-12 + allowance, level.area));
      EXPECT_FALSE(areas.rests_at(-11 + allowance, level.area));
      EXPECT_EQ(pieces(level.area).size(), 1u) << allowance;
      // Nearly as large as a little higher.
      EXPECT_NEAR(level.area.area_mm2(), areas.at(-11.999 + allowance).area.area_mm2(), 3);
    }
}

}  // namespace
}  // namespace yardpass
