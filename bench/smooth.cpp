// Smooth motion: how many blocks fewer, how much time it takes beside planning the same passes, and whether
// cutting takes longer; every block is proven as it is read back before anything is told.
#include <cmath>
#include <random>
#include <string>

#include "bench.h"
#include "parts.h"
#include "sheet.h"
#include "yardpass/contact/along_line.h"
#include "yardpass/contact/arcs.h"
#include "yardpass/link/smooth.h"
#include "yardpass/path/motion.h"
#include "yardpass/plan/trim.h"
#include "yardpass/post/read_program.h"
#include "yardpass/post/write_program.h"
#include "yardpass/strategy/parallel.h"
#include "yardpass/strategy/waterline.h"
#include "yardpass/verify/time.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

constexpr double kTolerance = 0.01, kSagitta = 1e-4;

Toolpath path_of(const CutPlan& plan, const ToolSurface& surface) {
  Toolpath path;
  path.tool = surface.tool();
  path.rounding_reserve_mm = surface.rounding_reserve_mm();
  const double high = surface.part().box().max().z() + 10;
  path.start = Vec3(0, 0, high);
  for (const CutGroup& group : plan.groups)
    for (const Cut& cut : group.cuts) {
      Polyline3 line = cut.points;
      if (cut.closed) line.push_back(line.front());
      const auto index = static_cast<std::int32_t>(path.cuts.size());
      path.cuts.push_back({0, cut.pass});
      path.moves.push_back({with_z(yardpass::plan(line.front()), high), MoveKind::rapid, 0, index});
      path.moves.push_back({line.front(), MoveKind::plunge, 600, index});
      for (std::size_t i = 1; i < line.size(); ++i)
        path.moves.push_back({line[i], MoveKind::cut, path.tool.feed_mm_min, index});
      path.moves.push_back({with_z(yardpass::plan(line.back()), high), MoveKind::rapid, 0, index});
    }
  return path;
}

Program posted_program(const Toolpath& path) {
  const OperationPath operation{1, "bench", &path};
  return read_program(write_program("bench", std::span(&operation, 1)).text, "bench.nc");
}

void prove(const Program& program, const TipSurface& surface) {
  const TipSurface thicker = surface.with_more_allowance(kSagitta),
                   most = surface.with_more_allowance(kTolerance + 2 * rounding_reserve({}) + kSagitta);
  std::int64_t gouges = 0, off = 0;
  for (const ProgramMove& move : program.moves) {
    if (move.rapid() || move.feed_mm_min == 600) continue;
    const Arc* const arc = program.arc_of(move);
    gouges += arc ? clearance_by_thicker(thicker, *arc, kSagitta, 0.0).room < -1e-9
                  : surface.clearance(move.from, move.to, 0.0).room < -1e-9;
    const std::vector<Vec3> points = program.points_of(move, kSagitta);
    for (std::size_t i = 0; i + 1 < points.size(); ++i) off += !covered(most, points[i], points[i + 1]).whole;
  }
  require(gouges == 0, "every block free of the part, as read back");
  require(off * 500 < static_cast<std::int64_t>(program.moves.size()),
          "every block on the part, but at walls");
}

double cutting_s(const Program& program) {
  double seconds = 0;
  for (const OperationTime& time : times_of(program, MachineMotion{})) seconds += time.feed_s;
  return seconds;
}

void run(const std::string& name, const Mesh& mesh, bool waterlines, double step, double wanted) {
  const auto part = make_contact_part(mesh);
  Tool tool{.name = "ball", .number = 1, .diameter_mm = 6, .spindle_rpm = 12000, .feed_mm_min = 1800};
  const ToolSurface surface(part, tool);
  Region area = rectangle(plan(mesh.box()));
  if (waterlines) area = offset(area, 5);
  ParallelOptions rows;
  rows.stepover_mm = step;
  double plan_s = now_s();
  const CutPlan plan =
      cuts_within(Bounds{area}, surface, nullptr, kTolerance,
                  [&](const Site& site, const Progress& progress) {
                    return waterlines ? cuts_of(WaterlineOptions{.stepdown_mm = step}, site, progress)
                                      : cuts_of(rows, site, progress);
                  })
          .plan;
  plan_s = now_s() - plan_s;
  const Toolpath before = path_of(plan, surface);
  const ToolSurface exact(part, tool, {}, std::nullopt);
  double smooth_s = now_s();
  const SmoothedPath smoothed = smooth(before, exact, {.tolerance_mm = kTolerance});
  smooth_s = now_s() - smooth_s;
  const Program program = posted_program(smoothed.path);
  prove(program, TipSurface(part, profile_of(surface.tool())));
  const MotionStatistics was = motion_of(before), is = motion_of(smoothed.path);
  std::printf(
      "%s: %.1f m, %lld blocks -> %lld (%lld arcs), not proven %lld; planned in %.2f s, smoothed in %.2f s\n",
      name.c_str(), is.length_mm / 1000, static_cast<long long>(was.blocks),
      static_cast<long long>(is.blocks), static_cast<long long>(is.arcs),
      static_cast<long long>(smoothed.kept_runs), plan_s, smooth_s);
  std::printf(
      "  shortest %.3f -> %.3f mm, half %.2f -> %.2f mm; turn half %.2f -> %.2f, 95 %% %.1f -> %.1f, worst "
      "%.0f -> %.0f\n",
      was.shortest_mm, is.shortest_mm, was.half_mm, is.half_mm, was.turn_half_deg, is.turn_half_deg,
      was.turn_most_deg, is.turn_most_deg, was.turn_greatest_deg, is.turn_greatest_deg);
  row("  blocks fewer", static_cast<double>(was.blocks) / static_cast<double>(is.blocks), "x", wanted,
      1.5 * wanted, true);
  row("  smoothing against planning, time", smooth_s / plan_s, "x", 1, 0.5, false);
  row("  cutting time against before", cutting_s(program) / cutting_s(posted_program(before)), "x", 1.0005,
      0.99, false);
}

}  // namespace

int main() {
  const std::pair<const char*, Mesh> parts[] = {{"paddle blade", demo::paddle_blade_mold()},
                                                {"fairlead punch", demo::fairlead_punch()},
                                                {"hull plug", demo::hull_plug()},
                                                {"porthole ring", demo::porthole_ring()}};
  for (const auto& [name, mesh] : parts) {
    run(std::string(name) + ", passes", mesh, false, 3, 4);
    run(std::string(name) + ", waterlines", mesh, true, 3, 10);
  }
  std::mt19937 random(3);
  const auto noise = [&] { return 0.01 * (static_cast<double>(random()) / 4294967296.0 - 0.5); };
  const Mesh scan = demo::sheet(Box2(Vec2(-50, -50), Vec2(50, 50)), 200, 200, [&](double x, double y) {
    return 3 * std::sin(x / 7 + y / 9) + 4 * std::cos(x / 20) + noise();
  });
  run("scan, noise 0.005", scan, false, 3, 2.5);
  return 0;
}
