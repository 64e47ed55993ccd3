// The tip surface: touches, proofs, index, memory. One core unless said.
// Usage: bench_contact [--small]   (--small: up to 1 M triangles)
#include <sys/resource.h>
#include <tbb/global_control.h>

#include <cmath>
#include <cstring>
#include <optional>
#include <vector>

#include "bench.h"
#include "contact/bounds.h"
#include "sheet.h"
#include "yardpass/contact/footprint_scan.h"
#include "yardpass/contact/lift.h"
#include "yardpass/strategy/parallel.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

constexpr double kSide = 300;

double die_face(double x, double y) {
  return 9 * std::sin(x / 19 + 0.3) * std::cos(y / 23) + 4 * std::sin((x + 2 * y) / 41) +
         0.6 * std::sin(x / 5) * std::sin(y / 6);
}

/// A sculpted sheet of 300 x 300 mm with about so many triangles; `stretch`: squares so many times longer
/// than wide.
Mesh sheet(double triangles, double stretch = 1) {
  const int columns = static_cast<int>(std::sqrt(triangles / 2 / stretch)),
            rows = static_cast<int>(columns * stretch);
  return demo::sheet(Box2(Vec2(0, 0), Vec2(kSide, kSide)), columns, rows, die_face);
}

std::vector<Vec2> pass_order(long count) {
  std::vector<Vec2> places;
  for (double y = 15.03; static_cast<long>(places.size()) < count; y += 0.31) {
    if (y > kSide - 15) y = 15.07;
    for (double x = 12.017; x < kSide - 12 && static_cast<long>(places.size()) < count; x += 0.1)
      places.emplace_back(x, y);
  }
  return places;
}

std::vector<Vec2> random_order(long count) {
  std::vector<Vec2> places;
  std::uint64_t state = 42;
  const auto next = [&] {
    state = state * 6364136223846793005ull + 1442695040888963407ull;
    return 12 + (kSide - 24) * static_cast<double>(state >> 11) * 0x1p-53;
  };
  for (long i = 0; i < count; ++i) {
    const double x = next(), y = next();
    places.emplace_back(x, y);
  }
  return places;
}

struct Rates {
  double index = 0, scan = 0;  // touches a second
};

Rates touch_rates(const TipSurface& surface, const std::vector<Vec2>& places, bool with_scan) {
  std::optional<FootprintScan> scan;
  if (with_scan) scan.emplace(surface);
  std::int32_t near = -1;
  if (scan) {
    for (std::size_t i = 0; i < places.size(); i += places.size() / 300) {
      const auto touch = surface.touch(places[i], near);
      require(touch && touch->height == scan->height(places[i]), "touch");
      near = touch->triangle;
    }
  }
  const auto count = static_cast<long>(places.size());
  std::vector<double> heights(places.size());
  Rates rates;
  rates.index = 1 / seconds_per_call(1.0, count, [&](long i) {
                  const auto touch = surface.touch(places[static_cast<std::size_t>(i)], near);
                  near = touch->triangle;
                  heights[static_cast<std::size_t>(i)] = touch->height;
                });
  if (scan)
    rates.scan = 1 / seconds_per_call(1.0, count, [&](long i) {
                   heights[static_cast<std::size_t>(i)] = scan->height(places[static_cast<std::size_t>(i)]);
                 });
  return rates;
}

double resident_mb() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  return static_cast<double>(usage.ru_maxrss) / 1024;
}

/// Touches and proof of a pass in 0.25 mm moves.
void bench_clearance(const TipSurface& surface) {
  const auto places = pass_order(400000);
  std::vector<Vec3> tips;
  std::vector<std::int32_t> near;
  for (std::size_t i = 0; i + 3 < places.size() && tips.size() < 40000; i += 2) {
    if (i % 5 == 1) continue;
    const auto touch = surface.touch(places[i]);
    tips.push_back(with_z(places[i], touch->height));
    near.push_back(touch->triangle);
  }
  const FootprintScan scan(surface);
  for (std::size_t i = 1; i < tips.size(); i += 331) {
    if ((tips[i] - tips[i - 1]).norm() > 1) continue;
    require(surface.clearance(tips[i - 1], tips[i]).room == scan.clearance(tips[i - 1], tips[i]),
            "clearance");
  }
  double sum = 0;
  std::int32_t last = -1;
  const double touch = seconds_per_call(1.0, static_cast<long>(tips.size()) - 1, [&](long i) {
    const auto found = surface.touch(plan(tips[static_cast<std::size_t>(i)]), last);
    last = found->triangle;
    sum += found->height;
  });
  const double proof = seconds_per_call(1.0, static_cast<long>(tips.size()) - 1, [&](long i) {
    const auto k = static_cast<std::size_t>(i);
    if ((tips[k + 1] - tips[k]).norm() < 1)
      sum += surface.clearance(tips[k], tips[k + 1], std::numeric_limits<double>::infinity(), near[k]).room;
  });
  row("clearance of a 0.25 mm move, in touches", proof / touch, "touches", 4, 2, false);
  if (sum == 12345) std::printf(" ");
}

}  // namespace

int main(int count, char** words) {
  const bool small = count > 1 && std::strcmp(words[1], "--small") == 0;
  std::printf("instruction set: %s\n", detail::bounds_target());
  tbb::global_control one_core(tbb::global_control::max_allowed_parallelism, 2);
  const auto passes = pass_order(1000000), anywhere = random_order(1000000);

  double per_touch_1m = 0;
  for (const double triangles : {1e5, 1e6, 1e7}) {
    if (small && triangles > 2e6) break;
    Mesh mesh = sheet(triangles);
    const double before = resident_mb(), start = now_s();
    const auto part = make_contact_part(std::move(mesh));
    const double seconds = now_s() - start;
    std::printf(
        "\n%.0f triangles: index in %.2f s (2 cores), %.0f bytes a triangle for mesh and index; process at "
        "its largest %.0f MB (mesh alone %.0f)\n",
        triangles, seconds,
        static_cast<double>(part->bytes()) / static_cast<double>(part->mesh().triangles.size()),
        resident_mb(), before);
    for (const double radius : {1.0, 3.0, 8.0}) {
      const bool with_scan = triangles < 2e6;
      const Rates ball = touch_rates(TipSurface(part, Profile::ball(2 * radius)), passes, with_scan);
      const Rates random =
          touch_rates(TipSurface(part, Profile::ball(2 * radius)), anywhere, with_scan && radius == 3);
      const Rates flat = touch_rates(TipSurface(part, Profile::flat(2 * radius)), passes, false);
      const Rates bull =
          touch_rates(TipSurface(part, Profile::bull(2 * radius, 0.3 * radius)), passes, false);
      std::printf(
          "R %g: ball %.0f k touches/s in pass order, %.0f k in random order; flat %.0f k, bull %.0f k",
          radius, ball.index / 1e3, random.index / 1e3, flat.index / 1e3, bull.index / 1e3);
      if (with_scan) std::printf("; footprint scan %.1f k", ball.scan / 1e3);
      std::printf("\n");
      if (radius != 3) continue;
      if (triangles == 1e6) {
        row("touches in pass order, 1 M, R 3, against the footprint scan", ball.index / ball.scan, "x", 20,
            100, true);
        row("touches in random order, the same", random.index / random.scan, "x", 10, 20, true);
        row("touches a second in pass order", ball.index / 1e3, "k/s", 150, 500, true);
        row("bull against ball, time per touch", ball.index / bull.index, "x", 3, 1.5, false);
        row("flat against ball, time per touch", ball.index / flat.index, "x", 3, 1.5, false);
        bench_clearance(TipSurface(part, Profile::ball(6)));
        row("memory for mesh and index",
            static_cast<double>(part->bytes()) / static_cast<double>(part->mesh().triangles.size()),
            "B/triangle", 200, 120, false);
        per_touch_1m = 1 / ball.index;
      }
      if (triangles == 1e7) {
        row("10 M triangles, time per touch against 1 M", 1 / ball.index / per_touch_1m, "x", 3, 1.5, false);
        row("index for 10 M triangles, 2 cores", seconds, "s", 15, 5, false);
      }
    }
  }
  {
    std::printf("\n1 M needles 100:1\n");
    const auto part = make_contact_part(sheet(1e6, 100));
    const Rates needles = touch_rates(TipSurface(part, Profile::ball(6)), passes, true);
    row("touches in pass order on needles, R 3, against the scan", needles.index / needles.scan, "x", 10, 40,
        true);
  }
  {
    std::printf("\nlifting passes over 1 M triangles\n");
    const auto part = make_contact_part(sheet(1e6));
    const TipSurface surface(part, Profile::ball(6));
    const auto lift_rows = [&](double stepover) {
      std::size_t points = 0;
      const double start = now_s();
      for (double y = 100; y < 130; y += stepover) {
        const Vec2 curve[] = {{20, y}, {280, y}};
        for (const auto& line : lift(surface, curve, {.tolerance_mm = 0.01})) points += line.size();
      }
      return std::pair(now_s() - start, points);
    };
    const auto coarse = lift_rows(0.5), fine = lift_rows(0.25);
    std::printf("lifted %zu points in %.2f s\n", fine.second, fine.first);
    row("half the stepover, lifting", fine.first / coarse.first, "x the time", 2.2, 2, false);
    const ToolSurface with_tool(surface.shared_part(), {.diameter_mm = 6}, {}, std::nullopt);
    const Region area = rectangle(Box2(Vec2(20, 100), Vec2(280, 160)));
    const auto plan_with = [&](std::size_t threads) {
      tbb::global_control cores(tbb::global_control::max_allowed_parallelism, threads);
      const double start = now_s();
      std::vector<Cut> cuts = cuts_of(ParallelOptions{.stepover_mm = 0.5}, {with_tool, area}).groups[0].cuts;
      return std::pair(now_s() - start, std::move(cuts));
    };
    const auto one = plan_with(1), two = plan_with(2);
    require(one.second.size() == two.second.size(), "cuts with one and two threads");
    for (std::size_t i = 0; i < one.second.size(); ++i)
      require(one.second[i].points == two.second[i].points, "points with one and two threads");
    row("2 threads against 1, planning parallel passes", one.first / two.first, "x", 1.7, 1.9, true);
  }
}
