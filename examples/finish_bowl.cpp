// Finishes a spherical bowl with a ball cutter through the library alone, and prints the proof.
#include <cmath>
#include <cstdio>

#include "yardpass/link/link.h"
#include "yardpass/plan/parallel.h"
#include "yardpass/post/write_program.h"
#include "yardpass/verify/judge.h"

using namespace yardpass;

int main() {
  Mesh bowl;  // an open sheet over a grid: z = (x^2 + y^2) / 80, 40 x 40 mm
  for (int i = 0; i <= 100; ++i)
    for (int j = 0; j <= 100; ++j)
      bowl.points.emplace_back(0.4 * i - 20, 0.4 * j - 20,
                               (std::pow(0.4 * i - 20, 2) + std::pow(0.4 * j - 20, 2)) / 80);
  for (int i = 0; i < 100; ++i)
    for (int j = 0, k = 101 * i; j < 100; ++j, ++k) {
      bowl.triangles.push_back({k, k + 101, k + 102});
      bowl.triangles.push_back({k, k + 102, k + 1});
    }
  const auto part = make_contact_part(bowl);
  const Tool tool =
      completed({.name = "ball6", .number = 1, .diameter_mm = 6, .spindle_rpm = 12000, .feed_mm_min = 1800});
  const TipSurface surface(part, profile_of(tool), {.allowance_mm = rounding_reserve({})});
  const auto cuts =
      plan_parallel(surface, rectangle(Box2(Vec2(-15, -15), Vec2(15, 15))), {.stepover_mm = 0.4});
  const Stock block(Box3(Vec3(-20, -20, -5), Vec3(20, 20, 10.5)), 0.1);
  Stock left = block;
  const Toolpath path = link_cuts(cuts, surface, tool, left, {.clearance_z = 20});
  const OperationPath operation{"finish the bowl", "parallel", &tool, &path};
  const Program program = read_program(write_program("bowl", {&operation, 1}).text, "bowl.nc");
  const Judgement proof = judge(program, part, {tool}, block);
  std::printf("%zu moves, %.1f min, least clearance %.4f mm, %zu findings\n", program.moves.size(),
              proof.seconds / 60, proof.operations[0].least_clearance_mm, proof.findings.size());
  return proof.clean() ? 0 : 1;
}
