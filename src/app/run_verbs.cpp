#include "app/run_verbs.h"

#include <algorithm>
#include <charconv>
#include <filesystem>
#include <fstream>
#include <optional>
#include <sstream>

#include <fmt/format.h>

#include "app/output_folder.h"
#include "app/terminal.h"
#include "job/table_reader.h"
#include "yardpass/report/keys_page.h"
#include "yardpass/report/outputs.h"

namespace fs = std::filesystem;

namespace yardpass::app {

namespace {

/// Writes the folder, then says what is in the report.
int finish(const Report& report, const std::string& program, std::optional<OutputFolder>& folder,
           const RunWords& words) {
  std::vector<std::string> told;
  if (folder) {
    told = write_outputs(report, program, folder->draft(), words.save_stock);
    stop_if_asked();
    folder->publish();
  }
  print_report(report, words.quiet);
  if (!words.quiet)
    for (const std::string& line : told) fmt::print("{}\n", line);
  if (folder) fmt::print("written to {}\n", words.out);
  return report.clean() ? kClean : kFindings;
}

std::string text_of(const fs::path& file) {
  std::ifstream in(file, std::ios::binary);
  if (!in || fs::is_directory(file)) throw Error(file.string() + ": cannot be opened for reading");
  std::ostringstream text;
  text << in.rdbuf();
  return text.str();
}

/// An operation of the job by its name or number.
std::int32_t operation_number(const Job& job, const std::string& words) {
  for (const OperationJob& operation : job.operations)
    if (operation.name == words) return operation.number;
  std::int32_t number = 0;
  const auto [end, code] = std::from_chars(words.data(), words.data() + words.size(), number);
  if (code == std::errc() && end == words.data() + words.size()) return number;
  return 0;
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

int demo(const RunWords& words) {
  const fs::path folder = demo_folder();
  std::vector<std::string> names;
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder, code))
    if (entry.path().extension() == ".toml") names.push_back(entry.path().stem().string());
  std::sort(names.begin(), names.end());
  if (std::find(names.begin(), names.end(), words.demo) == names.end())
    throw Error(fmt::format("there is no demo job \"{}\"{}; there are: {}", words.demo,
                            detail::did_you_mean(words.demo, names), detail::listed(names)));
  RunWords shipped = words;
  shipped.job = (folder / (words.demo + ".toml")).string();
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
  const Job job = read_job(words.job);
  std::optional<OutputFolder> folder;
  folder.emplace(words.out, files_of(job));
  std::optional<RunResult> result;
  {
    ProgressLine progress(words.quiet);
    result.emplace(run_job(job, progress.callback()));
  }
  return finish(make_report(*result), result->posted.text, folder, words);
}

int check(const RunWords& words) {
  const Job job = read_job(words.job);
  const std::string text = text_of(words.program);
  Program program = read_program(text, words.program);
  if (words.only_times) {
    fmt::print("{}nothing is judged\n", times_table(program, job));
    return kClean;
  }
  const std::int32_t up_to_line =
      words.up_to_operation.empty() ? words.up_to_line : last_line_of(program, job, words.up_to_operation);
  std::optional<OutputFolder> folder;
  if (!words.out.empty()) folder.emplace(words.out, files_of(job));
  std::optional<JobSetup> setup;
  std::vector<Settled> settled;
  std::optional<JudgedProgram> judged;
  {
    ProgressLine progress(words.quiet);
    setup.emplace(load_setup(job, progress.callback()));
    settled = settle(*setup);
    judged.emplace(judge_program(std::move(program), *setup, settled, progress.callback(), up_to_line));
  }
  return finish(make_report(*setup, settled, *judged), text, folder, words);
}

}  // namespace yardpass::app
