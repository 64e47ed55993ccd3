// Finishes a spherical bowl with a ball cutter through the library alone, and prints the proof.
#include <cmath>
#include <iostream>

#include "yardpass/yardpass.h"

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
  const ToolSurface surface(
      part, {.name = "ball6", .number = 1, .diameter_mm = 6, .spindle_rpm = 12000, .feed_mm_min = 1800});
  const Region area = rectangle(Box2(Vec2(-15, -15), Vec2(15, 15)));
  const CutPlan cuts = cuts_of(ParallelOptions{.stepover_mm = 0.4}, {surface, area});
  const Stock block(Box3(Vec3(-20, -20, -5), Vec3(20, 20, 10.5)), 0.1);
  const LinkedCuts linked = link_cuts(cuts, surface, block, {.plane_z = 20});
  const OperationPath operation{1, "finish the bowl", &linked.path};
  const PostedProgram posted = write_program("bowl", {&operation, 1});
  const Judgement proof = judge(read_program(posted.text, "bowl.nc"), part, {surface.tool()}, block);
  std::cout << proof;
  return proof.clean() ? 0 : 1;
}
