#include "report/strokes.h"

namespace yardpass::detail {

std::vector<Stroke> strokes_of(const Report& report, std::int32_t operation) {
  std::vector<Stroke> strokes;
  for (const ProgramMove& move : report.judged.program.moves) {
    if (move.operation != operation || move.after_change) continue;
    MoveKind kind = move.rapid() ? MoveKind::rapid : MoveKind::cut;
    const Move* planned = report.run && !move.rapid() ? move_of_line(*report.run, move.line) : nullptr;
    if (planned) kind = planned->kind;
    const std::int32_t pass = planned ? report.pass_of_line(move.line) : 0;
    const std::vector<Vec3> points = report.judged.program.points_of(move, 0.01);
    for (std::size_t k = 0; k + 1 < points.size(); ++k)
      strokes.push_back({kind, pass, points[k], points[k + 1]});
  }
  return strokes;
}

}  // namespace yardpass::detail
