#include "run/held_against_job.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <map>
#include <set>

#include <fmt/format.h>

namespace yardpass::detail {

namespace {

/// Posting rounds; so much more than the job says is no disagreement.
constexpr double kRounding = 1.002;

/// Whether a program says itself which operations of a job it carries out. One that does says what the job
/// says; somebody else's may be slower, but not faster.
bool names_operations(const Program& program) {
  return std::any_of(program.operations.begin(), program.operations.end(),
                     [](const ProgramOperation& operation) { return operation.number > 0; });
}

void hold_operations(const Program& program, const std::vector<Settled>& operations, bool whole,
                     std::vector<Note>& notes) {
  std::map<std::int32_t, std::int32_t> moves;  // by number
  std::vector<std::int32_t> order;             // as they come, those with moves
  for (const ProgramMove& move : program.moves) {
    const std::int32_t number = program.number_of(move);
    if (order.empty() || order.back() != number) order.push_back(number);
    ++moves[number];
  }
  for (const Settled& settled : operations)
    for (const ProgramMove& move : program.moves) {
      if (program.number_of(move) != settled.number || move.tool == settled.tool.number) continue;
      notes.push_back({"tool", fmt::format("operation {} runs with T{} in line {}; the job says T{}",
                                           settled.number, move.tool, move.line, settled.tool.number)});
      break;
    }
  if (!names_operations(program)) return;
  std::set<std::int32_t> known;
  for (const Settled& settled : operations) {
    known.insert(settled.number);
    if (whole && !moves.contains(settled.number))
      notes.push_back(
          {"no move", "operation {} of the job has no move in the program", {count_of(settled.number)}});
  }
  for (const auto& [number, count] : moves)
    if (!known.contains(number))
      notes.push_back(
          {"unknown",
           number == 0
               ? fmt::format("{} moves come before any operation is named", count)
               : fmt::format("the program has an operation {}, which the job does not have", number)});
  std::size_t at = 0;
  for (const std::int32_t number : order) {
    if (!known.contains(number)) continue;
    const auto place = std::find_if(operations.begin() + static_cast<std::ptrdiff_t>(at), operations.end(),
                                    [&](const Settled& settled) { return settled.number == number; });
    if (place == operations.end()) {
      notes.push_back({"order", fmt::format("operation {} comes later than in the job, or twice", number)});
      return;
    }
    at = static_cast<std::size_t>(place - operations.begin());
  }
}

void hold_spindle(const Program& program, const Job& job, std::vector<Note>& notes) {
  std::set<std::int32_t> told, dry;
  const bool named = names_operations(program);
  for (const SpindleUse& use : program.spindle)
    for (const Tool& tool : job.tools) {
      if (tool.number != use.tool || !(tool.spindle_rpm > 0)) continue;
      const bool faster = use.rpm > tool.spindle_rpm * kRounding,
                 slower = use.rpm * kRounding < tool.spindle_rpm;
      // Speeds are written as whole numbers.
      if ((faster || (slower && named)) && std::abs(use.rpm - tool.spindle_rpm) > 0.5 &&
          told.insert(use.tool).second)
        notes.push_back({"spindle", fmt::format("T{} turns at {:g} a minute in line {}; the job says {:g}",
                                                use.tool, use.rpm, use.line, tool.spindle_rpm)});
      if (named && tool.coolant != use.coolant && dry.insert(use.tool).second)
        notes.push_back({"coolant", fmt::format("T{} cuts {} coolant from line {}; the job says {}", use.tool,
                                                use.coolant ? "with" : "without", use.line,
                                                tool.coolant ? "with" : "without")});
    }
}

void hold_feeds(const Program& program, const Job& job, std::vector<Note>& notes) {
  const bool named = names_operations(program);
  for (const Tool& given : job.tools) {
    const Tool tool = completed(given);
    const double feeds[] = {tool.feed_mm_min, tool.plunge_feed_mm_min, tool.ramp_feed_mm_min,
                            tool.link_feed_mm_min};
    const double most = *std::max_element(std::begin(feeds), std::end(feeds));
    if (!(most > 0)) continue;
    const auto of_the_tool = [&](double feed) {
      return std::any_of(std::begin(feeds), std::end(feeds), [&](double known) {
        return std::abs(feed - known) <= 0.05 + known * (kRounding - 1);
      });
    };
    const ProgramMove *fastest = nullptr, *other = nullptr;
    std::int64_t faster = 0, others = 0;
    for (const ProgramMove& move : program.moves) {
      if (move.tool != tool.number || move.rapid()) continue;
      if (move.feed_mm_min > most * kRounding + 1) {
        ++faster;
        if (!fastest || move.feed_mm_min > fastest->feed_mm_min) fastest = &move;
      } else if (named && !of_the_tool(move.feed_mm_min)) {
        if (others++ == 0) other = &move;
      }
    }
    if (fastest)
      notes.push_back(
          {"feed",
           fmt::format("T{} is fed faster than any feed of the tool in {} moves, fastest in line {}: "
                       "{{}} a minute; the tool's greatest is {{}}",
                       tool.number, faster, fastest->line),
           {length_of(fastest->feed_mm_min), length_of(most)}});
    if (other)
      notes.push_back({"feed",
                       fmt::format("T{} is fed in {} moves as the job does not say, first in line {}: {{}} a "
                                   "minute; its feeds are {{}}, {{}}, {{}} and {{}}",
                                   tool.number, others, other->line),
                       {length_of(other->feed_mm_min), length_of(feeds[0]), length_of(feeds[1]),
                        length_of(feeds[2]), length_of(feeds[3])}});
  }
}

}  // namespace

std::vector<Note> held_against_job(const Program& program, const JobSetup& setup,
                                   const std::vector<Settled>& operations, bool whole) {
  std::vector<Note> notes;
  if (program.moves.empty()) notes.push_back({"empty", "the program makes no move"});
  for (const ProgramRemark& remark : program.remarks)
    notes.push_back({"read", fmt::format("line {}: {}", remark.line, remark.says)});
  if (program.dwell_s > 0)
    notes.push_back({"dwell",
                     "it dwells for {} in all (G4), which the times leave out",
                     {number_of(program.dwell_s, Unit::seconds)}});
  hold_operations(program, operations, whole, notes);
  const std::string said = fmt::format("G{}", program.work_offset);
  if (!program.moves.empty() && said != setup.job.machine.controller.work_offset)
    notes.push_back({"work offset", fmt::format("the program works by {}, the job by {}", said,
                                                setup.job.machine.controller.work_offset)});
  hold_spindle(program, setup.job, notes);
  hold_feeds(program, setup.job, notes);
  return notes;
}

}  // namespace yardpass::detail
