#include "yardpass/verify/time.h"

#include <algorithm>
#include <cmath>

namespace yardpass {

namespace {

/// What a move is for the look-ahead.
struct Stretch {
  double length = 0, top_speed = 0;  // mm, mm/s
  Vec3 in{0, 0, 0}, out{0, 0, 0};    // direction at its start and end
};

/// mm/min along the way of the move: as programmed, but no faster than the axes can.
double feed_of(const ProgramMove& move, const MachineMotion& machine) {
  double most = machine.rapid_mm_min.minCoeff();
  if (move.arc < 0) {
    const Vec3 way = (move.to - move.from).cwiseAbs();
    const double minutes = way.cwiseQuotient(machine.rapid_mm_min).maxCoeff();
    if (minutes > 0) most = way.norm() / minutes;
  }
  return move.rapid() ? most : std::min(move.feed_mm_min, most);
}

Stretch stretch_of(const Program& program, const ProgramMove& move, const MachineMotion& machine) {
  Stretch result;
  result.length = program.length_of(move);
  result.top_speed = feed_of(move, machine) / 60;
  if (!(result.length > 0)) return result;
  if (const Arc* arc = program.arc_of(move)) {
    result.in = arc->direction(0), result.out = arc->direction(1);
    // Round a curve of radius r the machine needs the acceleration v^2 / r; a helix is flatter by its rise.
    const double radius = std::min(arc->start_radius(), arc->end_radius());
    const double flatter = result.length / std::max(radius * std::abs(arc->turn_rad), 1e-12);
    result.top_speed = std::min(result.top_speed, std::sqrt(machine.acceleration_mm_s2 * radius) * flatter);
  } else {
    result.in = result.out = (move.to - move.from) / result.length;
  }
  return result;
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
  require(machine.rapid_mm_min.minCoeff() > 0, "rapid_mm_min", "must be above 0 for each axis");
  require(machine.acceleration_mm_s2 > 0, "acceleration_mm_s2", "must be above 0");
  require(machine.corner_jump_mm_min > 0, "corner_jump_mm_min", "must be above 0");
  const auto& moves = program.moves;
  const double a = machine.acceleration_mm_s2, jump = machine.corner_jump_mm_min / 60;
  // Speed at the start of each move; the one past the last is 0.
  std::vector<double> speed(moves.size() + 1, 0.0);
  std::vector<Stretch> way;
  way.reserve(moves.size());
  for (const ProgramMove& move : moves) way.push_back(stretch_of(program, move, machine));
  std::size_t last = moves.size();  // of the last move that had a length
  for (std::size_t i = 0; i < moves.size(); ++i) {
    if (!(way[i].length > 0)) continue;
    const bool on = last < moves.size() && last + 1 == i && moves[last].rapid() == moves[i].rapid() &&
                    moves[last].tool == moves[i].tool;
    if (on)
      speed[i] =
          std::min({way[last].top_speed, way[i].top_speed, corner_speed(way[last].out, way[i].in, jump)});
    last = i;
  }
  for (std::size_t i = moves.size(); i-- > 0;)
    speed[i] = std::min(speed[i], std::sqrt(speed[i + 1] * speed[i + 1] + 2 * a * way[i].length));
  for (std::size_t i = 0; i < moves.size(); ++i)
    speed[i + 1] = std::min(speed[i + 1], std::sqrt(speed[i] * speed[i] + 2 * a * way[i].length));
  std::vector<double> seconds(moves.size(), 0.0);
  for (std::size_t i = 0; i < moves.size(); ++i)
    if (way[i].length > 0) seconds[i] = trapeze(way[i].length, speed[i], speed[i + 1], way[i].top_speed, a);
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
    time.plain_s += program.length_of(move) / (feed_of(move, machine) / 60);
    if (!move.rapid())
      time.feed_s += seconds[i];
    else
      (move.to.z() > move.from.z() ? time.retract_s : time.rapid_s) += seconds[i];
  }
  return result;
}

}  // namespace yardpass
