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

void Program::come_down_from(double change_z) {
  for (ProgramMove& move : moves)
    if (move.after_change) move.from.z() = std::max(move.to.z(), change_z);
}

}  // namespace yardpass
