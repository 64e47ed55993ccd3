// Passes that blend between two curves: touches a millimetre, half the stepover, a million triangles, two
// threads.
#include <cmath>

#include "bench.h"
#include "ground.h"
#include "planned_cuts.h"
#include "sheet.h"
#include "yardpass/strategy/morph.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

constexpr double kTolerance = 0.005;

GivenCurves wave(double y, double height) {
  Curve curve;
  for (int i = 0; i <= 240; ++i) curve.points.emplace_back(-60 + 0.5 * i, y + height * std::sin(i / 30.0), 0);
  return {{"wave"}, {curve}};
}

MorphOptions between_waves(double stepover) {
  MorphOptions options;
  options.rails.stepover_mm = stepover;
  options.first = wave(-36, 3), options.last = wave(34, -4);
  return options;
}

DividedRails divided(const ToolSurface& surface, double stepover) {
  const MorphOptions options = between_waves(stepover);
  return {
      surface,
      straight_rails(in_plan(options.first.curves.front()), in_plan(options.last.curves.front()), false, 2),
      stepover,
      {},
      RailMeasure::ridges};
}

}  // namespace

int main() {
  const Tool tool{.name = "ball", .number = 1, .diameter_mm = 6, .spindle_rpm = 12000, .feed_mm_min = 2000};
  const Region area = rectangle(Box2(Vec2(-62, -42), Vec2(62, 42)));
  double small_s = 0;
  for (const auto& [columns, rows] : {std::pair(500, 375), std::pair(820, 610)}) {
    const auto part = make_contact_part(demo::sheet(Box2(Vec2(-80, -60), Vec2(80, 60)), columns, rows, mold));
    const ToolSurface surface(part, tool);
    const Site site{surface, area, nullptr, kTolerance};
    const auto with = [](double stepover) {
      return [stepover](const Site& at) { return cuts_of(between_waves(stepover), at); };
    };
    const std::vector<Planned> best = quickest(site, {{with(0.4), 2}, {with(0.4), 1}, {with(0.2), 2}});
    const Planned &two = best[0], &one = best[1], &half = best[2];
    require_free(surface, two);
    require(one.length_mm == two.length_mm, "passes of one thread and of two");
    const DividedRails rails = divided(surface, 0.4), fine = divided(surface, 0.2);
    std::printf("morph, %zu triangles: %d passes, %.1f m in %.2f s\n", part->mesh().triangles.size(),
                rails.steps() + 1, two.length_mm / 1000, two.seconds);
    row("  touches a millimetre before lifting", static_cast<double>(rails.facts().touches) / two.length_mm,
        "", 20, 10, false);
    row("  half the stepover, time", half.seconds / two.seconds, "x", 4.5, 3, false);
    row("  half the stepover, touches",
        static_cast<double>(fine.facts().touches) / static_cast<double>(rails.facts().touches), "x", 3.5, 2.5,
        false);
    row("  two threads against one", one.seconds / two.seconds, "x", 1.7, 1.9, true);
    if (small_s > 0) row("  against the smaller mesh", two.seconds / small_s, "x", 2, 1.5, false);
    small_s = two.seconds;
  }
  return 0;
}
