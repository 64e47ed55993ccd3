// Passes that blend between two curves: touches a millimetre, half the stepover, a million triangles, two
// threads.
#include <tbb/global_control.h>

#include <cmath>

#include "bench.h"
#include "ground.h"
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

struct Planned {
  double seconds = 0, length_mm = 0;
  std::vector<Cut> cuts;
};

Planned plan(const ToolSurface& surface, const Region& area, double stepover, std::size_t threads) {
  tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
  Planned planned;
  const double start = now_s();
  CutPlan plan = cuts_of(between_waves(stepover), Site{surface, area, nullptr, kTolerance});
  planned.seconds = now_s() - start;
  for (CutGroup& group : plan.groups)
    for (Cut& cut : group.cuts) {
      planned.length_mm += length(std::span<const Vec3>(cut.points));
      planned.cuts.push_back(std::move(cut));
    }
  return planned;
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

void check(const ToolSurface& surface, const Planned& planned) {
  std::int64_t wrong = 0;
  for (const Cut& cut : planned.cuts)
    for (std::size_t i = 0; i + 1 < cut.points.size(); ++i)
      wrong += surface.clearance(cut.points[i], cut.points[i + 1], 0.0).room < -kTouchError;
  require(wrong == 0, "passes free of the part");
}

}  // namespace

int main() {
  const Tool tool{.name = "ball", .number = 1, .diameter_mm = 6, .spindle_rpm = 12000, .feed_mm_min = 2000};
  const Region area = rectangle(Box2(Vec2(-62, -42), Vec2(62, 42)));
  double small_s = 0;
  for (const auto& [columns, rows] : {std::pair(500, 375), std::pair(820, 610)}) {
    const auto part = make_contact_part(demo::sheet(Box2(Vec2(-80, -60), Vec2(80, 60)), columns, rows, mold));
    const ToolSurface surface(part, tool);
    Planned one, two, half;
    for (int k = 0; k < 3; ++k) {
      const auto better = [&](Planned& best, double stepover, std::size_t threads) {
        Planned now = plan(surface, area, stepover, threads);
        if (k == 0 || now.seconds < best.seconds) best = std::move(now);
      };
      better(two, 0.4, 2);
      better(one, 0.4, 1);
      better(half, 0.2, 2);
    }
    check(surface, two);
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
