#include <algorithm>

#include "yardpass/post/read_program.h"

namespace yardpass {

double Program::length_of(const ProgramMove& move) const {
  const Arc* arc = arc_of(move);
  return arc ? arc->length() : (move.to - move.from).norm();
}

std::vector<Vec3> Program::points_of(const ProgramMove& move, double sagitta_mm) const {
  if (const Arc* arc = arc_of(move)) return chord_points(*arc, sagitta_mm);
  return {move.from, move.to};
}

std::vector<const SpindleUse*> Program::spindle_by_move() const {
  std::vector<const SpindleUse*> uses(moves.size(), nullptr);
  auto next = spindle.begin();
  for (std::size_t i = 0; i < moves.size(); ++i) {
    while (next != spindle.end() && next->first_move <= i) ++next;
    if (next != spindle.begin() && std::prev(next)->tool == moves[i].tool) uses[i] = &*std::prev(next);
  }
  for (std::size_t i = moves.size(); i-- > 1;)
    if (moves[i - 1].rapid() && uses[i] && uses[i]->tool == moves[i - 1].tool) uses[i - 1] = uses[i];
  return uses;
}

void Program::come_down_from(double change_z) {
  for (ProgramMove& move : moves)
    if (move.after_change) move.from.z() = std::max(move.to.z(), change_z);
}

}  // namespace yardpass
