/// How long a program takes, before anything is simulated.
#pragma once

#include <vector>

#include "yardpass/post/read_program.h"

namespace yardpass {

/// How a machine speeds up, slows down and takes corners.
struct MachineMotion {
  /// Of each axis; a straight rapid is as fast as they allow. REQUIRES: above 0
  Vec3 rapid_mm_min{15000, 15000, 15000};
  double acceleration_mm_s2 = 2000;  ///< along the path, speeding up and slowing down; REQUIRES: above 0
  /// The most the velocity may change at once where two moves meet [mm/min]: a corner of angle t is taken at
  /// corner_jump / (2 sin(t / 2)) at most. REQUIRES: above 0
  double corner_jump_mm_min = 600;
  double tool_change_s = 10;
};

/// Seconds of each move. Within a run of feed moves, or of rapids, the control looks ahead over all moves and
/// slows down no more than corners, acceleration and the end of the run ask for; between feed and rapid and
/// at tool changes it stands still. Round an arc it goes no faster than the acceleration towards its axis
/// allows. Source of the two passes over the junctions: any look-ahead planner with
/// trapezes of speed, for example S.-J. Jeon and others, "A generalized approach for the acceleration and
/// deceleration of CNC machine tools", 1996.
[[nodiscard]] std::vector<double> seconds_of_moves(const Program& program, const MachineMotion& machine);

/// Where the time of an operation goes.
struct OperationTime {
  double feed_s = 0, rapid_s = 0;  ///< rapids that do not rise
  double retract_s = 0;            ///< rising rapids
  double tool_change_s = 0;
  double plain_s = 0;  ///< length over feed, without acceleration; tool changes included
  [[nodiscard]] double all_s() const { return feed_s + rapid_s + retract_s + tool_change_s; }
};
/// One entry for each operation of the program.
[[nodiscard]] std::vector<OperationTime> times_of(const Program& program, const MachineMotion& machine);

}  // namespace yardpass
