// Smooth motion by its promises: every block of the program as it is read back is free of the part and leaves
// no more than the tolerance; fewer blocks; level cuts level; the same with any number of threads.
#include "yardpass/link/smooth.h"

#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include <cmath>

#include "parts.h"
#include "support/grounds.h"
#include "support/turned_parts.h"
#include "yardpass/contact/along_line.h"
#include "yardpass/link/link.h"
#include "yardpass/path/motion.h"
#include "yardpass/post/read_program.h"
#include "yardpass/post/write_program.h"
#include "yardpass/strategy/waterline.h"

namespace yardpass {
namespace {

using testing::Rng;

constexpr double kTolerance = 0.01;

/// Cuts with nothing between but straight ways at feed over a high plane: only the cuts are looked at.
Toolpath path_of(const CutPlan& plan, const ToolSurface& surface) {
  Toolpath path;
  path.tool = surface.tool();
  path.rounding_reserve_mm = surface.rounding_reserve_mm();
  const double high = surface.part().box().max().z() + 10;
  path.start = Vec3(0, 0, high);
  for (const Cut& cut : testing::all_cuts(plan)) {
    Polyline3 line = cut.points;
    if (cut.closed) line.push_back(line.front());
    const auto index = static_cast<std::int32_t>(path.cuts.size());
    path.cuts.push_back({0, cut.pass});
    path.moves.push_back({with_z(yardpass::plan(line.front()), high), MoveKind::rapid, 0, index});
    path.moves.push_back({line.front(), MoveKind::plunge, 600, index});
    for (std::size_t i = 1; i < line.size(); ++i) path.moves.push_back({line[i], MoveKind::cut, 1800, index});
    path.moves.push_back({with_z(yardpass::plan(line.back()), high), MoveKind::rapid, 0, index});
  }
  return path;
}

struct Smoothed {
  Toolpath before, after;
  Program program;  ///< of `after`, read back
};

Smoothed smoothed(const CutPlan& plan, const ToolSurface& surface, SmoothOptions options = {},
                  std::int64_t most_kept = 0) {
  Smoothed result;
  result.before = path_of(plan, surface);
  const ToolSurface exact(surface.shared_part(), surface.tool(), {}, std::nullopt);
  const SmoothedPath smooth = yardpass::smooth(result.before, exact, options);
  EXPECT_LE(smooth.kept_runs, most_kept);
  result.after = smooth.path;
  const OperationPath operation{1, "smooth", &result.after};
  Controller controller;
  controller.arcs_by_radius = options.posted.arcs_by_radius;
  controller.arc_planes = options.planes;
  result.program = read_program(write_program("t", std::span(&operation, 1), controller).text, "smooth.nc");
  return result;
}

/// As read back: no gouge, and a tool thicker by tolerance and rounding would meet the part everywhere.
void expect_proven(const Smoothed& smoothed, const std::shared_ptr<const ContactPart>& part,
                   double tolerance_mm = kTolerance) {
  const TipSurface surface(part, profile_of(smoothed.after.tool));
  const TipSurface thicker = surface.with_more_allowance(tolerance_mm + 2 * rounding_reserve({}) + 1e-4);
  const TipSurface thicker_by_sagitta = surface.with_more_allowance(1e-4);
  std::size_t arcs = 0;
  for (const ProgramMove& move : smoothed.program.moves) {
    if (move.rapid() || move.feed_mm_min == 600) continue;
    arcs += move.arc >= 0;
    const std::vector<Vec3> points = smoothed.program.points_of(move, 1e-4);
    const TipSurface& by = move.arc < 0 ? surface : thicker_by_sagitta;
    for (std::size_t i = 0; i + 1 < points.size(); ++i) {
      ASSERT_GE(by.clearance(points[i], points[i + 1], 0.0).room, -kTouchError) << "line " << move.line;
      ASSERT_TRUE(covered(thicker, points[i], points[i + 1]).whole) << "line " << move.line;
    }
    // And by another way: how deep the cutter is in the part at places of the very arc.
    for (std::size_t i = 0; i < points.size(); i += 7)
      ASSERT_GE(room_around(surface, points[i], points[i], 0.1), -1e-6) << "line " << move.line;
  }
  EXPECT_EQ(arcs, smoothed.after.arcs.size());
}

double times_fewer(const Smoothed& smoothed) {
  return static_cast<double>(motion_of(smoothed.before).blocks) /
         static_cast<double>(motion_of(smoothed.after).blocks);
}

CutPlan passes(const ToolSurface& surface, double stepover, double angle = 0) {
  ParallelOptions options;
  options.stepover_mm = stepover, options.angle_deg = angle;
  const Region area = rectangle(plan(surface.part().box()));
  return cuts_of(options, Site{surface, area, nullptr, kTolerance});
}

CutPlan waterlines(const ToolSurface& surface, double stepdown) {
  const Region area = offset(rectangle(plan(surface.part().box())), 5);
  return cuts_of(WaterlineOptions{.stepdown_mm = stepdown}, Site{surface, area, nullptr, kTolerance});
}

std::shared_ptr<const ContactPart> sphere() {
  return make_contact_part(testing::turned_part(testing::arc_chain({0, 0}, 40, 1e-3, 89.999, 300), 720));
}

TEST(Smooth, PassesOverASphereAreAFewArcs) {
  const auto part = sphere();
  const ToolSurface surface(part, testing::ball_tool(6));
  const Smoothed result = smoothed(passes(surface, 12), surface);
  expect_proven(result, part);
  EXPECT_GT(times_fewer(result), 4);
  for (const Arc& arc : result.after.arcs) EXPECT_EQ(arc.plane, ArcPlane::zx);
}

TEST(Smooth, WaterlinesRoundASphereAreArcsOfOneCircle) {
  const auto part = sphere();
  const ToolSurface surface(part, testing::ball_tool(6));
  const Smoothed result = smoothed(waterlines(surface, 8), surface);
  expect_proven(result, part);
  EXPECT_GT(times_fewer(result), 10);
  for (const Arc& arc : result.after.arcs) {
    EXPECT_EQ(arc.plane, ArcPlane::xy);
    EXPECT_EQ(arc.rise(), 0) << "level cuts stay level";
    const double radius = std::sqrt(43 * 43 - (arc.start.z() + 3) * (arc.start.z() + 3));
    if (arc.length() > 5) EXPECT_NEAR(arc.start_radius(), radius, 0.01 * radius);
  }
  const MotionStatistics before = motion_of(result.before), after = motion_of(result.after);
  EXPECT_LT(after.turn_most_deg, before.turn_most_deg);
  EXPECT_NEAR(after.length_mm, before.length_mm, 1e-3 * before.length_mm);
}

TEST(Smooth, DemoPartsByPassesAndWaterlines) {
  for (const auto& [name, mesh] :
       {std::pair("blade", demo::paddle_blade_mold()), std::pair("punch", demo::fairlead_punch())}) {
    const auto part = make_contact_part(mesh);
    const ToolSurface surface(part, testing::ball_tool(6));
    SCOPED_TRACE(name);
    const Smoothed across = smoothed(passes(surface, 5), surface);
    expect_proven(across, part);
    EXPECT_GT(times_fewer(across), 4);
    const Smoothed round = smoothed(waterlines(surface, 7), surface);
    expect_proven(round, part);
    EXPECT_GT(times_fewer(round), 5);
  }
}

TEST(Smooth, AScanHasFewerBlocksToo) {
  Rng rng(3);
  const Box2 box(Vec2(-20, -20), Vec2(20, 20));
  const auto part = make_contact_part(demo::sheet(box, 80, 80, [&](double x, double y) {
    return 3 * std::sin(x / 7 + y / 9) + rng.uniform(-0.005, 0.005);
  }));
  const ToolSurface surface(part, testing::ball_tool(6));
  const Smoothed result = smoothed(passes(surface, 4), surface);
  expect_proven(result, part);
  EXPECT_GT(times_fewer(result), 2.5);
}

/// Cutters of every shape over ground of every kind.
TEST(Smooth, IsProvenForEveryCutterOnEveryGround) {
  for (const testing::Ground& ground : testing::grounds()) {
    const auto part = make_contact_part(ground.mesh);
    for (const Shape shape : {Shape::ball, Shape::flat, Shape::bull, Shape::taper}) {
      SCOPED_TRACE(std::string(ground.name) + " " + name_of(shape));
      const ToolSurface surface(part, testing::tool_of(shape));
      expect_proven(smoothed(passes(surface, 5), surface), part);
      expect_proven(smoothed(passes(surface, 9, 30), surface), part);
    }
  }
}

TEST(Smooth, PassesAtAnAngleHaveNoArcsButHelices) {
  const auto part = sphere();
  const ToolSurface surface(part, testing::ball_tool(6));
  const Smoothed result = smoothed(passes(surface, 20, 45), surface);
  expect_proven(result, part);
  for (const Arc& arc : result.after.arcs)
    EXPECT_NE(arc.plane, ArcPlane::xy) << "seen from above it is a line";
  const Smoothed none = smoothed(passes(surface, 20), surface, {.planes = {false, false, false}});
  EXPECT_TRUE(none.after.arcs.empty());
  expect_proven(none, part);
}

TEST(Smooth, ArcsByRadiusAreReadBackAsTheyWereProven) {
  const auto part = sphere();
  const ToolSurface surface(part, testing::ball_tool(6));
  SmoothOptions options;
  options.posted.arcs_by_radius = true;
  const Smoothed result = smoothed(waterlines(surface, 5), surface, options);
  ASSERT_GT(result.after.arcs.size(), 20u);
  expect_proven(result, part);
  ASSERT_EQ(result.program.arcs.size(), result.after.arcs.size());
  for (std::size_t i = 0; i < result.program.arcs.size(); ++i) {
    EXPECT_LT((result.program.arcs[i].centre - result.after.arcs[i].centre).norm(), 1e-6);
    EXPECT_NEAR(result.program.arcs[i].turn_rad, result.after.arcs[i].turn_rad, 1e-9);
  }
}

/// A loop through the air above a floor, as where a level is cleared.
TEST(Smooth, WhereNothingIsTouchedItStaysByTheLine) {
  const auto part = make_contact_part(
      demo::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [](double, double) { return 0.0; }));
  const ToolSurface surface(part, testing::flat_tool(10));
  Cut cut;
  for (int i = 0; i < 200; ++i) {
    const double angle = 2 * std::numbers::pi * i / 200;
    cut.points.emplace_back(20 * std::cos(angle), 12 * std::sin(angle), 3);
  }
  cut.closed = true;
  const Smoothed result = smoothed(plan_of({cut}), surface);
  EXPECT_GT(times_fewer(result), 4);
  Polyline3 line = cut.points;
  line.push_back(line.front());
  for (const Arc& arc : result.after.arcs)
    for (const Vec3& p : chord_points(arc, 1e-4)) {
      double off = 1e300;
      for (std::size_t i = 0; i + 1 < line.size(); ++i)
        off = std::min(off, distance_to_segment(p, line[i], line[i + 1]));
      EXPECT_LT(off, 0.4 * kTolerance + 0.001);
    }
}

/// A cut that sags by less than the tolerance lets itself go: as one line it would run over what is kept out.
TEST(Smooth, CutsDoNotRunOverWhatIsKeptOut) {
  const auto part = make_contact_part(
      demo::sheet(Box2(Vec2(-40, -40), Vec2(40, 40)), 2, 2, [](double, double) { return 0.0; }));
  const ToolSurface surface(part, testing::flat_tool(10));
  Cut cut;
  Polyline2 loop;
  for (int i = -20; i <= 20; ++i) {
    const double y = -0.004 * (1 - i * i / 400.0);
    cut.points.emplace_back(i, y, 3);
    loop.emplace_back(i, y + 0.002);
  }
  loop.emplace_back(20, 5), loop.emplace_back(-20, 5);
  SmoothOptions options;
  EXPECT_EQ(motion_of(smoothed(plan_of({cut}), surface, options).after).blocks, 1);
  options.keep_out.loops.push_back(loop);
  const Smoothed result = smoothed(plan_of({cut}), surface, options);
  const Region deep_within = offset(options.keep_out, -0.001);
  for (const ProgramMove& move : result.program.moves) {
    if (move.rapid() || move.feed_mm_min == 600) continue;
    EXPECT_TRUE(inside(deep_within, plan(move.from), plan(move.to)).empty()) << "line " << move.line;
  }
  EXPECT_LT(motion_of(result.after).blocks, 20);
}

TEST(Smooth, GivesTheSameWithAnyNumberOfThreads) {
  const auto part = make_contact_part(demo::fairlead_punch());
  const ToolSurface surface(part, testing::ball_tool(6));
  const CutPlan plan = passes(surface, 9);
  const auto moves_with = [&](std::size_t threads) {
    const tbb::global_control cores(tbb::global_control::max_allowed_parallelism, threads);
    return smoothed(plan, surface).after;
  };
  const Toolpath one = moves_with(1), two = moves_with(2);
  ASSERT_EQ(one.moves.size(), two.moves.size());
  for (std::size_t i = 0; i < one.moves.size(); ++i) {
    EXPECT_EQ(one.moves[i].to, two.moves[i].to);
    EXPECT_EQ(one.moves[i].arc, two.moves[i].arc);
  }
}

TEST(Smooth, CanBeStoppedAndRefusesWhatMakesNoSense) {
  const auto part = sphere();
  const ToolSurface surface(part, testing::ball_tool(6));
  const Toolpath path = path_of(passes(surface, 12), surface);
  EXPECT_THROW((void)smooth(path, surface, {}, [](double) { return false; }), Stopped);
  EXPECT_THROW((void)smooth(path, surface, {.tolerance_mm = 0}), Error);
  EXPECT_THROW((void)smooth(path, surface, {.posted = {.step_mm = 0}}), Error);
}

TEST(Motion, CountsBlocksAndTurns) {
  Toolpath path;
  path.start = Vec3(0, 0, 0);
  path.cuts.resize(1);
  path.moves = {{Vec3(10, 0, 0), MoveKind::cut, 100, 0}, {Vec3(10, 10, 0), MoveKind::cut, 100, 0}};
  path.arcs.push_back(Arc::in_plan(Vec3(10, 10, 0), Vec2(0, 10), std::numbers::pi / 2, 0));
  path.moves.push_back({path.arcs[0].end, MoveKind::cut, 100, 0, 0});
  const MotionStatistics motion = motion_of(path);
  EXPECT_EQ(motion.blocks, 3);
  EXPECT_EQ(motion.arcs, 1);
  EXPECT_NEAR(motion.turn_greatest_deg, 90, 1e-9) << "the arc goes on as the line before it ends";
  EXPECT_EQ(motion.greatest_at, Vec3(10, 0, 0));
  EXPECT_NEAR(motion.length_mm, 20 + 5 * std::numbers::pi, 1e-9);
  EXPECT_NEAR(motion.shortest_mm, 10, 1e-12);
  EXPECT_NEAR(measure(path).cut_mm, motion.length_mm, 1e-9);
}

}  // namespace
}  // namespace yardpass
