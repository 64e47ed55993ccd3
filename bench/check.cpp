// Judging a program of a million lines against a million triangles, all cores; beside it the same proof
// without the index, on a sample of its moves.
#include <sys/resource.h>

#include <cmath>

#include "bench.h"
#include "sheet.h"
#include "yardpass/strategy/parallel.h"
#include "yardpass/verify/judge.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

constexpr double kSide = 200;

double ground(double x, double y) {
  return 5 * std::sin(x / 9) * std::cos(y / 11) + 1.2 * std::sin((x + y) / 23);
}

/// Passes 0.06 mm apart, read as a program would be, until there are enough moves.
Program million_lines(const ToolSurface& surface, std::size_t wanted) {
  Program program;
  program.operations = {{1, "finish"}};
  const std::int32_t tool = surface.tool().number;
  program.tools = {tool};
  const Region area = rectangle(Box2(Vec2(5, 5), Vec2(kSide - 5, kSide - 5)));
  const CutPlan cuts = cuts_of(ParallelOptions{.stepover_mm = 0.062}, {surface, area, nullptr, 0.0015});
  Vec3 at(5, 5, 30);
  const auto go = [&](const Vec3& to, double feed) {
    program.moves.push_back({at, to, feed, static_cast<std::int32_t>(program.moves.size()) + 1, tool, 0});
    at = to;
  };
  for (const Cut& cut : cuts.groups[0].cuts) {
    if (program.moves.size() >= wanted) break;
    go(with_z(plan(at), 30), 0);
    go(with_z(plan(cut.points.front()), 30), 0);
    for (const Vec3& p : cut.points) go(p, 1800);
  }
  return program;
}

}  // namespace

int main() {
  const auto part = make_contact_part(demo::sheet(Box2(Vec2(0, 0), Vec2(kSide, kSide)), 707, 707, ground));
  const Tool ball = completed({.name = "ball6",
                               .number = 1,
                               .diameter_mm = 6,
                               .flute_length_mm = 30,
                               .stickout_mm = 60,
                               .holder = {{40, 32, 40}},
                               .spindle_rpm = 9000,
                               .feed_mm_min = 1800});
  const ToolSurface surface(part, ball, {}, std::nullopt);
  const Program program = million_lines(surface, 1'000'000);
  const Stock stock(Box3(Vec3(0, 0, -12), Vec3(kSide, kSide, 8)), 0.1);
  const double start = now_s();
  const Judgement judgement = judge(program, part, {ball}, stock);
  const double seconds = now_s() - start;
  require(judgement.clean(), "the program is clean");
  // The proof of the cutter alone, every triangle looked at.
  const TipSurface plain(part, profile_of(ball), {.brute_force = true});
  const std::size_t step = program.moves.size() / 60;
  std::size_t sample = 0;
  const double begin = now_s();
  for (std::size_t i = step / 2; i < program.moves.size(); i += step, ++sample) {
    const ProgramMove& move = program.moves[i];
    if (move.rapid()) continue;
    require(plain.clearance(move.from, move.to, 0).room == surface.clearance(move.from, move.to, 0).room,
            "proof");
  }
  const double plain_move = (now_s() - begin) / static_cast<double>(sample);
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  std::printf("%zu moves against %zu triangles\n", program.moves.size(), part->mesh().triangles.size());
  row("judge: proof, stock and totals, 0.1 mm cells", seconds, "s", 180, 60, false);
  row("  memory of the process at its largest", static_cast<double>(usage.ru_maxrss) / 1e6, "GB", 3, 3,
      false);
  std::printf("%-62s %9.0f times\n", "  against the proof alone without an index, by a sample",
              plain_move * static_cast<double>(program.moves.size()) / seconds);
}
