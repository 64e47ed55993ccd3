// Valleys and rest areas on a million triangles, beside plain touches of the same grids in the same run.
#include <tbb/global_control.h>

#include <cmath>

#include "bench.h"
#include "ground.h"
#include "sheet.h"
#include "yardpass/plan/rest_areas.h"
#include "yardpass/plan/valleys.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

/// A boss and a rib stand in the trough: sharp feet all round.
double with_feet(double x, double y) {
  const double boss = 2 - 2.5 * std::max(0.0, std::hypot(x + 22, y - 4) - 7);
  const double rib = -3 - 3 * std::max(0.0, std::abs(x - 20 + 0.2 * y) - 2) - 0.02 * y * y;
  return std::max({mold(x, y), boss, rib});
}

/// Of three runs the quickest, on so many threads.
template <typename Work>
double quickest(std::size_t threads, const Work& work) {
  tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
  double best = 1e9;
  for (int k = 0; k < 3; ++k) {
    const double start = now_s();
    work();
    best = std::min(best, now_s() - start);
  }
  return best;
}

std::vector<Vec2> grid(const Box2& box, double side) {
  std::vector<Vec2> places;
  for (double y = box.min().y(); y < box.max().y(); y += side)
    for (double x = box.min().x(); x < box.max().x(); x += side) places.emplace_back(x, y);
  return places;
}

}  // namespace

int main() {
  const Box2 box(Vec2(-62, -42), Vec2(62, 42));
  const Region area = rectangle(box);
  for (const auto& [columns, rows] : {std::pair(500, 375), std::pair(820, 610)}) {
    const auto part =
        make_contact_part(demo::sheet(Box2(Vec2(-80, -60), Vec2(80, 60)), columns, rows, with_feet));
    const TipSurface small(part, Profile::ball(6)), large(part, Profile::ball(12));
    Valleys found;
    const auto search = [&] { found = valleys(small, area, {.left_mm = 0.05, .shortest_mm = 10}); };
    const double one = quickest(1, search), two = quickest(2, search);
    double length_mm = 0;
    std::size_t closed = 0;
    for (const Valley& valley : found.lines) length_mm += valley.length_mm, closed += valley.closed;
    require(closed >= 1 && length_mm > 100, "the foot of the boss is closed, and the rib has feet");
    for (const Valley& valley : found.lines)
      for (const Vec2& p : valley.line) require(small.touch(p).has_value(), "valleys lie over the part");
    const std::vector<Vec2> nodes = grid(box, 1);
    const double plain = quickest(2, [&] { (void)heights(small, nodes); });
    std::printf("%zu triangles: %zu valleys, %.0f mm, %.0f touches a node\n", part->mesh().triangles.size(),
                found.lines.size(), length_mm,
                static_cast<double>(found.touches) / static_cast<double>(nodes.size()));
    row("  valleys: time, in touches of the same grid", two / plain, "x", 20, 10, false);
    row("  valleys: two threads against one", one / two, "x", 1.6, 1.9, true);
    RestAreas rest;
    const auto areas = [&] {
      rest = rest_areas(large, small, area, {.threshold_mm = 0.03, .overlap_mm = 0.5});
    };
    const double rest_one = quickest(1, areas), rest_two = quickest(2, areas);
    require(rest.pieces >= 2 && rest.bare.area_mm2() > 50, "rest areas at both feet");
    const std::vector<Vec2> places = grid(box, 0.375);
    const double both = quickest(2, [&] { (void)heights(small, places), (void)heights(large, places); });
    std::printf("  rest areas: %ld pieces, %.0f mm2 in %.2f s\n", static_cast<long>(rest.pieces),
                rest.bare.area_mm2(), rest_two);
    row("  rest areas: time, in touches of both cutters at the same places", rest_two / both, "x", 10, 4,
        false);
    row("  rest areas: two threads against one", rest_one / rest_two, "x", 1.6, 1.9, true);
  }
  return 0;
}
