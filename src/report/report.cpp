// What a report says, before it is written anywhere.
#include "yardpass/report/report.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

namespace yardpass {

std::string clock(double seconds) {
  const auto total = static_cast<long>(std::lround(seconds));
  if (total < 3600) return fmt::format("{}:{:02}", total / 60, total % 60);
  return fmt::format("{}:{:02}:{:02}", total / 3600, total / 60 % 60, total % 60);
}

std::string in_words(const Finding& finding) {
  if (finding.kind == FindingKind::undercut_cutter)
    return fmt::format("line {}: {}: below an overhang nothing is seen yet", finding.line,
                       name_of(finding.kind));
  std::string text =
      fmt::format("line {}: {} {:.3f} mm deep at X {:.3f} Y {:.3f} Z {:.3f}", finding.line,
                  name_of(finding.kind), finding.depth_mm, finding.at.x(), finding.at.y(), finding.at.z());
  if (finding.moves > 1)
    text += fmt::format(" ({} moves, deepest in line {})", finding.moves, finding.worst_line);
  if (!finding.guard.empty()) text += fmt::format(", guard \"{}\"", finding.guard);
  if (!finding.accepted_because.empty()) text += fmt::format(", accepted: {}", finding.accepted_because);
  return text;
}

namespace {

double allowance_of(const Job& job, const std::string& name) {
  for (const OperationJob& operation : job.operations)
    if (operation.name == name) return operation.allowance_mm.value_or(0);
  return 0;
}

void add_operations(Report& report, const std::vector<OperationResult>* planned) {
  const JudgedProgram& judged = report.judged;
  // Ridges are what was cut: what is left on purpose or out of reach is none.
  ExcessMap wanted = judged.excess;
  for (std::size_t i = 0; i < wanted.excess_mm.size(); ++i)
    if (judged.leftover.why[i] == LeftBecause::on_purpose ||
        judged.leftover.why[i] == LeftBecause::out_of_reach)
      wanted.excess_mm[i] = std::numeric_limits<float>::quiet_NaN();
  for (const OperationJudgement& operation : judged.judgement.operations) {
    OperationReport entry;
    entry.name = operation.name;
    entry.judged = operation;
    for (const OperationJob& known : report.job.operations)
      if (known.name == operation.name)
        entry.strategy = known.strategy, entry.intended_depth_mm = known.intended_depth_mm;
    for (const Tool& tool : report.job.tools)
      if (tool.number == operation.tool) entry.tool = &tool;
    if (planned)
      for (const OperationResult& result : *planned)
        if (result.name == operation.name) entry.planned = &result;
    entry.excess_after =
        judged.after_operation[static_cast<std::size_t>(&operation - judged.judgement.operations.data())];
    entry.excess = statistics(judged.excess, judged.judgement.stock, area_of(report.world, operation.name));
    entry.measured_scallop_mm =
        statistics(wanted, judged.judgement.stock, area_of(report.world, operation.name)).p99_mm -
        allowance_of(report.job, operation.name);
    report.operations.push_back(std::move(entry));
  }
}

}  // namespace

namespace {

/// Area of faces that hang over: a height map sees nothing below them. Faces at the bottom do not count.
double undercut_of(const JobWorld& world) {
  const Mesh& mesh = world.part->mesh();
  const double bottom = world.part->box().min().z() + 1e-3;
  double area = 0;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const Vec3 normal = (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0));
    const bool flat_bottom =
        std::max({mesh.corner(t, 0).z(), mesh.corner(t, 1).z(), mesh.corner(t, 2).z()}) < bottom;
    if (normal.z() < -0.005 * normal.norm() && !flat_bottom) area += normal.norm() / 2;
  }
  return area;
}

std::vector<std::string> not_judged(const Report& report) {
  std::vector<std::string> words;
  if (!report.judged.whole())
    words.push_back(
        fmt::format("lines after {} of {}", report.judged.up_to_line, report.judged.program.lines));
  if (report.undercut_mm2 > 0)
    words.push_back(fmt::format("{:.1f} mm2 of undercut faces: material below an overhang is not seen",
                                report.undercut_mm2));
  for (const OperationReport& operation : report.operations)
    if (operation.tool && operation.tool->undercuts())
      words.push_back(fmt::format("what T{} \"{}\", an undercut cutter, does below an overhang",
                                  operation.judged.tool, operation.tool->name));
  return words;
}

/// By the lines of the program that we posted: what each move is for.
void tell_kinds_apart(Report& report, const PostedProgram& posted) {
  const Program& program = report.judged.program;
  const std::vector<double> seconds = seconds_of_moves(program, report.job.machine);
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const ProgramMove& move = program.moves[i];
    if (move.rapid()) continue;
    OperationReport& operation = report.operations[static_cast<std::size_t>(move.operation)];
    switch (posted.kinds[static_cast<std::size_t>(move.line) - 1]) {
      case MoveKind::plunge:
      case MoveKind::ramp:
        operation.entry_s += seconds[i];
        break;
      case MoveKind::link:
        operation.link_s += seconds[i];
        break;
      default:
        operation.cut_s += seconds[i];
    }
  }
}

}  // namespace

Report make_report(const RunResult& run) {
  Report report{run.world.job, run.world, run.judged, &run.posted, {}, undercut_of(run.world), {}};
  add_operations(report, &run.operations);
  tell_kinds_apart(report, run.posted);
  report.not_judged = not_judged(report);
  return report;
}

Report make_report(const JobWorld& world, const JudgedProgram& judged) {
  Report report{world.job, world, judged, nullptr, {}, undercut_of(world), {}};
  add_operations(report, nullptr);
  for (OperationReport& operation : report.operations) operation.cut_s = operation.judged.time.feed_s;
  report.not_judged = not_judged(report);
  return report;
}

std::vector<const Finding*> worst_findings(const std::vector<Finding>& findings, std::size_t most) {
  std::vector<const Finding*> list;
  for (const Finding& finding : findings) list.push_back(&finding);
  const Finding* first = list.empty() ? nullptr : list.front();
  std::stable_sort(list.begin(), list.end(), [&](const Finding* a, const Finding* b) {
    if ((a == first) != (b == first)) return a == first;
    const bool open_a = a->accepted_because.empty(), open_b = b->accepted_because.empty();
    return open_a != open_b ? open_a : a->depth_mm > b->depth_mm;
  });
  list.resize(std::min(list.size(), most));
  std::sort(list.begin(), list.end());  // as they stand in the program
  return list;
}

std::string verdict_words(const Report& report) {
  const auto& findings = report.judged.judgement.findings;
  const auto accepted = std::count_if(findings.begin(), findings.end(), [](const Finding& finding) {
    return !finding.accepted_because.empty();
  });
  const auto counted = [](auto n) { return fmt::format("{} finding{}", n, n == 1 ? "" : "s"); };
  const std::string part = report.judged.whole()
                               ? ""
                               : fmt::format(", but only up to line {} of {}", report.judged.up_to_line,
                                             report.judged.program.lines);
  if (findings.empty()) return "clean" + part;
  if (report.clean())
    return fmt::format("clean but for {} accepted {}", accepted, accepted == 1 ? "finding" : "findings") +
           part;
  return (accepted > 0 ? fmt::format("{}, {} of them accepted", counted(findings.size()), accepted)
                       : counted(findings.size())) +
         part;
}

std::string left_words(const Report& report) {
  const Leftover& left = report.judged.leftover;
  std::string words = fmt::format(
      "thicker than {:g} mm: {:.1f} mm2 missed, {:.1f} mm2 out of reach of the tools used, {:.1f} mm2 on "
      "purpose",
      left.limit_mm, left.missed_mm2, left.out_of_reach_mm2, left.on_purpose_mm2);
  if (!left.thickest.empty() && left.thickest[0].why != LeftBecause::on_purpose)
    words += fmt::format("; thickest {}: {:.3f} mm at X {:.2f} Y {:.2f} Z {:.2f}",
                         name_of(left.thickest[0].why), left.thickest[0].excess_mm, left.thickest[0].at.x(),
                         left.thickest[0].at.y(), left.thickest[0].at.z());
  return words;
}

std::string times_table(const Program& program, const MachineMotion& machine) {
  std::string text = fmt::format("{:<24} {:>9} {:>9} {:>9} {:>9} {:>9} {:>9} {:>20}\n", "operation", "time",
                                 "at feed", "rapids", "retracts", "changes", "feed", "length over feed");
  const std::vector<OperationTime> times = times_of(program, machine);
  std::vector<double> feed_mm(times.size(), 0.0);
  for (const ProgramMove& move : program.moves)
    if (!move.rapid()) feed_mm[static_cast<std::size_t>(move.operation)] += program.length_of(move);
  for (std::size_t k = 0; k < times.size(); ++k) {
    const OperationTime& time = times[k];
    text += fmt::format("{:<24} {:>9} {:>9} {:>9} {:>9} {:>9} {:>7.2f} m {:>20}\n", program.operations[k],
                        clock(time.all_s()), clock(time.feed_s), clock(time.rapid_s), clock(time.retract_s),
                        clock(time.tool_change_s), feed_mm[k] / 1000, clock(time.plain_s));
  }
  return text + total_time_words(program, machine) + "\n";
}

std::string total_time_words(const Program& program, const MachineMotion& machine) {
  double all = 0, plain = 0;
  for (const OperationTime& time : times_of(program, machine)) all += time.all_s(), plain += time.plain_s;
  return fmt::format(
      "whole program: {}, {} lines; length over feed alone would be {}: the rest is speeding up and slowing "
      "down",
      clock(all), program.lines, clock(plain));
}

}  // namespace yardpass
