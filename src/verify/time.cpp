#include "yardpass/verify/time.h"

#include <algorithm>
#include <cmath>

namespace yardpass {

namespace {

double top_speed(const ProgramMove& move, const MachineMotion& machine) {  // mm/s
  return (move.rapid() ? machine.rapid_mm_min : move.feed_mm_min) / 60;
}

/// The most speed at which one move may go over into the next.
double corner_speed(const Vec3& in, const Vec3& out, double jump) {
  const double change = (out - in).norm();  // of unit directions: 2 sin(t / 2)
  return change > 1e-9 ? jump / change : 1e9;
}

/// Seconds of a move that starts and ends with given speeds and need not exceed `top`.
double trapeze(double length, double start, double end, double top, double acceleration) {
  const double reachable = std::sqrt((start * start + end * end) / 2 + acceleration * length);
  const double peak = std::max({std::min(top, reachable), start, end});
  const double ramps = (2 * peak * peak - start * start - end * end) / (2 * acceleration);
  return (2 * peak - start - end) / acceleration + std::max(0.0, length - ramps) / peak;
}

}  // namespace

std::vector<double> seconds_of_moves(const Program& program, const MachineMotion& machine) {
  const auto& moves = program.moves;
  const double a = machine.acceleration_mm_s2, jump = machine.corner_jump_mm_min / 60;
  // Speed at the start of each move; the one past the last is 0.
  std::vector<double> speed(moves.size() + 1, 0.0), length(moves.size());
  Vec3 way(0, 0, 0);  // of the last move that had a length
  std::size_t last = moves.size();
  for (std::size_t i = 0; i < moves.size(); ++i) {
    const ProgramMove& move = moves[i];
    length[i] = (move.to - move.from).norm();
    if (!(length[i] > 0)) continue;
    const Vec3 here = (move.to - move.from) / length[i];
    const bool on = last < moves.size() && last + 1 == i && moves[last].rapid() == move.rapid() &&
                    moves[last].tool == move.tool;
    if (on)
      speed[i] = std::min(
          {top_speed(moves[last], machine), top_speed(move, machine), corner_speed(way, here, jump)});
    way = here;
    last = i;
  }
  for (std::size_t i = moves.size(); i-- > 0;)
    speed[i] = std::min(speed[i], std::sqrt(speed[i + 1] * speed[i + 1] + 2 * a * length[i]));
  for (std::size_t i = 0; i < moves.size(); ++i)
    speed[i + 1] = std::min(speed[i + 1], std::sqrt(speed[i] * speed[i] + 2 * a * length[i]));
  std::vector<double> seconds(moves.size(), 0.0);
  for (std::size_t i = 0; i < moves.size(); ++i)
    if (length[i] > 0)
      seconds[i] = trapeze(length[i], speed[i], speed[i + 1], top_speed(moves[i], machine), a);
  return seconds;
}

std::vector<OperationTime> times_of(const Program& program, const MachineMotion& machine) {
  const std::vector<double> seconds = seconds_of_moves(program, machine);
  std::vector<OperationTime> result(program.operations.size());
  std::int32_t tool = -1;
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const ProgramMove& move = program.moves[i];
    OperationTime& time = result[static_cast<std::size_t>(move.operation)];
    if (move.tool != tool) time.tool_change_s += machine.tool_change_s, time.plain_s += machine.tool_change_s;
    tool = move.tool;
    time.plain_s += (move.to - move.from).norm() / top_speed(move, machine);
    if (!move.rapid())
      time.feed_s += seconds[i];
    else
      (move.to.z() > move.from.z() ? time.retract_s : time.rapid_s) += seconds[i];
  }
  return result;
}

}  // namespace yardpass
