#include "yardpass/verify/time.h"

namespace yardpass {

double seconds_of(const ProgramMove& move, double rapid_mm_min) {
  return (move.to - move.from).norm() * 60 / (move.rapid() ? rapid_mm_min : move.feed_mm_min);
}

}  // namespace yardpass
