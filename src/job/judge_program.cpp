#include <algorithm>

#include "job/stage.h"
#include "yardpass/job/run.h"
#include "yardpass/part/outlines.h"
#include "yardpass/plan/defaults.h"

namespace yardpass {

namespace {

constexpr double kDrawn = 0.005;  // sagitta of arcs written as lines

/// Where the tip of an operation may be; empty if it has no boundary.
Region place_of(const Job& job, const OperationJob& operation) {
  if (!operation.keep_inside) return {};
  double reach = operation.limit.margin_mm + 0.01;  // on the boundary itself is inside
  if (operation.limit.by == LimitBy::near_rim || operation.limit.by == LimitBy::touch)
    reach += profile_of(job.tool_of(operation)).radius();
  return offset(*operation.keep_inside, reach);
}

/// Guards as the judge takes them: regions for the operations that name them; other meshes for all, with
/// their clearance for those that name them.
std::vector<JudgedGuard> judged_guards(const JobWorld& world) {
  std::vector<JudgedGuard> result;
  for (const GuideSurface& guard : world.guards) {
    std::vector<std::string> named_by;
    for (const OperationJob& operation : world.job.operations)
      if (std::find(operation.guards.begin(), operation.guards.end(), guard.name) != operation.guards.end())
        named_by.push_back(operation.name);
    Mesh mesh = guard.mesh;
    if (mesh.triangles.empty()) {
      mesh.points = world.part->mesh().points;
      for (std::size_t t = 0; t < guard.triangles.size(); ++t)
        if (guard.triangles[t]) mesh.triangles.push_back(world.part->mesh().triangles[t]);
    }
    const auto part = make_contact_part(std::move(mesh));
    if (!guard.mesh.triangles.empty()) result.push_back({guard.name, part, 0, {}});
    if (!named_by.empty()) result.push_back({guard.name, part, guard.clearance_mm, named_by});
  }
  return result;
}

/// What each active operation wants to leave, and where.
std::vector<LeftByOperation> wanted_of(const JobWorld& world) {
  std::vector<LeftByOperation> result;
  for (const OperationJob& operation : world.job.operations) {
    if (!operation.active) continue;
    LeftByOperation wanted;
    wanted.area = area_of(world, operation.name);
    wanted.tool = &world.job.tool_of(operation);
    const double usual =
        operation.strategy == "roughing" ? roughing_defaults(*wanted.tool).allowance_mm.value : 0;
    wanted.allowance_mm =
        std::max({operation.allowance_mm.value_or(usual), operation.wall_allowance_mm.value_or(0),
                  operation.floor_allowance_mm.value_or(0)});
    for (const GuideSurface& lid : world.lids)
      if (std::find(operation.lids.begin(), operation.lids.end(), lid.name) != operation.lids.end())
        wanted.lids = unite(wanted.lids, silhouette(lid.mesh));
    result.push_back(std::move(wanted));
  }
  return result;
}

}  // namespace

JudgedProgram judge_program(Program program, const JobWorld& world, const StageProgress& progress,
                            std::int32_t up_to_line) {
  const Job& job = world.job;
  JudgeOptions options;
  options.up_to_line = up_to_line;
  options.dog_leg_rapids = job.controller.dog_leg_rapids;
  options.travel = job.travel;
  options.accepted = job.accepted;
  options.guards = judged_guards(world);
  for (const OperationJob& operation : job.operations)
    if (operation.intended_depth_mm > 0)
      options.intended.push_back({operation.name, operation.intended_depth_mm, place_of(job, operation)});
  options.machine = job.machine;
  RunningExcess running(*world.part, 5.0);
  std::vector<ExcessStatistics> after(program.operations.size());
  options.after_operation = [&](std::int32_t operation, const Stock& stock) {
    const auto k = static_cast<std::size_t>(operation);
    after[k] = statistics(running.update(stock, detail::stage(progress, "measure what is left")), stock,
                          area_of(world, program.operations[k]));
  };
  Judgement judgement = judge(program, world.part, job.tools, world.new_stock(), options,
                              detail::stage(progress, "judge the program"));
  running.update(judgement.stock);
  ExcessMap excess = running.take();
  Leftover leftover =
      explain_leftover(judgement.stock, excess, world.part, wanted_of(world), judgement.last_cut,
                       job.thicker_than_mm, detail::stage(progress, "explain what is left"));
  return {std::move(program),  std::move(judgement), std::move(excess),
          std::move(leftover), std::move(after),     up_to_line};
}

std::vector<Curve> curves_of(const Program& program) {
  std::vector<Curve> curves;
  const ProgramMove* before = nullptr;
  for (const ProgramMove& move : program.moves) {
    if (move.from.z() >= kChangeHeight) {
      before = nullptr;
      continue;
    }
    const bool goes_on = before && before->rapid() == move.rapid() && before->operation == move.operation &&
                         before->to == move.from;
    if (!goes_on) {
      curves.push_back({{move.from},
                        false,
                        move.rapid() ? "rapid" : "feed",
                        program.operations[static_cast<std::size_t>(move.operation)]});
    }
    const std::vector<Vec3> points = program.points_of(move, kDrawn);
    curves.back().points.insert(curves.back().points.end(), points.begin() + 1, points.end());
    before = &move;
  }
  return curves;
}

}  // namespace yardpass
