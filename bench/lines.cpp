// Questions along lines, in touches' time: the time of one touch in pass order on the same part in the same
// run. One core.
#include <tbb/global_control.h>

#include <cmath>
#include <numbers>

#include "bench.h"
#include "sheet.h"
#include "yardpass/contact/arcs.h"
#include "yardpass/contact/push.h"
#include "yardpass/contact/slope.h"
#include "yardpass/contact/tube.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

constexpr double kSide = 100;

double smooth(double x, double y) {
  return 9 * std::sin(x / 19 + 0.3) * std::cos(y / 23) + 4 * std::sin((x + 2 * y) / 41) +
         0.6 * std::sin(x / 5) * std::sin(y / 6);
}

/// The same with the noise of a scan, 0.03 mm, and a step of 6 mm along its middle.
double scanned(double x, double y) {
  const double noise = std::sin(12.9898 * x * 311 + 78.233 * y * 173) * 43758.5453;
  return smooth(x, y) + 0.03 * (noise - std::floor(noise)) +
         (std::abs(x - 50) < 12 && std::abs(y - 50) < 20 ? -6 : 0);
}

void told(const char* work, double value, const char* unit) {
  std::printf("%-66s %9.2f %s\n", work, value, unit);
}

struct Part {
  const char* name;
  std::shared_ptr<const ContactPart> part;
};

std::vector<Part> parts() {
  const Box2 box(Vec2(0, 0), Vec2(kSide, kSide));
  return {{"smooth", make_contact_part(demo::sheet(box, 320, 320, smooth))},
          {"scan", make_contact_part(demo::sheet(box, 320, 320, scanned))},
          {"needles", make_contact_part(demo::sheet(box, 36, 2880, smooth))}};
}

double touch_time(const TipSurface& surface) {
  std::int32_t near = -1;
  double sum = 0;
  const double time = seconds_per_call(0.5, 200000, [&](long i) {
    const Vec2 p(10 + std::fmod(0.1 * static_cast<double>(i), 80),
                 10 + 0.31 * std::floor(static_cast<double>(i) / 800));
    const auto touch = surface.touch(p, near);
    near = touch->triangle;
    sum += touch->height;
  });
  require(std::isfinite(sum), "heights");
  return time;
}

/// Level lines of a grid of 0.8 mm that the contour at z crosses.
std::vector<std::pair<Vec3, Vec3>> crossing_edges(const TipSurface& surface, double z) {
  std::vector<std::pair<Vec3, Vec3>> edges;
  for (double y = 10; y < 90; y += 0.8)
    for (double x = 10; x < 90; x += 0.8) {
      const Vec3 a(x, y, z), b(x + 0.8, y, z);
      if ((surface.height(plan(a)) > z) != (surface.height(plan(b)) > z)) edges.emplace_back(a, b);
    }
  return edges;
}

void bench_pieces(const TipSurface& surface, double touch, const char* name) {
  const auto edges = crossing_edges(surface, -2);
  for (const auto& [a, b] : edges) {
    const auto free = free_pieces(surface, a, b);
    const auto blocked = push(surface, plan(a), plan(b), a.z());
    require(!free.empty() && !blocked.empty(), "a crossing edge is free and blocked");
    double sum = 0;
    for (const LinePiece& piece : free) sum += piece.to - piece.from;
    for (const LinePiece& piece : blocked) sum += piece.to - piece.from;
    require(std::abs(sum - 1) < 1e-7, "free pieces are what push leaves over");
  }
  const auto count = static_cast<long>(edges.size());
  double sum = 0;
  const double leaps = seconds_per_call(0.5, count, [&](long i) {
    const auto& [a, b] = edges[static_cast<std::size_t>(i)];
    sum += free_pieces(surface, a, b).front().from;
  });
  const double pushed = seconds_per_call(0.5, count, [&](long i) {
    const auto& [a, b] = edges[static_cast<std::size_t>(i)];
    sum += push(surface, plan(a), plan(b), a.z()).front().from;
  });
  // Whole lines, as a plain raster of a level would ask them.
  const double line = seconds_per_call(0.5, 100, [&](long i) {
    const double y = 10 + 0.8 * static_cast<double>(i);
    sum += static_cast<double>(push(surface, {10, y}, {90, y}, -2).size());
  });
  const double meeting = seconds_per_call(0.5, count, [&](long i) {
    auto [a, b] = edges[static_cast<std::size_t>(i)];
    if (surface.height(plan(a)) > a.z()) std::swap(a, b);
    const auto met = first_meeting(surface, a, b);
    sum += met ? met->share : 0;
  });
  require(std::isfinite(sum), "sums");
  std::printf("%s: %ld crossing edges at one level\n", name, count);
  told("  free_pieces of a crossing edge, in touches", leaps / touch, "touches");
  told("  first_meeting on a crossing edge, in touches", meeting / touch, "touches");
  told("  push of such an edge against free_pieces", pushed / leaps, "x");
  told("  push of all 100 lines against free_pieces of all crossing edges",
       100 * line / (leaps * static_cast<double>(count)), "x");
}

void bench_proofs(const TipSurface& surface, double touch, const char*) {
  const Tube tube(surface, 0.02);
  std::vector<Vec3> points;
  for (int i = 0; i < 20000; ++i) {
    const int row = i / 320, along = i % 320;  // to and fro, so that each chord is short
    const Vec2 p(10 + 0.25 * (row % 2 == 0 ? along : 319 - along), 10 + 0.31 * row);
    points.push_back(with_z(p, tube.middle().height(p)));
  }
  long held = 0, chords = 0;
  double sum = 0;
  const auto next = [&](long i) { return points[static_cast<std::size_t>(i) + 1]; };
  for (long i = 0; i + 1 < static_cast<long>(points.size()); ++i)
    if ((next(i) - points[static_cast<std::size_t>(i)]).norm() < 2)
      ++chords, held += tube.holds(points[static_cast<std::size_t>(i)], next(i));
  const double low = seconds_per_call(0.5, static_cast<long>(points.size()) - 1, [&](long i) {
    sum += tube.room(points[static_cast<std::size_t>(i)], next(i)).room;
  });
  const double high = seconds_per_call(0.5, static_cast<long>(points.size()) - 1, [&](long i) {
    sum += tube.cover(points[static_cast<std::size_t>(i)], next(i)).share;
  });
  std::vector<Touch> touches;
  for (const Vec3& p : points) touches.push_back(*surface.touch(plan(p)));
  const double slope = seconds_per_call(0.5, static_cast<long>(points.size()), [&](long i) {
    sum += slope_at(surface, plan(points[static_cast<std::size_t>(i)]), touches[static_cast<std::size_t>(i)])
               .x();
  });
  const auto arc_of = [&](long i) {
    const Vec3& a = points[static_cast<std::size_t>(i)];
    return Arc::in_plan(a + Vec3(0, 0, 3), plan(a) + Vec2(0, 3), 0.4, a.z() + 3);
  };
  const double made =
      seconds_per_call(0.5, 2000, [&](long i) { sum += clearance(surface, arc_of(i), 1e-4, 0).room; });
  const double kept = seconds_per_call(0.5, 2000, [&](long i) { sum += tube.room(arc_of(i)).room; });
  require(std::isfinite(sum) && held > 0, "proofs");
  std::printf("  %ld of %ld chords of 0.25 mm hold within 0.02\n", held, chords);
  told("  low side of a chord of 0.25 mm, in touches", low / touch, "touches");
  told("  high side of it, in touches", high / touch, "touches");
  told("  slope at a touch, in touches", slope / touch, "touches");
  told("  arc of 1.2 mm with a surface made for it, in touches", made / touch, "touches");
  told("  the same with one that is kept, in touches", kept / touch, "touches");
}

}  // namespace

int main() {
  tbb::global_control one_core(tbb::global_control::max_allowed_parallelism, 1);
  for (const Part& part : parts())
    for (const auto& [name, cutter] :
         {std::pair("ball 6", Profile::ball(6)), std::pair("bull 6 r 1", Profile::bull(6, 1)),
          std::pair("flat 6", Profile::flat(6))}) {
      const TipSurface surface(part.part, cutter);
      const double touch = touch_time(surface);
      std::printf("\n%s, %s: a touch in %.2f us\n", part.name, name, 1e6 * touch);
      bench_pieces(surface, touch, part.name);
      bench_proofs(surface, touch, part.name);
    }
}
