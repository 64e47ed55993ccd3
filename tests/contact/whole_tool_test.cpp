// The whole tool as one surface: cutter, neck, shank and holder with their clearances.
#include <gtest/gtest.h>

#include <cmath>

#include "support/nasty.h"
#include "yardpass/contact/along_line.h"
#include "yardpass/contact/assembly.h"
#include "yardpass/contact/lift.h"
#include "yardpass/contact/push.h"
#include "yardpass/contact/slope.h"
#include "yardpass/contact/tool_surface.h"

namespace yardpass {
namespace {

using testing::Rng;

/// A short ball with a thick holder, so that often something else than the cutter is met.
Tool short_tool(Rng& rng) {
  Tool tool;
  tool.name = "short";
  tool.number = 1;
  tool.shape = rng.pick(2) == 0 ? Shape::ball : Shape::flat;
  tool.diameter_mm = rng.uniform(1, 3);
  tool.flute_length_mm = rng.uniform(0.5, 2);
  tool.neck_diameter_mm = tool.diameter_mm * rng.uniform(0.6, 1.2);
  tool.neck_length_mm = rng.uniform(0.5, 2);
  tool.shank_diameter_mm = tool.diameter_mm * rng.uniform(1, 2);
  tool.stickout_mm = tool.flute_length_mm + tool.neck_length_mm + rng.uniform(0.2, 2);
  tool.holder = {{3, tool.shank_diameter_mm + 1, tool.shank_diameter_mm + 4},
                 {4, tool.shank_diameter_mm + 5, tool.shank_diameter_mm + 5}};
  tool.spindle_rpm = tool.feed_mm_min = 1000;
  tool.neck_clearance_mm = rng.pick(2) * 0.2;
  tool.shank_clearance_mm = rng.pick(2) * 0.3;
  tool.holder_clearance_mm = rng.pick(2) * 0.5;
  return tool;
}

struct Case {
  explicit Case(int seed)
      : rng(static_cast<std::uint64_t>(seed)),
        mesh(testing::nasty_part(rng, seed % testing::kNastyKinds)),
        part(make_contact_part(mesh)),
        tool(short_tool(rng)),
        surface(part, tool, {}, std::nullopt),
        assembly(part, tool, clearance_of(tool)) {}
  Rng rng;
  Mesh mesh;
  std::shared_ptr<const ContactPart> part;
  Tool tool;
  ToolSurface surface;
  AssemblySurface assembly;
};

TEST(WholeTool, IsTheGreatestOfItsBodies) {
  int upper = 0;
  for (int seed = 1; seed <= testing::rounds(300); ++seed) {
    Case one(seed);
    for (int i = 0; i < 10; ++i) {
      const Vec2 p = testing::aim(one.rng, one.mesh, one.tool.diameter_mm);
      const auto touch = one.surface.touch(p);
      const auto wanted = one.assembly.touch(p);
      ASSERT_EQ(touch.has_value(), one.surface.cutter_alone().touch(p).has_value()) << seed;
      if (!touch) continue;
      ASSERT_EQ(touch->height, wanted->touch.height) << seed;
      upper += touch->body > 0;
      const Vec3 a = with_z(p, touch->height + one.rng.uniform(-1, 1));
      const Vec3 b = a + Vec3(one.rng.uniform(-2, 2), one.rng.uniform(-2, 2), one.rng.uniform(-1, 1));
      ASSERT_EQ(one.surface.clearance(a, b).room, one.assembly.clearance(a, b).clearance.room) << seed;
      EXPECT_EQ(one.surface.clearance(a, b, 0.0).room < 0, one.assembly.clearance(a, b).clearance.room < 0)
          << seed;
      EXPECT_LE(one.surface.cutter_alone().height(p), touch->height);
    }
  }
  EXPECT_GT(upper, 200) << "often something above the cutter is met first";
}

TEST(WholeTool, LeapsOverWhateverBodyIsInTheWay) {
  int blocked_by_upper = 0;
  for (int seed = 1; seed <= testing::rounds(200); ++seed) {
    Case one(seed);
    for (int i = 0; i < 4; ++i) {
      const Box3 box = one.mesh.box();
      const double z = one.rng.uniform(box.min().z() - 2, box.max().z());
      const Vec3 a(one.rng.uniform(-6, 6), one.rng.uniform(-6, 6), z),
          b(one.rng.uniform(-6, 6), one.rng.uniform(-6, 6), z);
      const double length = (b - a).norm();
      double blocked = 0, free = 0;
      for (const LinePiece& piece : push(one.surface, plan(a), plan(b), z)) blocked += piece.to - piece.from;
      for (const LinePiece& piece : free_pieces(one.surface, a, b)) {
        free += piece.to - piece.from;
        const Vec3 tip = a + (piece.from + 0.37 * (piece.to - piece.from)) * (b - a);
        EXPECT_LE(one.surface.height(plan(tip)), z + 1e-7) << seed;
      }
      EXPECT_NEAR((blocked + free) * length, length, 1e-6) << seed;
      const auto meeting = first_meeting(one.surface, a, b);
      if (meeting && meeting->body > 0) ++blocked_by_upper;
    }
  }
  EXPECT_GT(blocked_by_upper, 20);
}

TEST(WholeTool, ClearancesAndThickerSurfacesKeepTheirBodies) {
  // A wall of 20 beside the path: the holder, 8 wide at 10 above the tip, keeps 8 and its clearance from it.
  const auto part = make_contact_part(testing::sheet(Box2(Vec2(-30, -30), Vec2(30, 30)), 400, 2,
                                                     [](double x, double) { return x > 0 ? 20.0 : 0.0; }));
  Tool tool;
  tool.number = 1, tool.shape = Shape::flat, tool.diameter_mm = 4, tool.flute_length_mm = 8,
  tool.stickout_mm = 10;
  tool.spindle_rpm = tool.feed_mm_min = 1000;
  tool.holder = {{40, 16, 16}};
  tool.holder_clearance_mm = 1;
  const ToolSurface surface(part, tool, {}, std::nullopt);
  EXPECT_NEAR(surface.height({-5, 0}), 11, 1e-9) << "the holder stays its clearance above the wall";
  EXPECT_EQ(surface.touch(Vec2(-5, 0))->body, surface.bodies() - 1);
  EXPECT_NEAR(surface.height({-9.3, 0}), 0, 1e-9) << "8 and 1 of clearance";
  EXPECT_NEAR(surface.cutter_alone().height({-5, 0}), 0, 1e-9);
  const auto meeting = first_meeting(surface, {-20, 0, 1}, {0, 0, 1});
  ASSERT_TRUE(meeting.has_value());
  EXPECT_NEAR(-20 + 20 * meeting->share, -9 + 0.08, 0.01);  // the wall leans by a cell of the sheet, 0.15
  const TipSurface thicker = surface.with_more_allowance(0.5);
  EXPECT_EQ(thicker.bodies(), surface.bodies());
  EXPECT_NEAR(thicker.height({-9.3, 0}), 10 + std::sqrt(1.5 * 1.5 - 1.45 * 1.45), 0.01);
  // Lifted, the path goes over instead of letting the holder into the wall.
  const Polyline2 line{Vec2(-20, 0), Vec2(-4, 0)};
  const auto lines = lift(surface, line, {.tolerance_mm = 0.01});
  ASSERT_EQ(lines.size(), 1u);
  EXPECT_GT(lines[0].back().z(), 10.9);
  const AssemblySurface judge(part, tool, clearance_of(tool));
  for (std::size_t i = 0; i + 1 < lines[0].size(); ++i)
    EXPECT_GE(judge.clearance(lines[0][i], lines[0][i + 1]).clearance.room, -1e-8);
}

TEST(WholeTool, SlopesAreThoseOfTheBodyThatTouches) {
  Rng rng(3);
  const auto part =
      make_contact_part(testing::sheet(Box2(Vec2(-20, -20), Vec2(20, 20)), 60, 60, [](double x, double y) {
        return 3 * std::sin(x / 3) * std::cos(y / 4);
      }));
  Tool tool = short_tool(rng);
  tool.holder = {{9, 9, 9}};
  tool.stickout_mm = tool.flute_length_mm = 2, tool.neck_length_mm = 0;
  const ToolSurface surface(part, tool, {}, std::nullopt);
  int upper = 0;
  for (int i = 0; i < 2000; ++i) {
    const Vec2 p(rng.uniform(-12, 12), rng.uniform(-12, 12));
    const auto touch = surface.touch(p);
    const double h = 1e-6;
    const Vec2 right((surface.height(p + Vec2(h, 0)) - touch->height) / h,
                     (surface.height(p + Vec2(0, h)) - touch->height) / h);
    const Vec2 left((touch->height - surface.height(p - Vec2(h, 0))) / h,
                    (touch->height - surface.height(p - Vec2(0, h))) / h);
    if ((right - left).norm() > 1e-4 || right.norm() > 50) continue;
    upper += touch->body > 0;
    EXPECT_LT((slope_at(surface, p, *touch) - right).norm(), 2e-3 * (1 + right.norm())) << p.transpose();
  }
  EXPECT_GT(upper, 100);
}

}  // namespace
}  // namespace yardpass
