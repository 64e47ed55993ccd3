// What a report says, before it is written anywhere.
#include "yardpass/report/report.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "yardpass/geom/text.h"
#include "yardpass/report/figures.h"

namespace yardpass {

namespace {

/// An operation of the program, or one of the job that the program has no moves of.
OperationReport entry_of(const Job& job, const std::vector<Settled>& settled, const Program& program,
                         std::int32_t in_program, std::int32_t number) {
  OperationReport entry;
  entry.number = number;
  entry.in_program = in_program;
  entry.settled = settled_of(settled, number);
  if (const OperationJob* known = job.operation_numbered(number)) {
    entry.name = known->name;
    entry.strategy = known->strategy;
  } else {
    const ProgramOperation& said = program.operations[static_cast<std::size_t>(in_program)];
    entry.name = number == 0 ? "(names no operation)" : said.words;
  }
  return entry;
}

/// In the order of the program; those of the job that it lacks stand behind the one that comes before them in
/// the job.
std::vector<OperationReport> entries_of(const Job& job, const std::vector<Settled>& settled,
                                        const Program& program) {
  std::vector<OperationReport> entries;
  for (std::size_t k = 0; k < program.operations.size(); ++k)
    entries.push_back(
        entry_of(job, settled, program, static_cast<std::int32_t>(k), program.operations[k].number));
  std::size_t behind = 0;
  for (const Settled& one : settled) {
    const auto at = std::find_if(entries.begin(), entries.end(),
                                 [&](const OperationReport& entry) { return entry.number == one.number; });
    if (at == entries.end())
      entries.insert(entries.begin() + static_cast<std::ptrdiff_t>(behind++),
                     entry_of(job, settled, program, -1, one.number));
    else
      behind = static_cast<std::size_t>(at - entries.begin()) + 1;
  }
  return entries;
}

/// Ridges are what was cut: what is left on purpose or out of reach is none.
LeftMap without_what_is_meant(const JudgedProgram& judged) {
  LeftMap cut = judged.left;
  for (std::size_t i = 0; i < cut.left_mm.size(); ++i)
    if (judged.why_left.why[i] == LeftBecause::on_purpose ||
        judged.why_left.why[i] == LeftBecause::out_of_reach)
      cut.left_mm[i] = std::numeric_limits<float>::quiet_NaN();
  return cut;
}

void add_operations(Report& report) {
  const JudgedProgram& judged = report.judged;
  const LeftMap cut = judged.judged ? without_what_is_meant(judged) : LeftMap();
  report.operations = entries_of(report.job(), report.settled, judged.program);
  for (OperationReport& entry : report.operations) {
    if (entry.has_moves()) {
      const auto k = static_cast<std::size_t>(entry.in_program);
      entry.judged = judged.judgement.operations[k];
      entry.left_after = judged.after_operation[k];
      for (const Tool& tool : report.job().tools)
        if (tool.number == entry.judged.tool) entry.tool = &tool;
    } else {
      entry.judged.number = entry.number;
      entry.tool = &entry.settled->tool;
      entry.judged.tool = entry.tool->number;
    }
    if (report.run && entry.settled) {
      const auto index = static_cast<std::size_t>(entry.settled - report.settled.data());
      entry.planned = &report.run->planned[index];
      if (index < report.run->hindsight.size()) entry.hindsight = &report.run->hindsight[index];
    }
    if (judged.resumed) {
      const std::vector<std::int32_t>& before = judged.resumed->cut_before;
      entry.cut_before = std::find(before.begin(), before.end(), entry.number) != before.end();
    }
    if (const auto edges = judged.edge_sizes.find(entry.number); edges != judged.edge_sizes.end())
      entry.edges = &edges->second;
    entry.is_judged = judged.judged;
    if (!judged.judged) continue;
    const Region area = area_of(report.setup, report.settled, entry.number);
    entry.left = statistics(judged.left, judged.judgement.stock, area);
    if (report.job().left.explained && judged.why_left.not_asked_mm2 == 0)
      entry.missed_mm2 = area_because(judged.why_left, judged.judgement.stock, area, LeftBecause::missed);
    entry.measured_scallop_mm = statistics(cut, judged.judgement.stock, area).p99_mm -
                                (entry.settled ? entry.settled->values.allowance.greatest_mm() : 0);
  }
}

/// Area of faces that hang over: a height map sees nothing below them. Faces at the bottom do not count.
double undercut_of(const JobSetup& setup) {
  const Mesh& mesh = setup.part->mesh();
  const double bottom = setup.part->box().min().z() + 1e-3;
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
  if (!report.judged.judged) return {"all of it: gouges, rapids, holder, what is left"};
  if (!report.judged.whole())
    words.push_back(
        fmt::format("lines after {} of {}", report.judged.up_to_line, report.judged.program.lines));
  if (report.undercut_mm2 > 0)
    words.push_back(fmt::format("{} of undercut faces: material below an overhang is not seen",
                                report.telling.area_words(report.undercut_mm2)));
  for (const OperationReport& operation : report.operations) {
    if (operation.has_moves() && operation.tool && operation.tool->undercuts())
      words.push_back(fmt::format("what T{} \"{}\", an undercut cutter, does below an overhang",
                                  operation.judged.tool, operation.tool->name));
    if (operation.has_moves() && !operation.settled && operation.judged.moves > 0)
      words.push_back(
          fmt::format("{}: it is none of the job's active operations, so what they state and keep away from "
                      "does not count for it",
                      report.operation_words(operation.in_program)));
  }
  return words;
}

/// By the lines of the program that we posted: what each move is for.
void tell_kinds_apart(Report& report) {
  const Program& program = report.judged.program;
  const std::vector<double> seconds = seconds_of_moves(program, report.job().machine.motion);
  std::vector<OperationReport*> entries(program.operations.size(), nullptr);
  for (OperationReport& entry : report.operations)
    if (entry.has_moves()) entries[static_cast<std::size_t>(entry.in_program)] = &entry;
  for (std::size_t i = 0; i < program.moves.size(); ++i) {
    const ProgramMove& move = program.moves[i];
    if (move.rapid()) continue;
    OperationReport& operation = *entries[static_cast<std::size_t>(move.operation)];
    const Move* planned = report.run ? move_of_line(*report.run, move.line) : nullptr;
    switch (planned ? planned->kind : MoveKind::cut) {
      case MoveKind::plunge:
      case MoveKind::ramp:
      case MoveKind::lead:
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

const OperationReport& Report::operation_of(std::int32_t in_program) const {
  return *std::find_if(operations.begin(), operations.end(),
                       [&](const OperationReport& entry) { return entry.in_program == in_program; });
}

std::string Report::operation_words(std::int32_t in_program) const {
  const OperationReport& entry = operation_of(in_program);
  if (entry.number == 0) return "moves that name no operation";
  return fmt::format("operation {} \"{}\"", entry.number, one_line(entry.name));
}

std::int32_t Report::pass_of_line(std::int32_t line) const {
  const Move* move = run ? move_of_line(*run, line) : nullptr;
  if (!move) return 0;
  const std::int32_t operation = run->posted.origin[static_cast<std::size_t>(line) - 1].operation;
  return run->planned[static_cast<std::size_t>(operation)].path.pass_of(*move);
}

Report make_report(const RunResult& run) {
  Report report{run.setup, run.operations,         run.judged, &run,
                {},        undercut_of(run.setup), {},         Telling(run.setup.job.units)};
  add_operations(report);
  tell_kinds_apart(report);
  report.not_judged = not_judged(report);
  report.files = run.files;
  return report;
}

Report make_report(const JobSetup& setup, const std::vector<Settled>& settled, const JudgedProgram& judged,
                   std::span<const ProgramFile> files) {
  Report report{setup, settled, judged, nullptr, {}, undercut_of(setup), {}, Telling(setup.job.units), files};
  add_operations(report);
  tell_kinds_apart(report);
  report.not_judged = not_judged(report);
  return report;
}

OperationReport total_of(const Report& report) {
  OperationReport total;
  PlannedOperation* planned = nullptr;
  total.name = "whole program";
  for (const OperationReport& one : report.operations) {
    if (one.has_moves()) total.in_program = 0;
    total.is_judged &= one.is_judged;
    total.judged.add(one.judged);
    total.cut_s += one.cut_s, total.entry_s += one.entry_s, total.link_s += one.link_s;
    if (!one.planned) continue;
    if (!planned) total.own = std::make_shared<PlannedOperation>(), planned = total.own.get();
    planned->links.add(one.planned->links);
    planned->lengths.add(one.planned->lengths);
  }
  total.planned = planned;
  return total;
}

std::string finding_words(const Report& report, const Finding& finding) {
  const std::int32_t pass = report.pass_of_line(finding.worst_line);
  return fmt::format("line {}: {}, {}{}", finding.line, report.telling.words(finding),
                     pass > 0 ? fmt::format("pass {} of ", pass) : "",
                     report.operation_words(finding.operation));
}

std::vector<std::string> job_notes(const Report& report) {
  std::vector<std::string> words;
  for (const Note& note : report.job().notes) words.push_back(report.telling.words(note));
  return words;
}

std::vector<std::string> notes_of(const OperationReport& operation, const Telling& telling) {
  std::vector<std::string> words;
  if (operation.settled)
    for (const Note& note : operation.settled->notes) words.push_back(telling.words(note));
  if (operation.planned)
    for (const Note& note : operation.planned->notes) words.push_back(telling.words(note));
  if (operation.hindsight)
    for (const Note& note : *operation.hindsight) words.push_back(telling.words(note));
  if (operation.has_moves() && operation.judged.air_feed_mm >= operation.judged.feed_mm)
    words.emplace_back("none of its moves takes material away");
  return words;
}

std::string not_for_cutting(const Report& report) {
  if (!report.only_a_look()) return {};
  return std::string(report.job().coarser.any() ? "QUICK LOOK, " : "") +
         (report.judged.judged ? "" : "NOT JUDGED, ") + "NOT FOR CUTTING";
}

namespace {

std::string judged_words(const Report& report) {
  const auto& findings = report.judged.judgement.findings;
  const auto accepted = std::count_if(findings.begin(), findings.end(), [](const Finding& finding) {
    return !finding.accepted_because.empty();
  });
  const auto counted = [](auto n) { return fmt::format("{} finding{}", n, n == 1 ? "" : "s"); };
  const std::optional<ResumedAt>& resumed = report.judged.resumed;
  const std::string part = resumed ? fmt::format(", from line {} of {} on", resumed->line, resumed->program)
                           : report.judged.whole()
                               ? ""
                               : fmt::format(", but only up to line {} of {}", report.judged.up_to_line,
                                             report.judged.program.lines);
  const std::size_t disagreements = report.judged.disagreements.size();
  if (disagreements > 0)
    return fmt::format("{}the program disagrees with the job in {} {}",
                       findings.empty() ? "" : counted(findings.size()) + "; ", disagreements,
                       disagreements == 1 ? "point" : "points") +
           part;
  if (findings.empty()) return "clean" + part;
  if (report.clean())
    return fmt::format("clean but for {} accepted {}", accepted, accepted == 1 ? "finding" : "findings") +
           part;
  return (accepted > 0 ? fmt::format("{}, {} of them accepted", counted(findings.size()), accepted)
                       : counted(findings.size())) +
         part;
}

}  // namespace

std::string verdict_words(const Report& report) {
  if (!report.judged.judged) return "none: it was planned and linked, not judged";
  if (report.only_a_look()) return "quick look: " + judged_words(report);
  return judged_words(report);
}

std::string left_words(const Report& report) {
  const WhyLeft& left = report.judged.why_left;
  const Telling& telling = report.telling;
  std::string words =
      fmt::format("thicker than {}: {} missed, {} out of reach of the tools used, {} on purpose",
                  telling.with_unit(left.limit_mm), telling.area_words(left.missed_mm2),
                  telling.area_words(left.out_of_reach_mm2), telling.area_words(left.on_purpose_mm2));
  if (left.not_asked_mm2 > 0)
    words = fmt::format("thicker than {}: {} not explained, {} on purpose", telling.with_unit(left.limit_mm),
                        telling.area_words(left.not_asked_mm2), telling.area_words(left.on_purpose_mm2));
  if (left.asked_every > 1)
    words +=
        fmt::format(" (asked at the thickest of every {} x {} cells)", left.asked_every, left.asked_every);
  if (!left.thickest.empty() && left.thickest[0].why != LeftBecause::on_purpose)
    words += fmt::format("; thickest {}: {} {} at {}", name_of(left.thickest[0].why),
                         telling.column(left.thickest[0].left_mm), telling.unit(),
                         telling.place(left.thickest[0].at));
  return words;
}

std::string stickout_words(const OperationReport& operation, const Telling& telling) {
  // Rounded up, so that it works as it is typed.
  const double step = telling.units() == Units::inch ? 0.0254 : 0.01;
  const double least = step * std::ceil(operation.judged.least_stickout_mm / step - 1e-9);
  const bool flutes = operation.judged.least_stickout_mm <= completed(*operation.tool).flute_length_mm;
  return fmt::format("stick-out {}, least that works {}{}", telling.with_unit(operation.tool->stickout_mm),
                     telling.with_unit(least), flutes ? ", where the flutes end" : "");
}

std::string engagement_words(const OperationReport& operation) {
  const Engagement& engagement = operation.judged.engagement;
  return fmt::format("engaged {:.0f} degrees on half of its cuts, {:.0f} on 99 %, {:.0f} at most, in line {}",
                     engagement.angle_on(0.5), engagement.angle_on(0.99), engagement.greatest_deg,
                     engagement.greatest_line);
}

std::string times_table(const Program& program, const Job& job) {
  std::vector<OperationReport> operations = entries_of(job, {}, program);
  const std::vector<OperationTime> times = times_of(program, job.machine.motion);
  for (const ProgramMove& move : program.moves) {
    OperationReport& operation = operations[static_cast<std::size_t>(move.operation)];
    if (!move.rapid()) operation.judged.feed_mm += program.length_of(move);
    for (const Tool& tool : job.tools)
      if (tool.number == move.tool) operation.tool = &tool;
  }
  for (std::size_t k = 0; k < operations.size(); ++k) operations[k].judged.time = times[k];
  return figures_table(operations, kTimesAlone, Telling(job.units)) +
         total_time_words(program, job.machine.motion) + "\n";
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
