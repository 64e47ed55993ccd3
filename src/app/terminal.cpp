#include "app/terminal.h"

#include <unistd.h>

#include <csignal>
#include <cstdio>
#include <set>

#include <fmt/format.h>

#include "yardpass/geom/text.h"
#include "yardpass/report/figures.h"

namespace yardpass::app {

namespace {

volatile std::sig_atomic_t asked_to_stop = 0;

/// Of a job that was planned and not judged.
void print_planned(const Report& report) {
  std::vector<OperationReport> rows = report.operations;
  rows.push_back(total_of(report));
  fmt::print("{}", figures_table(rows, kPlanned, report.telling));
  fmt::print("{}\n", total_time_words(report.judged.program, report.job().machine.motion));
}

void print_operations(const Report& report) {
  if (!report.judged.judged) return print_planned(report);
  fmt::print("{}", figures_table(report.operations, kOnScreen, report.telling));
  for (const OperationReport& operation : report.operations)
    if (operation.judged.least_stickout_mm > 0 && operation.tool)
      fmt::print("{}: {}\n", one_line(operation.name), stickout_words(operation, report.telling));
  for (const OperationReport& operation : report.operations)
    if (operation.tool && operation.tool->widest_engagement_deg > 0 &&
        operation.judged.engagement.length_mm > 0)
      fmt::print("{}: {}\n", one_line(operation.name), engagement_words(operation));
  for (const OperationReport& operation : report.operations)
    if (operation.planned && operation.settled->usual.scallop_mm && operation.has_moves())
      fmt::print("{}: ridges of {} on flat ground by its stepover; {}\n", one_line(operation.name),
                 report.telling.with_unit(*operation.settled->usual.scallop_mm),
                 operation.measured_scallop_mm < 0
                     ? "later operations cut them away"
                     : "measured, 99 % of its area within " +
                           report.telling.with_unit(operation.measured_scallop_mm));
  for (const OperationReport& operation : report.operations)
    if (operation.edges)
      fmt::print("{}: {}\n", one_line(operation.name), edge_size_words(*operation.edges, report.telling));
  fmt::print("left {}\n", left_words(report));
  fmt::print("{}\n", total_time_words(report.judged.program, report.job().machine.motion));
}

void print_values(const Telling& telling, const std::vector<SettledValue>& values) {
  for (const SettledValue& value : values)
    fmt::print("  {:<18} {:<34} {}\n", value.key, one_line(telling.words(value.value)),
               one_line(value.source));
}

void print_values(const Report& report) {
  // What the file itself says of tables is not told again here; report.html has all of it.
  for (const TableValues& table : report.job().told) {
    std::vector<SettledValue> usual = table.values;
    std::erase_if(usual, [](const SettledValue& value) { return value.source.rfind("default", 0) != 0; });
    if (usual.empty()) continue;
    fmt::print("\nsettled values, {}: what the job does not say\n", one_line(table.table));
    print_values(report.telling, usual);
  }
  for (const OperationReport& operation : report.operations) {
    if (!operation.planned) continue;
    fmt::print("\nsettled values, operation {}: {}\n", operation.number, one_line(operation.name));
    print_values(report.telling, operation.settled->told);
    print_values(report.telling, operation.planned->facts);
  }
  fmt::print("\n");
}

/// Each once, however many operations say the same.
void print_notes(const Report& report) {
  std::set<std::string> told;
  for (const std::string& note : job_notes(report))
    if (told.insert(note).second) fmt::print("note: {}\n", one_line(note));
  for (const OperationReport& operation : report.operations)
    for (const std::string& note : notes_of(operation, report.telling))
      if (told.insert(note).second)
        fmt::print("note: operation {} \"{}\": {}\n", operation.number, one_line(operation.name),
                   one_line(note));
}

}  // namespace

void listen_for_stop() {
  std::signal(SIGXFSZ, SIG_IGN);  // a file above what the system allows is an error with a reason
  for (const int signal : {SIGINT, SIGTERM, SIGHUP}) {
    struct sigaction action {};
    if (::sigaction(signal, nullptr, &action) == 0 && action.sa_handler == SIG_IGN)
      continue;  // as nohup wants
    action = {};
    action.sa_handler = [](int which) { asked_to_stop = which; };
    action.sa_flags = static_cast<int>(SA_RESETHAND);
    ::sigaction(signal, &action, nullptr);
  }
}

int stop_signal() { return asked_to_stop; }

void stop_if_asked() {
  if (asked_to_stop != 0) throw Stopped();
}

ProgressLine::ProgressLine(bool quiet)
    : shown_(!quiet && ::isatty(STDERR_FILENO) == 1),
      piped_(!quiet && !shown_),
      began_(Clock::now()),
      told_(began_) {}

ProgressLine::~ProgressLine() { clear(); }

void ProgressLine::clear() {
  if (dirty_) std::fputs("\r\033[K", stderr);
  dirty_ = false;
}

void ProgressLine::whole(const WholeProgress& now) {
  const std::optional<double> told = whole_.to_go_s;
  whole_ = now;
  // A piece of work within a stage says nothing new.
  if (!whole_.to_go_s) whole_.to_go_s = told;
}

/// "stage 5 of 12, link finish: 40 %; about 3 minutes to go".
std::string ProgressLine::words(const std::string& stage, int percent) const {
  std::string words;
  if (whole_.stages > 1) words = fmt::format("stage {} of {}, ", whole_.stage, whole_.stages);
  words += fmt::format("{}: {} %", shortened(one_line(stage), 60), percent);
  const double gone = std::chrono::duration<double>(Clock::now() - began_).count();
  if (whole_.to_go_s && gone > 3) words += fmt::format("; about {} to go", rough_time(*whole_.to_go_s));
  return words;
}

StageProgress ProgressLine::callback() {
  return [this](const std::string& stage, double share) {
    const int percent = static_cast<int>(share * 100);
    if (shown_ && (stage != stage_ || percent != percent_)) {
      stage_ = stage, percent_ = percent;
      fmt::print(stderr, "\r\033[K{}", words(stage, percent));
      std::fflush(stderr);
      dirty_ = true;
    }
    if (piped_ && Clock::now() - told_ > std::chrono::minutes(1)) {
      told_ = Clock::now();
      fmt::print(stderr, "yardpass: {}\n", words(stage, percent));
    }
    return asked_to_stop == 0;
  };
}

void print_report(const Report& report, bool quiet) {
  if (!quiet) {
    fmt::print("part: {} triangles, {}; stock: {}; {:.1f} million cells of {} ({}), {:.0f} MB\n",
               report.setup.summary.triangles, report.setup.summary.edges.closed() ? "closed" : "not closed",
               report.telling.box(report.setup.block),
               static_cast<double>(report.setup.stock->heights().size()) / 1e6,
               report.telling.with_unit(report.setup.cell_mm), report.setup.cell_source,
               static_cast<double>(report.setup.stock->memory_bytes()) / 1e6);
    for (const std::string& note : report.setup.stock_notes) fmt::print("stock: {}\n", note);
    const std::string placing = placement_words(report.setup);
    if (!placing.empty()) fmt::print("part placed: {}\n", placing);
    for (const RepairCount& repair : report.setup.record.repairs)
      fmt::print("part repaired: {}, {} triangles\n", name_of(repair.repair), repair.triangles);
    for (const Remark& remark : remarks(report.setup.diagnosis))
      if (remark.matters) fmt::print("part: {}: {}\n", remark.what, remark.why);
    for (const NamedRegion& region : report.setup.regions)
      fmt::print("region \"{}\": {}\n", one_line(region.name), report.telling.area_words(region.area_mm2));
    print_values(report);
    print_operations(report);
    if (const Judgement& judgement = report.judged.judgement; judgement.hidden_squares > 0)
      fmt::print("between cell centres: judged again in cells of {} at {} places\n",
                 report.telling.with_unit(judgement.seen_mm), judgement.hidden_squares);
    print_notes(report);
  }
  const auto& findings = report.judged.judgement.findings;
  const std::vector<const Finding*> shown = worst_findings(findings, 10);
  for (const Finding* finding : shown) fmt::print("finding: {}\n", finding_words(report, *finding));
  if (findings.size() > shown.size())
    fmt::print("these are the worst; {} more findings are in report.json\n", findings.size() - shown.size());
  for (const Note& note : report.judged.disagreements)
    fmt::print("disagreement: {}\n", one_line(report.telling.words(note)));
  for (const std::string& words : report.not_judged) fmt::print("not judged: {}\n", words);
  const bool findings_first = !report.clean() && report.judged.judged;
  fmt::print("verdict: {}{}\n", findings_first ? "findings: " : "", verdict_words(report));
  if (report.only_a_look()) fmt::print("{}: no program is released\n", not_for_cutting(report));
}

}  // namespace yardpass::app
