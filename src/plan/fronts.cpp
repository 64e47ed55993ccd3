#include "yardpass/plan/fronts.h"

#include <algorithm>
#include <cmath>

#include "plan/front/front_runs.h"
#include "plan/front/front_state.h"
#include "plan/front/middles.h"

namespace yardpass {

namespace {

using detail::FrontLoop;
using detail::FrontPoint;
using detail::FrontRuns;
using detail::FrontState;
using detail::Ground;

/// Beside the area fronts go on a bit, so that they do not lag at its border.
constexpr double kGuard = 3;  // stepovers
/// Less in plan, of the stepover, is no step: walls of 89.99 degrees.
constexpr double kStandsStill = 1e-4;

/// Where fronts advance: around the area, and between it and a start that lies apart.
Region where_fronts_live(const Region& area, const FrontStart& start, double stepover) {
  Region lives = offset(area, kGuard * stepover, 0.1 * stepover);
  Box2 all = lives.box();
  bool apart = false;
  const auto take = [&](const Polyline2& line) {
    for (const Vec2& p : line) {
      apart = apart || !lives.contains(p);
      all.extend(p);
    }
  };
  for (const Polyline2& loop : start.closed.loops) take(loop);
  for (const Polyline2& line : start.open) take(line);
  if (!apart) return lives;
  return offset(rectangle(all), kGuard * stepover, 0.1 * stepover);
}

/// Level ground beside the part, where the start itself lies there.
std::optional<double> ground_beside(const TipSurface& surface, const FrontStart& start) {
  const auto beside = [&](const Polyline2& line) {
    return std::any_of(line.begin(), line.end(), [&](const Vec2& p) { return !surface.touch(p); });
  };
  const auto any = [&](const std::vector<Polyline2>& lines) {
    return std::any_of(lines.begin(), lines.end(), beside);
  };
  if (!any(start.closed.loops) && !any(start.open)) return std::nullopt;
  return surface.part().box().min().z();
}

double area_of(const std::vector<FrontLoop>& loops) {
  double area = 0;
  for (const FrontLoop& loop : loops) area += signed_area(detail::in_plan(loop));
  return area;
}

/// In plan, of what advanced.
double alive_length(const std::vector<detail::FrontChain>& chains) {
  double sum = 0;
  for (const detail::FrontChain& chain : chains)
    for (std::size_t i = 0; i < chain.points.size(); ++i) {
      const FrontPoint &a = chain.points[i], &b = chain.points[(i + 1) % chain.points.size()];
      if (a.live && b.live) sum += (plan(b.tip) - plan(a.tip)).norm();
    }
  return sum;
}

void check(const FrontOptions& options) {
  require(options.stepover_mm > 0, "stepover_mm", "must be above 0");
  require(options.farthest == 0 || options.farthest >= 0.55, "farthest", "must be 0, or at least 0.55");
}

}  // namespace

FrontPasses fronts_from(const TipSurface& surface, const Region& area, const FrontStart& start,
                        const FrontOptions& options, const Progress& progress) {
  check(options);
  FrontPasses result;
  if (area.empty() || (start.closed.empty() && start.open.empty())) return result;
  const Ground ground(surface, ground_beside(surface, start));
  const Region lives = where_fronts_live(area, start, options.stepover_mm);
  const detail::Bands alive(lives);
  FrontState state(ground, options, [&](const Vec2& p) { return alive.contains(p); });
  state.start(start, lives);
  FrontRuns runs(area, options);
  runs.add(state.loops, 0, result.passes);
  double done = area_of(state.loops);
  const double first = done;
  const double last = first + lives.area_mm2();  // a guess, for the progress
  detail::FrontCounts more;
  for (std::int32_t step = 1; state.step(); ++step) {
    report(progress, std::clamp((done - first) / std::max(1e-9, last - first), 0.0, 0.99));
    // What still lives along the border of what is touched may go to and fro there.
    const double now = area_of(state.loops);
    if (!(now - done > kStandsStill * options.stepover_mm * alive_length(state.before))) break;
    done = now;
    if (options.farthest > 0)
      for (const FrontLoop& outline : detail::middles_of(state, ground, runs, options, more))
        runs.add_middle(outline, step, result.passes);
    runs.add(state.loops, step, result.passes);
  }
  if (options.farthest > 0) runs.add_border(ground, result.passes, more);
  state.counts.add(more);
  result.touches = state.counts.touches;
  result.rays = state.counts.rays;
  result.bisected = state.counts.bisected;
  result.jumps = state.counts.jumps;
  result.highest_jump_mm = state.counts.highest_jump;
  result.jump_at = state.counts.jump_at;
  return result;
}

}  // namespace yardpass
