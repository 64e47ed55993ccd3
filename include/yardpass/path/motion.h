/// How smooth the motion of a toolpath is: what makes controls stutter is many short blocks with turns
/// between them.
#pragma once

#include "yardpass/path/toolpath.h"

namespace yardpass {

/// Of the cuts of a toolpath, each block one posted line.
struct MotionStatistics {
  std::int64_t blocks = 0, arcs = 0;  ///< arcs among the blocks
  double length_mm = 0;
  double shortest_mm = 0, half_mm = 0;  ///< of the blocks; half of them are shorter than `half_mm`
  /// Change of direction where two blocks of a cut meet, each joint weighted by half the length on both
  /// sides: on half of the length it is below the first, on 95 % below the second.
  double turn_half_deg = 0, turn_most_deg = 0, turn_greatest_deg = 0;
  Vec3 greatest_at = Vec3::Zero();
};

[[nodiscard]] MotionStatistics motion_of(const Toolpath& path);

}  // namespace yardpass
