// Roughing: what an exact outline of a level costs, and a die of a million triangles from mesh to cuts.
#include <tbb/global_control.h>
#include <tbb/info.h>

#include <cmath>
#include <cstring>

#include "bench.h"
#include "sheet.h"
#include "yardpass/plan/level_area.h"
#include "yardpass/strategy/roughing.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

Tool flat(double diameter) {
  return {.name = "flat",
          .number = 1,
          .shape = Shape::flat,
          .diameter_mm = diameter,
          .spindle_rpm = 6000,
          .feed_mm_min = 2000};
}

double smooth(double x, double y) {
  return -12 + 9 * std::sin(x / 19 + 0.3) * std::cos(y / 23) + 3 * std::sin((x + 2 * y) / 41);
}

/// A hull-like cavity with a keel, ribs across it and a rim, 600 x 400 and 45 deep.
double die(double x, double y) {
  const double u = x / 280, v = y / 170;
  const double hull = -42 * std::max(0.0, 1 - u * u * u * u) * (1 - 0.55 * v * v);
  const double rib = 5 * std::exp(-std::pow(std::fmod(std::abs(x) + 35, 70) - 35, 2) / 18);
  const double keel = 9 * std::exp(-y * y / 60);
  const double edge = std::clamp(6 * (1 - std::hypot(x / 290, y / 190)) * 30, 0.0, 1.0);
  return std::min(0.0, (hull + rib + keel) * edge);
}

double touch_time(const TipSurface& surface) {
  double sum = 0;
  const double time = seconds_per_call(0.5, 200000, [&](long i) {
    sum += surface.height({10 + std::fmod(0.1 * static_cast<double>(i), 80),
                           10 + 0.31 * std::floor(static_cast<double>(i) / 800)});
  });
  require(std::isfinite(sum), "heights");
  return time;
}

double outline_of(const Region& region) {
  double sum = 0;
  for (const Polyline2& loop : region.loops)
    for (std::size_t i = 0; i < loop.size(); ++i) sum += (loop[(i + 1) % loop.size()] - loop[i]).norm();
  return sum;
}

void bench_outlines() {
  tbb::global_control one_core(tbb::global_control::max_allowed_parallelism, 1);
  const Box2 box(Vec2(0, 0), Vec2(100, 100));
  const auto part = make_contact_part(demo::sheet(box, 320, 320, smooth));
  for (const auto& [name, cutter] :
       {std::pair("flat 10", Profile::flat(10)), std::pair("ball 10", Profile::ball(10)),
        std::pair("bull 10 r 1", Profile::bull(10, 1))}) {
    const TipSurface surface(part, cutter, {.allowance_mm = 0.3});
    const double touch = touch_time(surface);
    const Box2 inside(Vec2(6, 6), Vec2(94, 94));
    double start = now_s();
    const LevelAreas areas(surface, inside, {.tolerance_mm = 0.02});
    const double nodes = now_s() - start;
    double length = 0, spent = 0;
    std::int64_t unproven = 0;
    for (const double z : {-18.0, -14.0, -10.0, -6.0}) {
      start = now_s();
      const LevelArea level = areas.at(z);
      spent += now_s() - start;
      length += outline_of(level.area);
      unproven += level.unproven;
    }
    require(length > 100 && unproven < 4, "outlines of levels, proven");
    std::printf(
        "%-12s a touch in %.2f us; heights of all nodes once: %.0f touches; then %.1f touches a mm of "
        "outline\n",
        name, 1e6 * touch, nodes / touch, spent / touch / length);
  }
}

void bench_die() {
  const Box2 box(Vec2(-300, -200), Vec2(300, 200));
  double start = now_s();
  const auto part = make_contact_part(demo::sheet(box, 866, 578, die));
  const double indexed = now_s() - start;
  const ToolSurface surface(part, flat(16), {.allowance_mm = 0.5});
  const Stock block(Box3(Vec3(-300, -200, -60), Vec3(300, 200, 1)), 0.5);
  const Region area = rectangle(box);
  RoughingOptions options{.stepdown_mm = 1,
                          .stepover_mm = 7.2,
                          .corner_radius_mm = 0.64,
                          .helix_radius_mm = 4,
                          .least_helix_mm = 1.2,
                          .may_leave = true};
  const TipSurface plain(part, surface.cutter(), {.allowance_mm = 0.5});
  std::printf("die 600 x 400, %zu triangles, steps of 1: indexed in %.1f s\n", part->mesh().triangles.size(),
              indexed);
  for (const LevelPattern pattern : {LevelPattern::loops, LevelPattern::bounded}) {
    options.pattern = pattern;
    start = now_s();
    const CutPlan plan = cuts_of(options, {surface, area, &block, 0.08});
    const double spent = now_s() - start;
    double length = 0;
    std::size_t points = 0;
    for (const CutGroup& group : plan.groups)
      for (const Cut& cut : group.cuts) {
        length += yardpass::length(std::span<const Vec3>(cut.points));
        points += cut.points.size();
        for (std::size_t i = 1; i < cut.points.size(); ++i)
          require(plain.clearance(cut.points[i - 1], cut.points[i], 0.0).room >= -1e-9, "no cut gouges");
      }
    std::printf("  %zu areas, %zu cuts, %.1f m, %zu points\n", plan.groups.size(), plan.cut_count(),
                length / 1000, points);
    for (const SettledValue& fact : plan.facts)
      std::printf("  %s: %s %g\n", fact.key.c_str(), fact.value.words.c_str(), fact.value.value[0]);
    if (pattern == LevelPattern::loops)
      row("  loops, planned on all cores", spent, "s", 300, 120, false);
    else
      row("  bounded engagement, planned on all cores", spent, "s", 600, 300, false);
  }
}

}  // namespace

int main() {
  bench_outlines();
  bench_die();
}
