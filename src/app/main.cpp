// The command line: run, check, inspect, demo.
#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <limits>
#include <optional>

#include <fmt/format.h>
#include <tbb/global_control.h>
#include <CLI/CLI.hpp>

#include "app/inspect_verb.h"
#include "app/output_folder.h"
#include "app/terminal.h"
#include "yardpass/curve/write_curves.h"
#include "yardpass/part/write_stl.h"
#include "yardpass/stock/stock_shapes.h"
#include "yardpass/version.h"

namespace fs = std::filesystem;
using namespace yardpass;

namespace {

constexpr int kClean = 0, kFindings = 1, kBadInput = 2, kStopped = 130;

struct Words {
  std::string job, program, out, demo, up_to_operation;
  bool quiet = false, save_stock = false, only_times = false;
  int threads = 0;
  std::int32_t up_to_line = std::numeric_limits<std::int32_t>::max();
};

/// Writes what is left as a mesh, within 0.01 mm, or as much more as keeps it below a million triangles; what
/// to tell of it.
std::string write_stock_mesh(const fs::path& file, const Stock& stock, const std::string& title) {
  double tolerance = 0.01;
  Mesh mesh = decimated_mesh(stock, tolerance);
  while (mesh.triangles.size() > 1'000'000 && tolerance < 1) mesh = decimated_mesh(stock, tolerance *= 2);
  write_stl(file, mesh, "what is left: " + title);
  return fmt::format("stock.stl: {} triangles, within {:g} mm of the simulation", mesh.triangles.size(),
                     tolerance);
}

int run(const fs::path& job_file, const fs::path& out, bool quiet, bool save_stock) {
  const Job job = read_job(job_file);
  app::OutputFolder folder(out);
  std::optional<RunResult> result;
  {
    app::ProgressLine progress(quiet);
    result.emplace(run_job(job, progress.callback()));
  }
  const Report report = make_report(*result);
  folder.write("program.nc", result->posted.text);
  folder.write("report.json", report_json(report));
  write_stl(folder.draft() / "part.stl", result->world.part->mesh(), job.title);
  const std::string told =
      write_stock_mesh(folder.draft() / "stock.stl", result->judged.judgement.stock, job.title);
  write_obj_curves(folder.draft() / "toolpaths.obj", curves_of(result->judged.program));
  if (save_stock) write_stock(folder.draft() / "stock.npy", result->judged.judgement.stock);
  folder.write("report.html", report_html(report, draw_pictures(report, folder.draft())));
  folder.publish();
  app::print_report(report, quiet);
  if (!quiet) fmt::print("{}\n", told);
  fmt::print("written to {}\n", out.string());
  return report.clean() ? kClean : kFindings;
}

std::int32_t last_line_of(const Program& program, const std::string& operation) {
  const auto found = std::find(program.operations.begin(), program.operations.end(), operation);
  if (found == program.operations.end())
    throw Error(fmt::format("the program has no operation \"{}\"; there are: {}", operation,
                            fmt::join(program.operations, ", ")));
  const auto index = found - program.operations.begin();
  std::int32_t line = 1;
  for (const ProgramMove& move : program.moves)
    if (move.operation <= index) line = move.line;
  return line;
}

int check(const Words& words) {
  const Job job = read_job(words.job);
  Program program = read_program_file(words.program);
  if (words.only_times) {
    fmt::print("{}nothing is judged\n", times_table(program, job.machine));
    return kClean;
  }
  const std::int32_t up_to_line =
      words.up_to_operation.empty() ? words.up_to_line : last_line_of(program, words.up_to_operation);
  std::optional<app::OutputFolder> folder;
  if (!words.out.empty()) folder.emplace(words.out);
  std::optional<JobWorld> world;
  std::optional<JudgedProgram> judged;
  {
    app::ProgressLine progress(words.quiet);
    world.emplace(load_world(job, progress.callback()));
    judged.emplace(judge_program(std::move(program), *world, progress.callback(), up_to_line));
  }
  const Report report = make_report(*world, *judged);
  std::string told;
  if (folder) {
    folder->write("report.json", report_json(report));
    told = write_stock_mesh(folder->draft() / "stock.stl", judged->judgement.stock, job.title);
    if (words.save_stock) write_stock(folder->draft() / "stock.npy", judged->judgement.stock);
    folder->write("report.html", report_html(report, draw_pictures(report, folder->draft())));
    folder->publish();
  }
  app::print_report(report, words.quiet);
  if (folder && !words.quiet) fmt::print("{}\n", told);
  if (folder) fmt::print("written to {}\n", words.out);
  return report.clean() ? kClean : kFindings;
}

/// Shipped jobs: beside an installed program, or in the source tree of a built one.
fs::path demo_folder() {
  std::error_code code;
  const fs::path self = fs::read_symlink("/proc/self/exe", code);
  const fs::path installed = self.parent_path().parent_path() / "share" / "yardpass" / "demo";
  return fs::exists(installed, code) ? installed : fs::path(YARDPASS_DEMO_FOLDER);
}

int demo(const Words& words) {
  const fs::path folder = demo_folder();
  std::vector<std::string> names;
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(folder, code))
    if (entry.path().extension() == ".toml") names.push_back(entry.path().stem().string());
  std::sort(names.begin(), names.end());
  if (std::find(names.begin(), names.end(), words.demo) == names.end())
    throw Error(
        fmt::format("there is no demo job \"{}\"; there are: {}", words.demo, fmt::join(names, ", ")));
  return run(folder / (words.demo + ".toml"), words.out, words.quiet, words.save_stock);
}

/// Runs the verb that was chosen; errors become one clear message each and exit code 2.
template <typename Verb>
int guarded(const Verb& verb) {
  try {
    return verb();
  } catch (const Stopped&) {
    fmt::print(stderr, "yardpass: stopped; nothing written\n");
    return kStopped;
  } catch (const std::exception& error) {
    fmt::print(stderr, "yardpass: {}\n", error.what());
    return kBadInput;
  }
}

}  // namespace

int main(int count, char** arguments) {
  CLI::App program(
      "Yard Pass: toolpaths for 3-axis mills in mold and die shops, proven on the posted G-code.\n"
      "Exit code 0: verified clean; 1: done, but the judge found something; 2: bad input, nothing written.");
  program.name("yardpass");
  program.set_version_flag("--version", "yardpass " YARDPASS_VERSION);
  program.require_subcommand(1);
  Words words;
  const auto common = [&](CLI::App* verb) {
    verb->add_flag("--quiet", words.quiet, "No progress and no tables: findings, verdict and errors only");
    verb->add_option("--threads", words.threads,
                     "Cores to use; the result does not depend on it (default: all)")
        ->check(CLI::Range(1, 1024));
    verb->add_flag("--save-stock", words.save_stock,
                   "Also write stock.npy and stock.frame, which another job can start from");
  };
  auto* run_verb = program.add_subcommand("run", "Plan, post, verify and report a job");
  run_verb->add_option("JOB", words.job, "The job file (TOML)")->required();
  run_verb->add_option("--out", words.out, "Folder for program, report and pictures")->required();
  run_verb->footer("Example: yardpass run paddle-blade.toml --out blade");
  common(run_verb);
  auto* check_verb = program.add_subcommand("check", "Judge a program against a job's part, stock and tools");
  check_verb->add_option("PROGRAM", words.program, "The G-code file")->required();
  check_verb->add_option("--job", words.job, "The job file (TOML)")->required();
  check_verb->add_option("--out", words.out, "Folder for report and pictures (default: none are written)");
  check_verb
      ->add_option("--up-to-line", words.up_to_line, "Leave out what comes after this line of the program")
      ->check(CLI::Range(1, 2147483646));
  check_verb
      ->add_option("--up-to-operation", words.up_to_operation,
                   "Leave out what comes after this operation, by its name")
      ->excludes("--up-to-line");
  check_verb
      ->add_flag("--only-times", words.only_times,
                 "Tell how long each operation takes; no stock, no part, nothing is judged")
      ->excludes("--out");
  check_verb->footer("Example: yardpass check blade/program.nc --job paddle-blade.toml");
  common(check_verb);
  app::InspectWords inspect_words;
  auto* inspect_verb = app::add_inspect_verb(program, inspect_words);
  inspect_verb
      ->add_option("--threads", words.threads,
                   "Cores to use; the result does not depend on it (default: all)")
      ->check(CLI::Range(1, 1024));
  auto* demo_verb = program.add_subcommand("demo", "Run a shipped job");
  demo_verb->add_option("NAME", words.demo, "Which one")->default_val("paddle-blade");
  demo_verb->add_option("--out", words.out, "Folder for program, report and pictures")->required();
  demo_verb->footer("Example: yardpass demo --out demo-result");
  common(demo_verb);
  program.footer(
      "Examples:\n"
      "  yardpass run paddle-blade.toml --out blade\n"
      "  yardpass check blade/program.nc --job paddle-blade.toml\n"
      "  yardpass inspect paddle-blade.stl\n"
      "  yardpass demo --out demo-result");
  try {
    program.parse(count, arguments);
  } catch (const CLI::ParseError& error) {
    return program.exit(error) == 0 ? kClean : kBadInput;
  }
  std::optional<tbb::global_control> cores;
  if (words.threads > 0)
    cores.emplace(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(words.threads));
  if (*run_verb) return guarded([&] { return run(words.job, words.out, words.quiet, words.save_stock); });
  if (*check_verb) return guarded([&] { return check(words); });
  if (*inspect_verb) return guarded([&] { return app::inspect(inspect_words); });
  return guarded([&] { return demo(words); });
}
