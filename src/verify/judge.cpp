#include "yardpass/verify/judge.h"

#include <algorithm>
#include <cmath>

#include "verify/stock_proof.h"
#include "yardpass/verify/time.h"

namespace yardpass {

namespace {

Program without_moves(const Program& program) {
  return {{}, program.arcs, program.operations, program.tools, program.tool_lines, program.lines};
}

Program up_to_line(const Program& program, std::int32_t line) {
  Program result = without_moves(program);
  for (const ProgramMove& move : program.moves)
    if (move.line <= line) result.moves.push_back(move);
  return result;
}

/// Rapids as the control moves them, each axis on its own. `origin`: which move of the program each of the
/// result belongs to.
Program with_dog_legs(const Program& program, const JudgeOptions& options,
                      std::vector<std::int32_t>& origin) {
  Program result = without_moves(program);
  for (const ProgramMove& move : program.moves) {
    if (!move.rapid()) {
      result.moves.push_back(move);
      origin.push_back(static_cast<std::int32_t>(&move - program.moves.data()));
      continue;
    }
    ProgramMove leg = move;
    while ((move.to - leg.from).cwiseAbs().maxCoeff() > 0) {
      // All axes that are not there yet go on, each at its speed, until the first of them arrives.
      const Vec3 left = move.to - leg.from, rates = options.machine.rapid_mm_min;
      double minutes = std::numeric_limits<double>::infinity();
      for (int k = 0; k < 3; ++k)
        if (left[k] != 0) minutes = std::min(minutes, std::abs(left[k]) / rates[k]);
      for (int k = 0; k < 3; ++k) {
        const bool arrives = std::abs(left[k]) / rates[k] <= minutes;
        leg.to[k] = arrives ? move.to[k] : leg.from[k] + std::copysign(minutes * rates[k], left[k]);
      }
      result.moves.push_back(leg);
      origin.push_back(static_cast<std::int32_t>(&move - program.moves.data()));
      leg.from = leg.to;
    }
  }
  return result;
}

/// The way of the tip through an operation, from one place to the next.
std::vector<Vec3> tips_of(const Program& program, std::size_t operation) {
  std::vector<Vec3> tips;
  for (const ProgramMove& move : program.moves) {
    if (static_cast<std::size_t>(move.operation) != operation) continue;
    const std::vector<Vec3> points = program.points_of(move, 0.001);
    tips.insert(tips.end(), points.begin() + (tips.empty() ? 0 : 1), points.end());
  }
  return tips;
}

std::vector<OperationJudgement> totals(const Program& program, const JudgeOptions& options,
                                       const std::vector<std::uint8_t>& removed) {
  std::vector<OperationJudgement> result(program.operations.size());
  for (std::size_t k = 0; k < result.size(); ++k) result[k].number = program.operations[k].number;
  const std::vector<OperationTime> times = times_of(program, options.machine);
  for (std::size_t k = 0; k < result.size(); ++k) result[k].time = times[k];
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const ProgramMove& move = program.moves[i];
    OperationJudgement& operation = result[static_cast<std::size_t>(move.operation)];
    operation.tool = move.tool;
    ++operation.moves;
    const double length = program.length_of(move);
    if (move.rapid()) {
      // Coming down from the tool change is no way of the operation's own.
      if (!move.after_change) operation.rapid_mm += length;
      operation.retracts += move.to.z() > move.from.z();
    } else {
      operation.feed_mm += length;
      if (!removed[i]) operation.air_feed_mm += length;
    }
  }
  return result;
}

/// A height map knows nothing of what lies below the widest place of a cutter that is narrower above: the
/// first move of each operation with one.
std::vector<detail::Trouble> undercut_cutters(const Program& program, const std::vector<Tool>& tools) {
  std::vector<detail::Trouble> result;
  std::int32_t told = -1;
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const ProgramMove& move = program.moves[i];
    if (move.rapid() || move.operation == told) continue;
    for (const Tool& tool : tools)
      if (tool.number == move.tool && tool.undercuts()) {
        result.push_back({FindingKind::undercut_cutter, i, 0, move.to});
        told = move.operation;
      }
  }
  return result;
}

}  // namespace

void OperationJudgement::add(const OperationJudgement& more) {
  feed_mm += more.feed_mm, rapid_mm += more.rapid_mm, air_feed_mm += more.air_feed_mm;
  moves += more.moves, retracts += more.retracts;
  time.feed_s += more.time.feed_s, time.rapid_s += more.time.rapid_s, time.retract_s += more.time.retract_s;
  time.tool_change_s += more.time.tool_change_s, time.plain_s += more.time.plain_s;
}

bool Judgement::clean() const {
  return std::all_of(findings.begin(), findings.end(),
                     [](const Finding& finding) { return !finding.accepted_because.empty(); });
}

Judgement carry_out(const Program& program, const std::vector<Tool>& given_tools, Stock stock,
                    const JudgeOptions& options, const Progress& progress) {
  std::vector<Tool> tools;
  std::vector<Profile> cutters;
  for (const Tool& tool : given_tools) {
    tools.push_back(completed(tool));
    cutters.push_back(profile_of(tools.back()));
  }
  const std::vector<std::size_t> tool_of = detail::tool_of_moves(program, tools);
  std::vector<SweptMove> swept;
  swept.reserve(program.moves.size());
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const ProgramMove& move = program.moves[i];
    swept.push_back(
        {move.from, move.to, static_cast<std::int32_t>(tool_of[i]), !move.rapid(), program.arc_of(move)});
  }
  CarveLog log;
  carve(stock, cutters, swept, &log, progress);
  const double cell = stock.cell_mm();
  Judgement result{
      {}, totals(program, options, log.removed), std::move(stock), std::move(log.last_cut), 0, 0, cell, {}};
  for (const OperationJudgement& operation : result.operations) result.seconds += operation.time.all_s();
  return result;
}

Judgement judge(const Program& given, const std::shared_ptr<const ContactPart>& part,
                const std::vector<Tool>& given_tools, Stock stock, const JudgeOptions& options,
                const Progress& progress) {
  std::vector<Tool> tools;
  for (const Tool& tool : given_tools) tools.push_back(completed(tool));
  std::optional<Program> first_lines, dog_legs;
  if (!given.moves.empty() && given.moves.back().line > options.up_to_line)
    first_lines = up_to_line(given, options.up_to_line);
  const Program& asked = first_lines ? *first_lines : given;
  std::vector<std::int32_t> origin;  // empty: the moves themselves
  if (options.dog_leg_rapids) dog_legs = with_dog_legs(asked, options, origin);
  const Program& program = dog_legs ? *dog_legs : asked;
  detail::PartProof by_part =
      detail::prove_against_part(program, part, tools, options, part_of(progress, 0, 0.5));
  const Progress second_half = part_of(progress, 0.5, 1);
  detail::StockProof by_stock =
      options.done ? detail::prove_after(*options.done, program, tools, stock, options, second_half)
                   : detail::prove_against_stock(program, tools, stock, options, second_half);
  std::vector<std::uint8_t> removed = by_stock.removed;
  if (dog_legs) {
    for (std::int32_t& move : by_stock.last_cut)
      if (move >= 0) move = origin[static_cast<std::size_t>(move)];
    removed.assign(asked.moves.size(), 0);
    for (std::size_t i = 0; i < origin.size(); ++i)
      removed[static_cast<std::size_t>(origin[i])] |= by_stock.removed[i];
  }
  std::vector<detail::Trouble> troubles = std::move(by_part.troubles);
  troubles.insert(troubles.end(), by_stock.troubles.begin(), by_stock.troubles.end());
  for (const detail::Trouble& trouble : undercut_cutters(program, tools)) troubles.push_back(trouble);
  std::stable_sort(troubles.begin(), troubles.end(),
                   [](const detail::Trouble& a, const detail::Trouble& b) { return a.move < b.move; });
  detail::FindingList findings(program);
  for (const detail::Trouble& trouble : troubles) findings.add(trouble);
  Judgement result{findings.take(options.accepted),
                   totals(asked, options, removed),
                   std::move(stock),
                   std::move(by_stock.last_cut),
                   0,
                   by_stock.hidden_squares,
                   by_stock.seen_mm,
                   std::move(by_stock.peaks)};
  for (std::size_t k = 0; k < result.operations.size(); ++k) {
    result.operations[k].least_clearance_mm = by_part.least_of_operation[k].room_mm;
    result.operations[k].engagement = by_stock.engagement[k];
    result.operations[k].least_clearance_line = by_part.least_of_operation[k].line;
    result.seconds += result.operations[k].time.all_s();
    for (const Tool& tool : tools)
      if (tool.number == result.operations[k].tool && !tool.holder.empty())
        result.operations[k].least_stickout_mm =
            std::max(least_stickout(part, tool, tips_of(program, k), clearance_of(tool)),
                     by_stock.least_stickout_mm[k]);
  }
  return result;
}

}  // namespace yardpass
