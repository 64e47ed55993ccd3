#include "app/run_verbs.h"

#include <unistd.h>

#include <algorithm>
#include <charconv>
#include <filesystem>
#include <fstream>
#include <iostream>
#include <optional>
#include <sstream>

#include <fmt/format.h>

#include "app/operation_words.h"
#include "app/output_folder.h"
#include "app/places.h"
#include "app/terminal.h"
#include "job/table_reader.h"
#include "yardpass/geom/text.h"
#include "yardpass/post/cl_data.h"
#include "yardpass/report/changes.h"
#include "yardpass/report/keys_page.h"
#include "yardpass/report/outputs.h"
#include "yardpass/run/resume.h"

namespace fs = std::filesystem;

namespace yardpass::app {

namespace {

std::string text_of(const fs::path& file) {
  std::ifstream in(file, std::ios::binary);
  if (!in || fs::is_directory(file)) throw Error(file.string() + ": cannot be opened for reading");
  std::ostringstream text;
  text << in.rdbuf();
  return text.str();
}

/// The folder of results, which may be published more than once. Made before the work begins, so that what is
/// wrong with the place comes first.
class Results {
 public:
  Results(const RunWords& words, const Job& job)
      : words_(words), inputs_(files_of(job)), section_(section_of(words.section, job.units, words.out)) {
    if (words.out.empty()) return;
    folder_.emplace(words.out, inputs_, words.among_others);
    const fs::path report = fs::path(words.out) / "report.json";
    std::error_code code;
    if (fs::is_regular_file(report, code)) before_ = text_of(report);
  }
  /// report.json of the run before into this folder; empty: there was none.
  [[nodiscard]] const std::string& before() const { return before_; }
  /// Returns what is told about its files.
  std::vector<std::string> publish(const Report& report, const std::string& program,
                                   const StageProgress& progress) {
    if (words_.out.empty()) return {};
    if (!folder_) folder_.emplace(words_.out, inputs_, words_.among_others);
    std::vector<std::string> told;
    try {
      told = write_outputs(report, program, folder_->draft(),
                           {words_.save_stock, form_named(words_.pictures), section_},
                           [&](double share) { return progress("write the results", share); });
    } catch (const Error& error) {
      throw Error(folder_->as_wanted(error.what()));
    }
    stop_if_asked();
    folder_->publish();
    folder_.reset();
    published_ = true;
    return told;
  }
  [[nodiscard]] bool published() const { return published_; }

 private:
  const RunWords& words_;
  std::vector<fs::path> inputs_;
  std::optional<SectionLine> section_;
  std::optional<OutputFolder> folder_;
  std::string before_;
  bool published_ = false;
};

/// Did that help?
void print_changes(const std::string& before, const Report& report) {
  const RunChanges changes = changes_between(before, report_json(report));
  if (!changes.comparable) return;
  if (changes.lines.empty()) fmt::print("changed since the run before: nothing\n");
  for (const std::string& line : changes.lines) fmt::print("changed since the run before: {}\n", line);
}

/// Writes the folder, then says what is in the report.
int finish(const Report& report, const std::string& program, Results& results, const RunWords& words) {
  std::vector<std::string> told;
  {
    ProgressLine progress(words.quiet);
    told = results.publish(report, program, progress.callback());
  }
  print_report(report, words.quiet);
  if (!words.quiet) print_changes(results.before(), report);
  if (!words.quiet)
    for (const std::string& line : told) fmt::print("{}\n", line);
  if (!words.out.empty()) fmt::print("written to {}\n", words.out);
  return report.only_a_look() ? kOnlyALook : report.clean() ? kClean : kFindings;
}

std::string about(double count) {
  return count < 1e4   ? fmt::format("{:.0f}", count)
         : count < 1e6 ? fmt::format("{:.0f} thousand", count / 1e3)
                       : fmt::format("{:.3g} million", count / 1e6);
}

void print_title(const Job& job, const RunWords& words) {
  if (words.quiet) return;
  fmt::print("{}\n", one_line(job.title));
  std::fflush(stdout);
}

/// Tells what is to come; large work begins only when somebody says yes.
void heed_estimate(const Job& job, const Estimate& foretold, const RunWords& words) {
  print_title(job, words);
  if (!words.quiet) {
    for (const OperationEstimate& one : foretold.operations)
      if (one.taken_over)
        fmt::print("taken over: operation {} \"{}\", as it was planned by the run before\n", one.number,
                   one_line(one.name));
      else
        fmt::print("estimate: operation {} \"{}\": about {} passes, {:.3g} m, {} points\n", one.number,
                   one_line(one.name), about(one.passes), one.length_mm / 1000, about(one.points));
    fmt::print("estimate: about {} here, {:.1f} GB of memory\n", rough_time(foretold.seconds),
               foretold.bytes / 1e9);
    std::fflush(stdout);
  }
  heed_size(foretold, words.yes);
}

std::int32_t last_line_of(const Program& program, const Job& job, const std::string& words) {
  const std::int32_t number = operation_number(job, words);
  std::int32_t last = 0;
  for (const ProgramMove& move : program.moves)
    if (number > 0 && program.number_of(move) == number) last = move.line;
  if (last > 0) return last;
  std::vector<std::string> there;
  for (const ProgramOperation& operation : program.operations)
    if (const OperationJob* known = job.operation_numbered(operation.number))
      there.push_back(fmt::format("{} \"{}\"", known->number, known->name));
  throw Error(fmt::format("the program has no operation \"{}\"; there are: {}", words,
                          there.empty() ? "none" : fmt::format("{}", fmt::join(there, ", "))));
}

/// Shipped jobs: beside an installed program, or in the source tree of a built one.
fs::path demo_folder() {
  std::error_code code;
  const fs::path self = fs::read_symlink("/proc/self/exe", code);
  const fs::path installed = self.parent_path().parent_path() / "share" / "yardpass" / "demo";
  return fs::exists(installed, code) ? installed : fs::path(YARDPASS_DEMO_FOLDER);
}

}  // namespace

void heed_size(const Estimate& foretold, bool yes) {
  std::vector<std::string> reasons = above(foretold, {});
  reasons.insert(reasons.end(), foretold.odd.begin(), foretold.odd.end());
  if (reasons.empty() || yes) return;
  const std::string question = fmt::format("{}. Go on?", fmt::join(reasons, ", "));
  if (::isatty(STDIN_FILENO) == 1 && ::isatty(STDERR_FILENO) == 1) {
    fmt::print(stderr, "yardpass: {} [y/N] ", question);
    std::string answer;
    std::getline(std::cin, answer);
    if (answer == "y" || answer == "yes") return;
    throw Error("not gone on with");
  }
  throw Error(question + " Say --yes to do so");
}

std::vector<std::string> demo_names() {
  std::vector<std::string> names;
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(demo_folder(), code))
    if (entry.path().extension() == ".toml") names.push_back(entry.path().stem().string());
  std::sort(names.begin(), names.end());
  return names;
}

int demo(const RunWords& words) {
  const fs::path folder = demo_folder();
  const std::vector<std::string> names = demo_names();
  if (std::find(names.begin(), names.end(), words.demo) == names.end())
    throw Error(fmt::format("there is no demo job \"{}\"{}; there are: {}", words.demo,
                            detail::did_you_mean(words.demo, names), detail::listed(names)));
  RunWords shipped = words;
  shipped.job = (folder / (words.demo + ".toml")).string();
  if (shipped.out.empty()) shipped.out = words.demo + "-demo";
  return run(shipped);
}

int keys(const KeysWords& words) {
  if (words.schema) {
    if (!words.name.empty())
      throw Error("--schema is of the whole job file; leave \"" + words.name + "\" out");
    fmt::print("{}", job_schema());
    return kClean;
  }
  const auto page = keys_page(words.name, words.markdown);
  if (!page)
    throw Error(fmt::format("there is no strategy or table \"{}\"{}; there are: {}", words.name,
                            detail::did_you_mean(words.name, key_table_names()),
                            detail::listed(key_table_names())));
  fmt::print("{}", *page);
  return kClean;
}

int run(const RunWords& words) {
  Job job = read_job(words.job);
  if (words.quick) job.coarser = quick_look();
  Results results(words, job);
  const KeptPaths kept = words.afresh ? KeptPaths() : KeptPaths(fs::path(words.out) / "toolpaths.kept");
  if (!kept.why_empty().empty() && !words.quiet)
    fmt::print(stderr, "yardpass: toolpaths of an earlier run in {} are not taken over: {}\n", words.out,
               kept.why_empty());
  std::optional<RunResult> result;
  try {
    ProgressLine progress(words.quiet);
    // The program is at hand as soon as it is proven, whatever time the reasons for what is left take.
    RunSteps steps{.progress = progress.callback(),
                   .whole = [&](const WholeProgress& now) { progress.whole(now); },
                   .kept = &kept,
                   .only_plan = words.only_plan};
    steps.foretold = [&](const Estimate& foretold) {
      progress.clear();
      heed_estimate(job, foretold, words);
    };
    steps.proven = [&](const RunResult& proven) {
      results.publish(make_report(proven), proven.posted.text, progress.callback());
    };
    result.emplace(run_job(job, steps));
    return finish(make_report(*result), result->posted.text, results, words);
  } catch (const Stopped&) {
    if (!results.published()) throw;
    fmt::print(stderr,
               "yardpass: stopped while asking why material is left; program and report without that are in "
               "{}\n",
               words.out);
    return 128 + stop_signal();
  }
}

namespace {

Program program_of(const std::string& text, const RunWords& words, const Job& job) {
  ProgramReading reading = read_options(job);
  reading.skip_marked = words.skip_marked;
  Program program =
      is_cl_data(text) ? read_cl_data(text, words.program) : read_program(text, words.program, reading);
  require_known_tools(program, job, words.program);
  return program;
}

/// "1234", a line of the file, or "N2340", a block.
std::int32_t line_named(const std::string& words, const std::string& text, const std::string& name) {
  if (!words.empty() && (words.front() == 'N' || words.front() == 'n'))
    return line_of_block(text, words, name);
  std::int32_t line = 0;
  const auto [end, code] = std::from_chars(words.data(), words.data() + words.size(), line);
  if (code != std::errc() || end != words.data() + words.size() || line < 1)
    throw Error("--at-line \"" + words +
                "\" is no line; valid: a line of the file, from 1, or an N word such as N2340");
  return line;
}

void print_where(const ResumedAt& at, const Telling& telling) {
  fmt::print("goes on at line {} of {}, at {}\n", at.line, at.program, telling.place(at.at));
  if (at.came_down_line < at.line)
    fmt::print(
        "there the tool is within a cut, and coming down may leave a mark; it had come down at line {}: say "
        "--at-line {} to begin there\n",
        at.came_down_line, at.came_down_line);
}

struct CheckedJob {
  JobSetup setup;
  std::vector<Settled> settled;
  JudgedProgram judged;
};

/// Loads what the job is about, lets a program be judged against it, and asks why material is left.
template <typename Judge>
CheckedJob checked_by(const Job& job, const RunWords& words, const Judge& judge) {
  ProgressLine progress(words.quiet);
  const StageProgress telling = progress.callback();
  JobSetup setup = load_setup(job, telling);
  std::vector<Settled> settled = settle(setup);
  JudgedProgram judged = judge(setup, settled, telling);
  if (to_explain(judged, job)) explain_left(judged, setup, settled, telling);
  return {std::move(setup), std::move(settled), std::move(judged)};
}

}  // namespace

int resume(const RunWords& words) {
  const Job job = read_job(words.job);
  const std::string text = text_of(words.program);
  const Program program = program_of(text, words, job);
  const std::int32_t line = line_named(words.at_line, text, words.program);
  Results results(words, job);
  ResumedProgram resumed;
  const CheckedJob checked = checked_by(
      job, words, [&](const JobSetup& setup, const std::vector<Settled>& settled, const auto& progress) {
        resumed = resume_at(program, setup, settled, line, words.program);
        return judge_resumed(resumed, setup, settled, progress);
      });
  print_title(job, words);
  if (!words.quiet) print_where(resumed.at, Telling(job.units));
  return finish(make_report(checked.setup, checked.settled, checked.judged, resumed.files),
                resumed.posted.text, results, words);
}

int check(const RunWords& words) {
  const Job job = read_job(words.job);
  const std::string text = text_of(words.program);
  Program program = program_of(text, words, job);
  if (words.only_times) {
    program.come_down_from(job.machine.change_z.value_or(-kChangeHeight));
    fmt::print("{}nothing is judged\n", times_table(program, job));
    return kClean;
  }
  const std::int32_t up_to_line =
      words.up_to_operation.empty() ? words.up_to_line : last_line_of(program, job, words.up_to_operation);
  Results results(words, job);
  const CheckedJob checked = checked_by(
      job, words, [&](const JobSetup& setup, const std::vector<Settled>& settled, const auto& progress) {
        return judge_program(std::move(program), setup, settled, progress, up_to_line);
      });
  print_title(job, words);
  return finish(make_report(checked.setup, checked.settled, checked.judged), text, results, words);
}

}  // namespace yardpass::app
