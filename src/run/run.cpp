#include "yardpass/run/run.h"

#include <algorithm>
#include <ctime>

#include "setup/guided_parts.h"
#include "setup/stage.h"

namespace yardpass {

namespace {

PlannedOperation plan_operation(const Settled& settled, const detail::GuidedPart& guided, int decimals,
                                Stock& stock, const StageProgress& progress) {
  TipSurfaceOptions options = tip_surface_options(settled.values.allowance);
  guided.keep_away(options);
  const ToolSurface surface(guided.part, settled.tool, options, decimals);
  const auto strategy = [&](const Site& site, const Progress& share) {
    return settled.values.pattern->cuts(site, share);
  };
  PlannedOperation planned;
  BoundedCuts bounded = cuts_within(settled.bounds(), surface, &stock, settled.values.tolerance_mm, strategy,
                                    detail::stage(progress, "plan " + settled.name));
  planned.area = std::move(bounded.area);
  planned.facts = std::move(bounded.plan.facts);
  planned.notes = std::move(bounded.plan.notes);
  if (bounded.plan.empty())
    planned.notes.push_back({"nothing", "nothing to cut: the tool reaches no place inside the boundary"});
  LinkOptions links = settled.values.links;
  links.keep_out = settled.kept_out();
  LinkedCuts linked = link_cuts(bounded.plan, surface, std::move(stock), links,
                                detail::stage(progress, "link " + settled.name));
  stock = std::move(linked.stock);
  planned.path = std::move(linked.path);
  planned.lengths = measure(planned.path);
  planned.points = std::count_if(planned.path.moves.begin(), planned.path.moves.end(),
                                 [](const Move& move) { return move.kind != MoveKind::rapid; });
  return planned;
}

std::vector<PlannedOperation> plan_all(const JobSetup& setup, const std::vector<Settled>& operations,
                                       const StageProgress& progress) {
  std::vector<Guides> guides;
  for (const Settled& settled : operations) guides.push_back(settled.values.guides);
  detail::GuidedParts parts(setup, std::move(guides));
  Stock stock = setup.new_stock();
  std::vector<PlannedOperation> planned;
  for (const Settled& settled : operations) {
    const detail::GuidedPart guided =
        parts.next(detail::stage(progress, "index what guides " + settled.name));
    planned.push_back(
        plan_operation(settled, guided, setup.job.machine.controller.decimals, stock, progress));
  }
  return planned;
}

}  // namespace

const Settled* settled_of(const std::vector<Settled>& operations, std::int32_t number) {
  for (const Settled& settled : operations)
    if (settled.number == number) return &settled;
  return nullptr;
}

const Move* move_of_line(const RunResult& run, std::int32_t line) {
  if (line < 1 || static_cast<std::size_t>(line) > run.posted.origin.size()) return nullptr;
  const LineOrigin origin = run.posted.origin[static_cast<std::size_t>(line) - 1];
  if (origin.operation < 0 || origin.move < 0) return nullptr;
  return &run.planned[static_cast<std::size_t>(origin.operation)]
              .path.moves[static_cast<std::size_t>(origin.move)];
}

Region area_of(const JobSetup& setup, const std::vector<Settled>& operations, std::int32_t number) {
  if (const Settled* settled = settled_of(operations, number)) return settled->works_in;
  return rectangle(plan(setup.part->box()));
}

namespace {

std::string today() {
  const std::time_t now = std::time(nullptr);
  std::tm here{};
  localtime_r(&now, &here);
  char text[16];
  return {text, std::strftime(text, sizeof text, "%Y-%m-%d", &here)};
}

}  // namespace

RunResult run_job(const Job& job, const StageProgress& progress) {
  JobSetup setup = load_setup(job, progress);
  std::vector<Settled> operations = settle(setup);
  std::vector<PlannedOperation> planned = plan_all(setup, operations, progress);
  std::vector<OperationPath> paths;
  for (std::size_t i = 0; i < planned.size(); ++i)
    paths.push_back({operations[i].number, operations[i].name, &planned[i].path});
  Controller controller = job.machine.controller;
  if (job.machine.dated) controller.date = today();
  PostedProgram posted = write_program(job.title, paths, controller);
  JudgedProgram judged = judge_program(read_program(posted.text, "program.nc"), setup, operations, progress);
  return {std::move(setup), std::move(operations), std::move(planned), std::move(posted), std::move(judged)};
}

}  // namespace yardpass
