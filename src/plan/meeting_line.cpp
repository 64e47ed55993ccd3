#include "plan/meeting_line.h"

#include <algorithm>

#include "geom/bands.h"
#include "geom/more_points.h"
#include "plan/touched_area.h"

namespace yardpass::detail {

namespace {

constexpr double kReach = 0.06;  // mm: both areas are found within that, together
constexpr double kShared = 0.02, kFiner = 0.002;

struct Run {
  std::size_t first = 0, count = 0;
};

/// Of a loop, the longest stretch of places that hold; interruptions by fewer than `bridged` do not count.
Run longest_run(const std::vector<char>& holds, std::size_t bridged) {
  const std::size_t n = holds.size();
  const auto outside = std::find(holds.begin(), holds.end(), char{0});
  if (outside == holds.end()) return {0, n};
  const auto start = static_cast<std::size_t>(outside - holds.begin());
  Run best, now;
  std::size_t missing = n;
  for (std::size_t k = 0; k < n; ++k) {
    const std::size_t i = (start + k) % n;
    if (!holds[i]) {
      ++missing;
      continue;
    }
    if (missing > bridged || now.count == 0)
      now = {i, 1};
    else
      now.count = (i + n - now.first) % n + 1;
    missing = 0;
    if (now.count > best.count) best = now;
  }
  return best;
}

}  // namespace

Curve meeting_line(const ToolSurface& surface, const Region& strip, const Region& neighbour,
                   double tolerance_mm) {
  const double radius = surface.cutter().radius();
  const Region zone = offset(strip, 2 * radius + 1);
  // A little wider: an edge that both share is touched for a long way, and belongs to both.
  const auto touched = [&](const Region& area) {
    return touched_area(surface, zone, TouchRule(offset(area, kShared), {}, tolerance_mm));
  };
  const Bands beside(offset(touched(neighbour), kReach));
  const double apart = radius / 16;
  Curve best;
  double longest = 0;
  for (const Polyline2& loop : touched(strip).loops) {
    const Polyline2 places = with_more_points(loop, true, apart);
    std::vector<char> holds;
    for (const Vec2& place : places) holds.push_back(beside.contains(place) ? 1 : 0);
    const Run run = longest_run(holds, 16);
    if (run.count < 2) continue;
    Polyline2 line;
    for (std::size_t k = 0; k < run.count; ++k) line.push_back(places[(run.first + k) % places.size()]);
    const bool closed = run.count == places.size();
    const double size = length(std::span<const Vec2>(line));
    if (size <= longest) continue;
    longest = size;
    best.closed = closed;
    best.points.clear();
    for (const Vec2& p : closed ? simplify_loop(std::span<const Vec2>(line), kFiner)
                                : simplify(std::span<const Vec2>(line), kFiner))
      best.points.push_back(with_z(p, 0));
  }
  if (longest < radius) throw Error("the tool touches both areas at once nowhere along its radius or more");
  return best;
}

}  // namespace yardpass::detail
