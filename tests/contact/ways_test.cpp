// Further questions to the tip surface: allowances apart, arcs, pushes, the whole tool, large meshes.
#include <gtest/gtest.h>
#include <hwy/targets.h>

#include <cmath>
#include <numbers>

#include "parts.h"
#include "support/nasty.h"
#include "yardpass/contact/arcs.h"
#include "yardpass/contact/assembly.h"
#include "yardpass/contact/footprint_scan.h"
#include "yardpass/contact/push.h"

namespace yardpass {
namespace {

using testing::Rng;

std::vector<Profile> all_cutters() {
  return {Profile::ball(6),
          Profile::flat(6),
          Profile::bull(8, 1.5),
          Profile::taper(2, 5, 1, 20),
          Profile::taper(3, 20, 0.4, 8),
          Profile::taper(2, 30, 0, 6),
          Profile::chamfer(8, 45, 1),
          Profile::from_pieces({{0, 0, 1, 0.2, 0.2, 0.2}, {1, 0.2, 2, 1, 0.8, 0.8}, {2, 1, 2.5, 3, 4, 4}})};
}

Mesh wavy(int cells) {
  return testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), cells, cells, [](double x, double y) {
    return 4 * std::sin(x / 6 + 0.3) * std::cos(y / 7) + (std::hypot(x - 8, y + 4) < 5 ? 3.0 : 0.0);
  });
}

// The tree on a mesh of many levels, with steps and slopes, against every triangle and against the footprint
// scan.
TEST(Index, SameBitsOnALargeMeshForEveryCutter) {
  const auto part = make_contact_part(wavy(90));
  Rng rng(1);
  for (const Profile& cutter : all_cutters()) {
    for (const double allowance : {0.0, 0.3}) {
      const TipSurface fast(part, cutter, {.allowance_mm = allowance});
      const TipSurface plain(part, cutter, {.allowance_mm = allowance, .brute_force = true});
      const FootprintScan scan(fast);
      std::int32_t near = -1;
      for (int i = 0; i < 60; ++i) {
        const Vec2 p(rng.uniform(-33, 33), rng.uniform(-33, 33));
        const auto a = fast.touch(p, near), b = plain.touch(p);
        ASSERT_EQ(a.has_value(), b.has_value());
        EXPECT_EQ(scan.height(p), plain.height(p));
        if (!a) continue;
        near = a->triangle;
        EXPECT_EQ(a->height, b->height);
        EXPECT_EQ(a->triangle, b->triangle);
        EXPECT_EQ(a->normal, b->normal);
        const Vec3 from = with_z(p, a->height + rng.uniform(-1, 1));
        const Vec3 to =
            from + Vec3(rng.uniform(-3, 3), rng.uniform(-3, 3), rng.uniform(-1, 1)) * (i % 5 == 0 ? 10 : 0.2);
        const Clearance c = fast.clearance(from, to, std::numeric_limits<double>::infinity(), near),
                        d = plain.clearance(from, to);
        EXPECT_EQ(c.room, d.room);
        EXPECT_EQ(c.triangle, d.triangle);
        EXPECT_EQ(scan.clearance(from, to), d.room);
      }
    }
  }
}

// On level faces hundreds of triangles are touched at once: of equals the first, by asking each on its own.
TEST(Index, OfEqualTouchesOnLevelFacesTheFirstTriangleCounts) {
  const auto part =
      make_contact_part(testing::sheet(Box2(Vec2(-12, -12), Vec2(12, 12)), 24, 24, [](double x, double y) {
        return x > 4 ? 2.5 : y > 3 ? 1.25 + 0.1 * (y - 3) : 0.3;
      }));
  Rng rng(5);
  const auto triangles = static_cast<std::int32_t>(part->mesh().triangles.size());
  for (const Profile& cutter : all_cutters())
    for (const double allowance : {0.0, 0.15}) {
      const TipSurface surface(part, cutter, {.allowance_mm = allowance});
      std::int32_t near = -1;
      for (int i = 0; i < 6; ++i) {
        const Vec2 p(rng.uniform(-10, 10), rng.uniform(-10, 10));
        const Vec3 a = with_z(p, 3), b = with_z(p + Vec2(rng.uniform(-3, 3), rng.uniform(-3, 3)), 3);
        double best = kNothingBelow, least = std::numeric_limits<double>::infinity();
        std::int32_t best_triangle = -1, least_triangle = -1;
        for (std::int32_t k = 0; k < triangles; ++k) {
          if (const double z = surface.height_over(k, p); z > best) best = z, best_triangle = k;
          if (const double room = surface.clearance_over(k, a, b).room; room < least)
            least = room, least_triangle = k;
        }
        const auto touch = surface.touch(p, near);
        ASSERT_TRUE(touch.has_value());
        EXPECT_EQ(touch->height, best);
        EXPECT_EQ(touch->triangle, best_triangle);
        const Clearance clear = surface.clearance(a, b, std::numeric_limits<double>::infinity(), near);
        EXPECT_EQ(clear.room, least);
        EXPECT_EQ(clear.triangle, least_triangle);
        near = touch->triangle;
      }
    }
}

TEST(Index, FarFromTheOriginItLosesNothing) {
  Mesh mesh = wavy(60);
  for (Vec3& p : mesh.points) p += Vec3(9000, -9500, 800);
  const auto part = make_contact_part(mesh);
  const TipSurface fast(part, Profile::ball(6)), plain(part, Profile::ball(6), {.brute_force = true});
  Rng rng(2);
  for (int i = 0; i < 200; ++i) {
    const Vec2 p(9000 + rng.uniform(-30, 30), -9500 + rng.uniform(-30, 30));
    EXPECT_EQ(fast.height(p), plain.height(p));
  }
}

TEST(Cutters, NeighboursAgreeInTheLimit) {
  const auto part = make_contact_part(wavy(60));
  const TipSurface ball(part, Profile::ball(6)), bull_ball(part, Profile::bull(6, 3)),
      near_ball(part, Profile::bull(6, 3 - 1e-7));
  const TipSurface flat(part, Profile::flat(6)), near_flat(part, Profile::bull(6, 1e-7));
  const TipSurface straight(part, Profile::bull(6, 1)), taper(part, Profile::taper(6, 1e-6, 1, 30));
  Rng rng(3);
  for (int i = 0; i < 100; ++i) {
    const Vec2 p(rng.uniform(-25, 25), rng.uniform(-25, 25));
    EXPECT_EQ(ball.height(p), bull_ball.height(p));
    EXPECT_NEAR(ball.height(p), near_ball.height(p), 1e-3);
    EXPECT_NEAR(flat.height(p), near_flat.height(p), 1e-5);
    // A taper that hardly tapers; the wall of the step makes Z jumpy, so compare in space.
    const Vec3 tip = with_z(p, taper.height(p));
    EXPECT_NEAR(room_around(straight, tip, tip, 1e-2), 0, 1e-5);
  }
}

TEST(Allowance, WallAndFloorApart) {
  for (const double degrees : {0.0, 20.0, 45.0, 70.0}) {
    const double angle = degrees * std::numbers::pi / 180, slope = std::tan(angle);
    const auto part = make_contact_part(testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 3, 3,
                                                       [&](double x, double) { return slope * x; }));
    for (const Profile& cutter : {Profile::ball(6), Profile::flat(6), Profile::bull(6, 1)}) {
      const TipSurface plain(part, cutter);
      const TipSurface wall(part, cutter, {.allowance_mm = 0.2, .wall_extra_mm = 0.3});
      const TipSurface floor(part, cutter, {.allowance_mm = 0.2, .floor_extra_mm = 0.3});
      const auto left = [&](const TipSurface& surface) {
        return (surface.height({0, 0}) - plain.height({0, 0})) * std::cos(angle);
      };
      EXPECT_NEAR(left(wall), 0.2 + 0.3 * std::sin(angle), 1e-9) << degrees;
      EXPECT_NEAR(left(floor), 0.2 + 0.3 * std::cos(angle), 1e-9) << degrees;
    }
  }
  const auto block = make_contact_part(testing::box_mesh(Box3(Vec3(0, -50, 0), Vec3(10, 50, 20))));
  const TipSurface wall(block, Profile::flat(8), {.allowance_mm = 0.2, .wall_extra_mm = 0.3});
  EXPECT_EQ(wall.height({-4.51, 0}), kNothingBelow);
  EXPECT_GT(wall.height({-4.49, 0}), 19);
  EXPECT_THROW(TipSurface(block, Profile::flat(8), {.wall_extra_mm = 0.1, .floor_extra_mm = 0.1}), Error);
}

TEST(Allowance, ItsOwnForAGroupOfTriangles) {
  const Mesh mesh = wavy(40);
  std::vector<std::uint8_t> groups;
  Mesh inner, outer;
  inner.points = outer.points = mesh.points;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Vec3 middle = (mesh.corner(i, 0) + mesh.corner(i, 1) + mesh.corner(i, 2)) / 3;
    groups.push_back(plan(middle).norm() < 12 ? 1 : 0);
    (groups.back() ? inner : outer).triangles.push_back(mesh.triangles[i]);
  }
  const auto part = make_contact_part(mesh, {}, groups), in = make_contact_part(inner),
             out = make_contact_part(outer);
  Rng rng(6);
  for (const Profile& cutter : all_cutters()) {
    const TipSurface both(part, cutter, {.allowance_mm = 0.1, .group_extra_mm = {0, 0.4}});
    const TipSurface plain(part, cutter,
                           {.allowance_mm = 0.1, .group_extra_mm = {0, 0.4}, .brute_force = true});
    const TipSurface only_in(in, cutter, {.allowance_mm = 0.5}), only_out(out, cutter, {.allowance_mm = 0.1});
    for (int i = 0; i < 100; ++i) {
      const Vec2 p(rng.uniform(-30, 30), rng.uniform(-30, 30));
      const double height = both.height(p);
      EXPECT_EQ(height, plain.height(p));
      EXPECT_NEAR(height, std::max(only_in.height(p), only_out.height(p)), 1e-12);
      const Vec3 a = with_z(p, height + rng.uniform(-1, 1)),
                 b = a + Vec3(rng.uniform(-2, 2), rng.uniform(-2, 2), 0.3);
      EXPECT_NEAR(both.clearance(a, b).room,
                  std::min(only_in.clearance(a, b).room, only_out.clearance(a, b).room), 1e-12);
    }
  }
  EXPECT_THROW(TipSurface(part, Profile::ball(6), {.group_extra_mm = {-1}}), Error);
  EXPECT_THROW((void)make_contact_part(mesh, {}, {1, 2}), Error);
}

TEST(Index, SameBitsWithEveryInstructionSet) {
  const auto part = make_contact_part(wavy(90));
  const TipSurface surface(part, Profile::bull(6, 1));
  std::vector<double> first;
  int sets = 0;
  for (const std::int64_t target : hwy::SupportedAndGeneratedTargets()) {
    hwy::SetSupportedTargetsForTest(target);
    hwy::GetChosenTarget().Update(target);
    ++sets;
    Rng rng(7);
    std::vector<double> seen;
    for (int i = 0; i < 300; ++i) {
      const Vec2 p(rng.uniform(-30, 30), rng.uniform(-30, 30));
      seen.push_back(surface.height(p));
      seen.push_back(surface.clearance(with_z(p, 3), with_z(p, 2) + Vec3(1, 0.5, 0)).room);
    }
    if (first.empty()) first = seen;
    EXPECT_EQ(seen, first) << hwy::TargetName(target);
  }
  hwy::SetSupportedTargetsForTest(0);
  hwy::GetChosenTarget().Update(hwy::SupportedTargets());
  EXPECT_GE(sets, 2);
}

TEST(Arcs, NeverAboveADenseScanAndCloseToIt) {
  const auto part = make_contact_part(wavy(60));
  Rng rng(4);
  const auto cutters = all_cutters();
  for (int round = 0; round < 150; ++round) {
    const Profile& cutter = cutters[static_cast<std::size_t>(rng.pick(static_cast<int>(cutters.size())))];
    const TipSurface surface(part, cutter);
    const Vec2 centre(rng.uniform(-15, 15), rng.uniform(-15, 15));
    const double radius = rng.uniform(0.2, 9), angle = rng.uniform(0, 6.28), z = rng.uniform(-2, 6);
    const Vec2 start = centre + radius * Vec2(std::cos(angle), std::sin(angle));
    const double turn = rng.uniform(-6.28, 6.28), end_z = z + (round % 2 ? 0.0 : rng.uniform(-3, 3));
    const Arc arc = Arc::in_plan(with_z(start, z), centre, turn, end_z);
    EXPECT_NEAR((plan(arc.at(0.37)) - centre).norm(), radius, 1e-12);
    const Clearance found = clearance(surface, arc, 1e-4);
    double scanned = std::numeric_limits<double>::infinity();
    for (int i = 0; i <= 2000; ++i) {
      const Vec3 tip = arc.at(i / 2000.0);
      const double height = surface.height(plan(tip));
      if (height != kNothingBelow) scanned = std::min(scanned, tip.z() - height);
    }
    if (scanned == std::numeric_limits<double>::infinity()) continue;
    EXPECT_LE(found.room, scanned + 1e-9) << round;
    // Thicker by the sagitta, the tool is in trouble somewhere; a little thinner than itself it is not.
    const Resized thin = *resized(cutter, -3e-4);
    const TipSurface thinner(part, thin.profile);
    double relaxed = std::numeric_limits<double>::infinity();
    for (int i = 0; i <= 2000; ++i) {
      const Vec3 tip = arc.at(i / 2000.0);
      const double height = thinner.height(plan(tip));
      if (height != kNothingBelow) relaxed = std::min(relaxed, tip.z() - (height - thin.tip_z_mm));
    }
    EXPECT_GE(relaxed, found.room - 0.05) << round;
  }
  const Arc arc = Arc::in_plan(Vec3(0, 0, 0), Vec2(1, 0), 1, 0);
  EXPECT_THROW((void)clearance(TipSurface(part, Profile::ball(6)), arc, 0), Error);
}

TEST(Push, AgreesWithDenseTouches) {
  Rng rng(5);
  int walls = 0;
  for (int seed = 1; seed <= testing::rounds(300); ++seed) {
    const Mesh mesh = testing::nasty_part(rng, seed % testing::kNastyKinds);
    const Profile cutter =
        seed % 2 ? Profile::ball(rng.uniform(0.5, 5)) : Profile::bull(3, rng.uniform(0.1, 1.4));
    const TipSurface surface(make_contact_part(mesh), cutter);
    const Box3 box = mesh.box();
    const Vec2 a(box.min().x() - 3, rng.uniform(box.min().y() - 1, box.max().y() + 1)),
        b(box.max().x() + 3, a.y() + rng.uniform(-2, 2));
    const double z = rng.uniform(box.min().z() - 1, box.max().z()), length = (b - a).norm();
    const auto pieces = push(surface, a, b, z);
    for (std::size_t i = 0; i < pieces.size(); ++i) {
      EXPECT_LE(pieces[i].from, pieces[i].to);
      if (i > 0) EXPECT_GT(pieces[i].from, pieces[i - 1].to);
      walls += pieces[i].to > pieces[i].from;
    }
    for (int i = 0; i <= 500; ++i) {
      const double share = i / 500.0;
      double near = 1;  // distance to the nearest end
      bool inside = false;
      for (const LinePiece& piece : pieces) {
        near = std::min({near, std::abs(share - piece.from) * length, std::abs(share - piece.to) * length});
        inside |= share > piece.from && share < piece.to;
      }
      if (near < 1e-7) continue;
      const double height = surface.height(a + share * (b - a));
      if (std::abs(height - z) > 1e-7)
        EXPECT_EQ(height > z, inside) << "seed " << seed << " share " << share << " height " << height - z;
    }
  }
  EXPECT_GT(walls, 100);
}

TEST(Push, BallAgainstAnEdgeInClosedForm) {
  const auto part = make_contact_part(testing::box_mesh(Box3(Vec3(0, -50, -20), Vec3(10, 50, 0))));
  const TipSurface surface(part, Profile::ball(6));
  // Tip at depth 1 below the top: the ball's middle is 2 above the edge, sqrt(9 - 4) to its side.
  const auto pieces = push(surface, {-10, 0}, {20, 0}, -1);
  ASSERT_EQ(pieces.size(), 1u);
  EXPECT_NEAR(-10 + 30 * pieces[0].from, -std::sqrt(5.0), 2e-9);
  EXPECT_NEAR(-10 + 30 * pieces[0].to, 10 + std::sqrt(5.0), 2e-9);
  EXPECT_TRUE(push(surface, {-10, 0}, {20, 0}, 0).empty());  // only touches
}

TEST(Assembly, TheWiderBodyTouchesFirst) {
  Tool tool = completed({.number = 1,
                         .diameter_mm = 6,
                         .flute_length_mm = 10,
                         .shank_diameter_mm = 6,
                         .stickout_mm = 25,
                         .feed_mm_min = 1});
  tool.holder = {{20, 20, 30}, {30, 40, 40}};
  // A deep slot beside a high block.
  Mesh mesh = testing::sheet(Box2(Vec2(-60, -60), Vec2(60, 60)), 1, 1, [](double, double) { return 0.0; });
  const Mesh block = testing::box_mesh(Box3(Vec3(8, -60, 0), Vec3(60, 60, 40)));
  const auto shift = static_cast<std::int32_t>(mesh.points.size());
  mesh.points.insert(mesh.points.end(), block.points.begin(), block.points.end());
  for (const auto& t : block.triangles) mesh.triangles.push_back({t[0] + shift, t[1] + shift, t[2] + shift});
  const auto part = make_contact_part(mesh);
  const AssemblySurface assembly(part, tool, {.holder_mm = 1});
  EXPECT_EQ(assembly.bodies().size(), 4u);
  // Far from the block the cutter touches the ground.
  EXPECT_EQ(assembly.touch({-40, 0})->part, ToolPart::cutter);
  EXPECT_NEAR(assembly.touch({-40, 0})->touch.height, 0, 1e-12);
  // 7 mm beside the block the holder's lower section (radius 10, clearance 1) stands on its top: tip at 40 +
  // 1 - 25.
  const auto beside = assembly.touch({1, 0});
  EXPECT_EQ(beside->part, ToolPart::holder);
  EXPECT_EQ(beside->section, 0);
  EXPECT_NEAR(beside->touch.height, 16, 1e-9);
  const auto room = assembly.clearance({1, -5, 0}, {1, 5, 0});
  EXPECT_EQ(room.part, ToolPart::holder);
  EXPECT_NEAR(room.clearance.room, -16, 1e-9);
  // So the holder must stick out 16 mm more.
  EXPECT_NEAR(least_stickout(part, tool, {Vec3(1, -5, 0), Vec3(1, 5, 0)}, {.holder_mm = 1}), 41, 1e-9);
  EXPECT_NEAR(least_stickout(part, tool, {Vec3(-40, -5, 0), Vec3(-40, 5, 0)}, {.holder_mm = 1}), 10, 1e-9);
  tool.stickout_mm = 41;
  const AssemblySurface longer(part, tool, {.holder_mm = 1});
  EXPECT_GE(longer.clearance({1, -5, 0}, {1, 5, 0}).clearance.room, -1e-9);
  // With a shank clearance the shank is wider than the cutter and touches the wall.
  const AssemblySurface shank(part, tool, {.shank_mm = 0.5});
  EXPECT_EQ(shank.touch({4.8, 0})->part, ToolPart::shank);
  // A neck below it, thinner than the cutter but with a clearance that makes it wider, touches before the
  // shank.
  tool.neck_diameter_mm = 5;
  tool.neck_length_mm = 8;
  const AssemblySurface neck(part, tool, {.neck_mm = 0.8, .shank_mm = 0.5});
  EXPECT_EQ(neck.touch({4.75, 0})->part, ToolPart::neck);
  EXPECT_EQ(neck.bodies()[2].above_tip_mm, 18);
}

}  // namespace
}  // namespace yardpass
