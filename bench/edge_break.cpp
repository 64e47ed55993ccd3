// Breaking the edges of many small pegs: planning, linking and measuring, beside straight passes over the
// same part; told only once every edge measures as asked and every cut is free of what is no break.
#include "bench.h"
#include "yardpass/contact/along_line.h"
#include "yardpass/link/link.h"
#include "yardpass/strategy/break_edges.h"
#include "yardpass/strategy/parallel.h"
#include "yardpass/verify/edge_size.h"

using namespace yardpass;
using namespace yardpass::bench;

namespace {

void add_box(Mesh& mesh, const Box3& box) {
  const auto first = static_cast<std::int32_t>(mesh.points.size());
  for (int k = 0; k < 8; ++k)
    mesh.points.emplace_back((k & 1 ? box.max() : box.min()).x(), (k & 2 ? box.max() : box.min()).y(),
                             (k & 4 ? box.max() : box.min()).z());
  constexpr std::int32_t kSides[12][3] = {{0, 2, 1}, {1, 2, 3}, {4, 5, 6}, {5, 7, 6}, {0, 1, 4}, {1, 5, 4},
                                          {2, 6, 3}, {3, 6, 7}, {0, 4, 2}, {2, 4, 6}, {1, 3, 5}, {3, 7, 5}};
  for (const auto& side : kSides)
    mesh.triangles.push_back({side[0] + first, side[1] + first, side[2] + first});
}

/// 23 x 22 pegs of 5 mm on a plate.
Mesh pegs() {
  Mesh mesh;
  add_box(mesh, Box3(Vec3(0, 0, -10), Vec3(185, 176, -4)));
  for (int i = 0; i < 23; ++i)
    for (int j = 0; j < 22; ++j)
      add_box(mesh, Box3(Vec3(2 + 8 * i, 2 + 8 * j, -4), Vec3(7 + 8 * i, 7 + 8 * j, 0)));
  return mesh;
}

Program program_of(const Toolpath& path) {
  Program program;
  program.operations = {{1}}, program.tools = {path.tool.number};
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    const double feed = move.kind == MoveKind::rapid ? 0 : move.feed_mm_min;
    program.moves.push_back({at, move.to, feed, ++program.lines, path.tool.number, 0});
    at = move.to;
  }
  return program;
}

void run(bool round_corners) {
  const Mesh mesh = pegs();
  const auto part = make_contact_part(mesh);
  Tool tool{.name = "ball2", .number = 1, .shape = Shape::ball, .diameter_mm = 2};
  tool.spindle_rpm = 9000, tool.feed_mm_min = 1500, tool.stickout_mm = 40;
  tool = completed(tool);
  const ToolSurface surface(part, tool);
  const Region area = rectangle(plan(mesh.box()));
  EdgeBreakOptions options;
  options.edges.size_mm = 0.3;
  options.edges.round_corners = round_corners;

  double start = now_s();
  const CutPlan plan = cuts_of(options, {surface, area});
  const double planned_s = now_s() - start;
  LinkOptions link;
  link.plane_z = 5;
  link.steps.ladder.hop_mm = 20;
  Box3 block = mesh.box();
  start = now_s();
  const LinkedCuts linked = link_cuts(plan, surface, Stock(block, 0.25), link);
  const double linked_s = now_s() - start;

  const IntendedCuts intended = intended_of(options, tool, part);
  start = now_s();
  const EdgeSizes sizes =
      measure_edges(intended.edges, program_of(linked.path), 1, {tool}, *part, Stock(block, 0.25));
  const double measured_s = now_s() - start;
  require(sizes.edges.size() == 4 * 23 * 22 + 4, "not every edge");
  require(sizes.all.held_share > 0.9999 && sizes.all.passed_by_mm == 0 && sizes.all.missing_mm == 0,
          "an edge is not as asked");
  const TipSurface rest(make_contact_part(intended.keeps_off), profile_of(tool));
  Vec3 at = linked.path.start;
  for (const Move& move : linked.path.moves) {
    require(rest.clearance(at, move.to).room >= -1e-6, "a face beside an edge is met");
    at = move.to;
  }

  ParallelOptions passes;
  passes.stepover_mm = 0.5;
  start = now_s();
  const CutPlan beside = cuts_of(passes, {surface, area});
  const double beside_s = now_s() - start;
  require(beside.cut_count() > 100, "no passes");
  std::printf(
      "%zu edges, corners %s: planned %.2f s, linked %.2f s, measured %.2f s; straight passes 0.5 mm "
      "apart %.2f s: %.2f, %.2f, %.2f times that; %d hops, %d lifts, %d retracts to the plane\n",
      sizes.edges.size(), round_corners ? "round" : "end", planned_s, linked_s, measured_s, beside_s,
      planned_s / beside_s, linked_s / beside_s, measured_s / beside_s, static_cast<int>(linked.counts.hops),
      static_cast<int>(linked.counts.lifts), static_cast<int>(linked.counts.planes));
}

}  // namespace

int main() {
  run(true);
  run(false);
}
