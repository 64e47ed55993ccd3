// Scallop passes: touches a millimetre, planning against its own lift, half the stepover, a million triangles
// and two thousand steps, two threads.
#include <sys/resource.h>

#include <cmath>

#include "bench.h"
#include "ground.h"
#include "planned_cuts.h"
#include "sheet.h"
#include "yardpass/contact/lift.h"
#include "yardpass/strategy/scallop.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

constexpr double kTolerance = 0.005;

FrontPasses fronts(const ToolSurface& surface, const Region& area, double stepover) {
  FrontStart start;
  start.closed = area;
  start.side = FrontSide::inward;
  return fronts_from(surface, area, start, {.stepover_mm = stepover});
}

/// Drawing the same lines up onto the surface, on one thread.
double lift_s(const ToolSurface& surface, const FrontPasses& passes) {
  const double start = now_s();
  std::size_t points = 0;
  for (const FrontPass& pass : passes.passes) {
    Polyline2 line = pass.line;
    if (pass.closed) line.push_back(line.front());
    for (const Polyline3& lifted : lift(surface, line, {.tolerance_mm = kTolerance})) points += lifted.size();
  }
  require(points > 0, "lifted lines");
  return now_s() - start;
}

double memory_mb() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  return static_cast<double>(usage.ru_maxrss) / 1024;
}

}  // namespace

int main() {
  const Tool tool{.name = "ball", .number = 1, .diameter_mm = 6, .spindle_rpm = 12000, .feed_mm_min = 2000};
  const Region area = rectangle(Box2(Vec2(-60, -40), Vec2(60, 40)));
  {
    const auto part = make_contact_part(demo::sheet(Box2(Vec2(-80, -60), Vec2(80, 60)), 500, 375, mold));
    const ToolSurface surface(part, tool);
    const Site site{surface, area, nullptr, kTolerance};
    const auto with = [](double stepover) {
      return [stepover](const Site& at) { return cuts_of(ScallopOptions{.stepover_mm = stepover}, at); };
    };
    const FrontPasses whole = fronts(surface, area, 0.4), fine = fronts(surface, area, 0.2);
    const std::vector<Planned> best = quickest(site, {{with(0.4), 2}, {with(0.4), 1}, {with(0.2), 2}});
    const Planned &two = best[0], &one = best[1], &half = best[2];
    double lifting = 1e9;
    for (int k = 0; k < 3; ++k) lifting = std::min(lifting, lift_s(surface, whole));
    require_free(surface, two);
    require(one.length_mm == two.length_mm, "passes of one thread and of two");
    require(std::abs(half.length_mm / two.length_mm - 2) < 0.1, "twice the length at half the stepover");
    std::printf("scallop passes, %zu triangles: %zu cuts, %.1f m in %.2f s\n", part->mesh().triangles.size(),
                two.cuts.size(), two.length_mm / 1000, two.seconds);
    row("  touches a millimetre before lifting", static_cast<double>(whole.touches) / two.length_mm, "", 20,
        10, false);
    row("  planning against its own lift, one thread", one.seconds / lifting, "x", 1.5, 1.2, false);
    row("  half the stepover, time", half.seconds / two.seconds, "x", 4.5, 3, false);
    row("  half the stepover, touches",
        static_cast<double>(fine.touches) / static_cast<double>(whole.touches), "x", 3.5, 2.5, false);
    row("  two threads against one", one.seconds / two.seconds, "x", 1.7, 1.9, true);
  }
  const auto part = make_contact_part(demo::sheet(Box2(Vec2(-80, -60), Vec2(80, 60)), 820, 610, mold));
  const ToolSurface surface(part, tool);
  const double start = now_s();
  const FrontPasses many = fronts(surface, rectangle(Box2(Vec2(-50, -38), Vec2(50, 38))), 0.019);
  std::int32_t steps = 0;
  for (const FrontPass& pass : many.passes) steps = std::max(steps, pass.step);
  require(steps > 2000, "two thousand steps");
  std::printf("fronts, %zu triangles, %d steps: %.1f s\n", part->mesh().triangles.size(), steps,
              now_s() - start);
  row("  memory of it all", memory_mb() / 1024, "GB", 4, 1, false);
  return 0;
}
