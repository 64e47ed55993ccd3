#include "yardpass/run/run.h"

#include <algorithm>

#include <fmt/format.h>

#include "run/hindsight.h"
#include "run/kept_figures.h"
#include "run/post_paths.h"
#include "run/work_plan.h"
#include "setup/stage.h"
#include "yardpass/run/curve_roles.h"

namespace yardpass {

ProgramReading read_options(const Job& job) {
  return {.length_compensation = job.machine.controller.length_compensation};
}

void require_known_tools(const Program& program, const Job& job, const std::string& name) {
  std::string known, wrong;
  for (const Tool& tool : job.tools)
    known += fmt::format("{}T{} {}", known.empty() ? "" : ", ", tool.number, tool.name);
  for (std::size_t i = 0; i < program.tools.size(); ++i) {
    const bool there = std::any_of(job.tools.begin(), job.tools.end(),
                                   [&](const Tool& tool) { return tool.number == program.tools[i]; });
    if (!there)
      wrong += fmt::format("{}{}:{}: the program changes to T{}, which the job does not have; there are {}",
                           wrong.empty() ? "" : "\n", name, program.tool_lines[i], program.tools[i], known);
  }
  if (!wrong.empty()) throw Error(wrong);
}

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

/// What planning said of operations that have no move.
void say_why(std::vector<Note>& disagreements, const std::vector<Settled>& operations,
             const std::vector<PlannedOperation>& planned) {
  for (Note& note : disagreements)
    for (std::size_t k = 0; k < operations.size() && note.about == "no move"; ++k)
      for (const Note& reason : planned[k].notes)
        if (reason.about == "nothing" && static_cast<double>(operations[k].number) == note.values[0].value[0])
          note.says += ": " + reason.says,
              note.values.insert(note.values.end(), reason.values.begin(), reason.values.end());
}

/// No machine of today carries that out; most likely a number is in another unit than it was meant.
void refuse_what_is_absurd(const JobSetup& setup, const std::vector<Settled>& operations,
                           const Estimate& foretold) {
  const std::vector<std::string> words =
      above(foretold, {.seconds = 14 * 24 * 3600.0, .bytes = 64e9, .points = 1e9});
  if (words.empty() || operations.empty()) return;
  std::size_t worst = 0;
  for (std::size_t i = 0; i < operations.size(); ++i)
    if (foretold.operations[i].points > foretold.operations[worst].points) worst = i;
  const Settled& settled = operations[worst];
  throw Error(
      fmt::format("{}: {}; nothing is planned. Most of it is operation {} \"{}\": {:.3g} passes, {:.3g} "
                  "points; is its spacing "
                  "of {:g} mm right, its tool's diameter of {:g} mm, the part's unit?",
                  setup.job.file.string(), fmt::join(words, ", "), settled.number, settled.name,
                  foretold.operations[worst].passes, foretold.operations[worst].points,
                  settled.usual.spacing_mm, settled.tool.diameter_mm));
}

}  // namespace

RunResult run_job(const Job& job, const StageProgress& progress) {
  return run_job(job, RunSteps{.progress = progress});
}

RunResult run_job(const Job& job, const RunSteps& steps) {
  JobSetup setup = load_setup(job, steps.progress);
  std::vector<Settled> operations = settle(setup);
  (void)curve_roles(setup, operations);  // refuses curves that do not go together before any is planned
  const Estimate foretold = estimate(setup, operations, detail::stage(steps.progress, "estimate the work"),
                                     {.kept = steps.kept, .judged = !steps.only_plan});
  refuse_what_is_absurd(setup, operations, foretold);
  if (steps.foretold) steps.foretold(foretold);
  detail::WorkPlan work(setup, operations, foretold, steps.only_plan);
  const StageProgress progress = work.telling(steps.progress, steps.whole);
  std::vector<PlannedOperation> planned = plan_operations(setup, operations, steps.kept, progress);
  work.planned(setup, operations, planned);
  auto [posted, program, files] = detail::post(job, operations, planned);
  JudgedProgram judged = steps.only_plan
                             ? carry_out(std::move(program), setup, progress)
                             : judge_program(std::move(program), setup, operations, progress,
                                             std::numeric_limits<std::int32_t>::max(),
                                             detail::measured_before(operations, planned, posted));
  say_why(judged.disagreements, operations, planned);
  RunResult result{std::move(setup),  std::move(operations), std::move(planned),
                   std::move(posted), std::move(judged),     {}};
  result.files = std::move(files);
  if (result.judged.judged) detail::keep_figures(result);
  result.hindsight = detail::hindsight(result);
  if (!to_explain(result.judged, job)) return result;
  if (steps.proven) steps.proven(result);
  explain_left(result.judged, result.setup, result.operations, progress);
  return result;
}

}  // namespace yardpass
