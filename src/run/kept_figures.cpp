#include "run/kept_figures.h"

namespace yardpass::detail {

MeasuredBefore measured_before(const std::vector<Settled>& operations,
                               const std::vector<PlannedOperation>& planned, const PostedProgram& posted) {
  MeasuredBefore result;
  for (std::size_t i = 0; i < planned.size(); ++i) {
    if (planned[i].left_after) result.left_after.emplace(operations[i].number, *planned[i].left_after);
    if (!planned[i].engagement) continue;
    Engagement engagement = *planned[i].engagement;
    const std::int32_t move = engagement.greatest_line;
    engagement.greatest_line = 0;
    for (std::size_t line = 0; line < posted.origin.size() && move >= 0; ++line)
      if (posted.origin[line].operation == static_cast<std::int32_t>(i) && posted.origin[line].move == move)
        engagement.greatest_line = static_cast<std::int32_t>(line) + 1;
    result.engagements.emplace(operations[i].number, engagement);
  }
  return result;
}

void keep_figures(RunResult& run) {
  const Program& program = run.judged.program;
  for (std::size_t i = 0; i < run.planned.size(); ++i)
    for (std::size_t k = 0; k < program.operations.size(); ++k) {
      if (program.operations[k].number != run.operations[i].number) continue;
      run.planned[i].left_after = run.judged.after_operation[k];
      if (run.operations[i].tool.widest_engagement_deg > 0) continue;
      Engagement engagement = run.judged.judgement.operations[k].engagement;
      const auto line = static_cast<std::size_t>(engagement.greatest_line);
      engagement.greatest_line =
          line > 0 && line <= run.posted.origin.size() ? run.posted.origin[line - 1].move : -1;
      run.planned[i].engagement = engagement;
    }
}

}  // namespace yardpass::detail
