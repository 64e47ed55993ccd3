#include "app/terminal.h"

#include <unistd.h>

#include <csignal>
#include <cstdio>

#include <fmt/format.h>

namespace yardpass::app {

namespace {

volatile std::sig_atomic_t interrupted = 0;

void print_operations(const Report& report) {
  fmt::print("{:<24} {:<12} {:>8} {:>9} {:>9} {:>8}   {:>22}  {:>10}\n", "operation", "tool", "time",
             "at feed", "rapid", "moves", "left after it*, mm", "clearance");
  for (const OperationReport& operation : report.operations) {
    const OperationJudgement& judged = operation.judged;
    fmt::print("{:<24} {:<12} {:>8} {:>7.2f} m {:>7.2f} m {:>8}   {:>7.3f}/{:.3f}/{:<6.3f}  {:>7.4f} mm\n",
               operation.name, fmt::format("T{} {}", judged.tool, operation.tool ? operation.tool->name : ""),
               clock(judged.time.all_s()), judged.feed_mm / 1000, judged.rapid_mm / 1000, judged.moves,
               operation.excess_after.median_mm, operation.excess_after.p95_mm,
               operation.excess_after.greatest_mm, judged.least_clearance_mm);
  }
  fmt::print("* half / 95 % / all of its area within so much, before the next operation\n");
  for (const OperationReport& operation : report.operations)
    if (operation.judged.least_stickout_mm > 0 && operation.tool)
      fmt::print("{}: stick-out {:g} mm, least that works {:.1f} mm\n", operation.name,
                 operation.tool->stickout_mm, operation.judged.least_stickout_mm);
  for (const OperationReport& operation : report.operations)
    if (operation.planned && operation.planned->scallop_mm)
      fmt::print(
          "{}: ridges of {:.4f} mm on flat ground by its stepover; measured, 99 % of its area within {:.4f} "
          "mm\n",
          operation.name, *operation.planned->scallop_mm, operation.measured_scallop_mm);
  fmt::print("left {}\n", left_words(report));
  fmt::print("{}\n", total_time_words(report.judged.program, report.job.machine));
}

void print_values(const Report& report) {
  for (const OperationReport& operation : report.operations) {
    if (!operation.planned) continue;
    fmt::print("\nvalues in force, {}\n", operation.name);
    for (const ValueInForce& value : operation.planned->values)
      fmt::print("  {:<16} {:<34} {}\n", value.key, value.value, value.source);
    for (const std::string& note : operation.planned->notes) fmt::print("  note: {}\n", note);
  }
  fmt::print("\n");
}

}  // namespace

ProgressLine::ProgressLine(bool quiet) : shown_(!quiet && ::isatty(STDERR_FILENO) == 1) {
  std::signal(SIGINT, [](int) { interrupted = 1; });
}

ProgressLine::~ProgressLine() { clear(); }

void ProgressLine::clear() {
  if (dirty_) std::fputs("\r\033[K", stderr);
  dirty_ = false;
}

StageProgress ProgressLine::callback() {
  return [this](const std::string& stage, double share) {
    const int percent = static_cast<int>(share * 100);
    if (shown_ && (stage != stage_ || percent != percent_)) {
      stage_ = stage, percent_ = percent;
      fmt::print(stderr, "\r\033[K{}: {} %", stage, percent);
      std::fflush(stderr);
      dirty_ = true;
    }
    return interrupted == 0;
  };
}

void print_report(const Report& report, bool quiet) {
  if (!quiet) {
    const Box3& block = report.world.block;
    fmt::print("{}\n", report.job.title);
    fmt::print(
        "part: {} triangles, {}; stock: X {:g} to {:g}, Y {:g} to {:g}, Z {:g} to {:g} mm; {:.1f} million "
        "cells of {:g} mm ({}), {:.0f} MB\n",
        report.world.summary.triangles, report.world.summary.edges.closed() ? "closed" : "not closed",
        block.min().x(), block.max().x(), block.min().y(), block.max().y(), block.min().z(), block.max().z(),
        static_cast<double>(report.world.stock->heights().size()) / 1e6, report.world.cell_mm,
        report.world.cell_source, static_cast<double>(report.world.stock->memory_bytes()) / 1e6);
    for (const std::string& note : report.world.stock_notes) fmt::print("stock: {}\n", note);
    const std::string placing = placement_words(report.world);
    if (!placing.empty()) fmt::print("part placed: {}\n", placing);
    for (const RepairCount& repair : report.world.record.repairs)
      fmt::print("part repaired: {}, {} triangles\n", name_of(repair.repair), repair.triangles);
    for (const Remark& remark : remarks(report.world.diagnosis))
      if (remark.matters) fmt::print("part: {}: {}\n", remark.what, remark.why);
    for (const NamedRegion& region : report.world.regions)
      fmt::print("region \"{}\": {:.1f} mm2\n", region.name, region.area_mm2);
    print_values(report);
    print_operations(report);
  }
  const auto& findings = report.judged.judgement.findings;
  const std::vector<const Finding*> shown = worst_findings(findings, 10);
  for (const Finding* finding : shown)
    fmt::print("finding: {}, operation \"{}\"\n", in_words(*finding),
               report.judged.program.operations[static_cast<std::size_t>(finding->operation)]);
  if (findings.size() > shown.size())
    fmt::print("these are the worst; {} more findings are in report.json\n", findings.size() - shown.size());
  for (const std::string& words : report.not_judged) fmt::print("not judged: {}\n", words);
  fmt::print("verdict: {}{}\n", report.clean() ? "" : "findings: ", verdict_words(report));
}

}  // namespace yardpass::app
