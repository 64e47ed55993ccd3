// The command line: new, run, check, resume, compare, inspect, demo, keys.
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <iostream>
#include <optional>
#include <system_error>

#include <fmt/format.h>
#include <tbb/global_control.h>
#include <CLI/CLI.hpp>

#include "app/inspect_verb.h"
#include "app/output_folder.h"
#include "app/run_verbs.h"
#include "app/terminal.h"
#include "app/usage.h"
#include "app/what_if_verbs.h"
#include "yardpass/curve/close_loop.h"
#include "yardpass/version.h"

using namespace yardpass;

namespace {

/// Runs the verb that was chosen; errors become one clear message each and exit code 2.
template <typename Verb>
int guarded(const Verb& verb) {
  try {
    return verb();
  } catch (const Stopped&) {
    fmt::print(stderr, "yardpass: stopped; nothing written\n");
    return 128 + app::stop_signal();
  } catch (const LoopError& error) {
    fmt::print(stderr, "yardpass: {}\n(`yardpass inspect` of the job with --out draws it)\n", error.what());
    return app::kBadInput;
  } catch (const std::exception& error) {
    fmt::print(stderr, "yardpass: {}\n", error.what());
    return app::kBadInput;
  }
}

/// Whether all that was printed has arrived: a full disk or a closed screen must not pass for a result.
int when_screen_is_written(int code) {
  std::cout.flush();
  if (std::fflush(stdout) == 0 && std::ferror(stdout) == 0 && std::cout.good()) return code;
  errno = 0;
  (void)!::write(STDOUT_FILENO, "\n", 1);  // the reason is long forgotten, so it is asked for once more
  fmt::print(stderr, "yardpass: what is told on the screen (standard output) cannot be written{}\n",
             errno != 0 ? ": " + std::generic_category().message(errno) : "");
  return app::kBadInput;
}

void add_among_others(CLI::App* verb, bool& among_others) {
  verb->add_flag("--among-others", among_others,
                 "The folder of --out may hold other things too; they stay, files with the names of results "
                 "give way");
}

void add_pictures(CLI::App* verb, std::string& pictures) {
  verb->add_option("--pictures", pictures,
                   "What pictures are written as: png, or svg or pdf, whose lines and letters stay sharp")
      ->check(CLI::IsMember(app::picture_forms()))
      ->default_val("png");
}

void add_pictures(CLI::App* verb, std::string& pictures, std::string& section) {
  verb->add_option("--section", section,
                   "Also draw a section along a line seen from above: X,Y,X,Y, in the job's units");
  add_pictures(verb, pictures);
}

void add_unit(CLI::App* verb, std::string& unit) {
  verb->add_option("--unit", unit,
                   "Unit of the numbers in the mesh file (default: what the file says, else mm)")
      ->check(CLI::IsMember(app::unit_names()));
}

CLI::App* add_inspect_verb(CLI::App& program, app::InspectWords& words) {
  auto* verb =
      program.add_subcommand("inspect", "Survey a part: size, faults, slopes, reach of balls, regions");
  verb->add_option("PART", words.part, "The part (STL, OBJ, PLY, 3MF), or a job file: its part as placed")
      ->required();
  verb->add_flag("--json", words.json, "Print JSON");
  verb->add_option("--out", words.out, "Folder for pictures and the JSON (default: none are written)");
  add_unit(verb, words.unit);
  verb->add_option("--weld", words.weld, "Join corners nearer than this [mm]")->check(CLI::Range(0.0, 1.0));
  verb->add_option("--repair", words.repairs, "Repairs to carry out, separated by commas")
      ->delimiter(',')
      ->check(CLI::IsMember(app::repair_names()));
  verb->add_option("--crease-angle", words.crease_angle,
                   "Joints that turn by more split regions [degrees] (default: 25)")
      ->check(CLI::Range(0.1, 180.0));
  verb->add_option("--bend-radius", words.bend_radius,
                   "Bends tighter than this are regions of their own [mm]; 0: none (default: from the part)")
      ->check(CLI::Range(0.0, 1e4));
  verb->add_option("--least-edge", words.least_edge,
                   "Leave out sharp edges shorter than this [mm]; 0: none (default: what is noise of a scan)")
      ->check(CLI::Range(0.0, 1e4));
  verb->add_option("--balls", words.balls, "Diameters to ask about, ascending, separated by commas [mm]")
      ->delimiter(',')
      ->check(CLI::Range(0.01, 1000.0));
  verb->add_option(
          "--place", words.places,
          "A place to measure at: X,Y (seen from above) or X,Y,Z (nearest point). Two places give angle,\n"
          "distance and rise from one to the next, three also a radius")
      ->expected(1)
      ->take_all();
  add_among_others(verb, words.among_others);
  add_pictures(verb, words.pictures, words.section);
  verb->add_flag("--quiet", words.quiet, "No progress");
  verb->footer(
      "Examples:\n"
      "  yardpass inspect paddle-blade.stl --out survey\n"
      "  yardpass inspect paddle-blade.stl --place 0,0 --place 77,47\n"
      "  yardpass inspect scan.obj --unit inch --weld 0.01 --repair zero-area,repeated --json");
  return verb;
}

CLI::App* add_new_verb(CLI::App& program, app::NewWords& words) {
  auto* verb = program.add_subcommand("new", "Write a job to start from, by a look at the part");
  verb->add_option("MESH", words.mesh, "The part (STL, OBJ, PLY, 3MF)")->required();
  verb->add_option("--out", words.out, "The job file (default: NAME.toml, where you stand)");
  verb->add_option(
      "--rack", words.rack,
      "Tools to choose from: a file with [tools.NAME] tables, or a job (default: common end mills "
      "and ball ends)");
  add_unit(verb, words.unit);
  verb->add_flag("--quiet", words.quiet, "No progress, and the job is not told on the screen");
  verb->footer(
      "Examples:\n"
      "  yardpass new hull-plug.stl\n"
      "  yardpass new casting.ply --unit inch --rack our-tools.toml --out casting.toml");
  return verb;
}

CLI::App* add_compare_verb(CLI::App& program, app::CompareWords& words) {
  auto* verb = program.add_subcommand("compare", "What if: variants of an operation beside each other");
  verb->add_option("JOB", words.job, "The job file (TOML)")->required();
  verb->add_option("--operation", words.operation, "The operation, by its name or number")->required();
  auto* tries = verb->add_option("--try", words.tries,
                                 "Values of one of its keys: KEY=VALUE,VALUE,...; a dot leads into a table");
  auto* with =
      verb->add_option("--with", words.with, "Another operation, to stand beside it")->excludes(tries);
  verb->add_flag("--angles", words.angles, "Twelve angles of its passes; times alone")
      ->excludes(tries)
      ->excludes(with);
  verb->add_flag("--quick", words.quick, "In coarser steps, as run --quick");
  verb->add_flag("--only-plan", words.only_plan, "Times and lengths alone: nothing is judged");
  verb->add_option("--out", words.out, "Folder for compare.png and compare.json (default: none are written)");
  add_pictures(verb, words.pictures);
  verb->add_flag("--yes", words.yes,
                 "Go on without asking where an estimate is above 10 minutes, 4 GB or 20 million points");
  add_among_others(verb, words.among_others);
  verb->add_flag("--quiet", words.quiet, "No progress");
  verb->footer(
      "Examples:\n"
      "  yardpass compare hull-plug.toml --operation \"finish the hull\" --try stepover=0.2,0.3,0.4 --out "
      "try\n"
      "  yardpass compare hull-plug.toml --operation 2 --with 4 --only-plan\n"
      "  yardpass compare hull-plug-parallel.toml --operation \"finish the hull\" --angles");
  return verb;
}

CLI::App* add_check_verb(CLI::App& program, app::RunWords& words) {
  auto* verb = program.add_subcommand("check", "Judge a program against a job's part, stock and tools");
  verb->add_option("PROGRAM", words.program, "The G-code file")->required();
  verb->add_option("--job", words.job, "The job file (TOML)")->required();
  verb->add_option("--out", words.out, "Folder for report and pictures (default: none are written)");
  verb->add_option("--up-to-line", words.up_to_line, "Leave out what comes after this line of the program")
      ->check(CLI::Range(1, 2147483646));
  verb->add_option("--up-to-operation", words.up_to_operation,
                   "Leave out what comes after this operation, by its name or number")
      ->excludes("--up-to-line");
  verb->add_flag("--skip-marked", words.skip_marked,
                 "Skip the blocks that begin with /, as the control does if it is told so");
  verb->add_flag("--only-times", words.only_times,
                 "Tell how long each operation takes; no stock, no part, nothing is judged")
      ->excludes("--out");
  verb->footer("Example: yardpass check blade/program.nc --job paddle-blade.toml");
  return verb;
}

CLI::App* add_resume_verb(CLI::App& program, app::RunWords& words) {
  auto* verb =
      program.add_subcommand("resume", "Go on with a program at a line: the rest of it, with a safe way in");
  verb->add_option("PROGRAM", words.program, "The G-code file")->required();
  verb->add_option("--job", words.job, "The job file (TOML)")->required();
  verb->add_option("--at-line", words.at_line,
                   "Where to go on: a line of the file, or an N word such as N2340; what comes before it has "
                   "been cut")
      ->required();
  verb->add_option("--out", words.out, "Folder for the program, report and pictures")->required();
  verb->add_flag("--skip-marked", words.skip_marked,
                 "Skip the blocks that begin with /, as the control does if it is told so");
  verb->footer(
      "Example: yardpass resume blade/program.nc --job paddle-blade.toml --at-line 1840 --out blade-rest");
  return verb;
}

CLI::App* add_keys_verb(CLI::App& program, app::KeysWords& words) {
  auto* verb = program.add_subcommand("keys", "Tell the keys of job files");
  verb->add_option("NAME", words.name, "A strategy or a table of the job file (default: all)");
  auto* markdown = verb->add_flag("--markdown", words.markdown, "As Markdown tables");
  verb->add_flag("--schema", words.schema, "As a JSON schema of the whole job file, for editors")
      ->excludes(markdown);
  verb->footer(
      "Examples:\n"
      "  yardpass keys parallel\n"
      "  yardpass keys stock\n"
      "  yardpass keys --schema > yardpass-job.json");
  return verb;
}

}  // namespace

namespace {

int carried_out(int count, char** arguments) {
  CLI::App program(
      "Yard Pass: toolpaths for 3-axis mills in mold and die shops, proven on the posted G-code.\n"
      "Exit code 0: verified clean; 1: done, but the judge found something; 2: bad input, nothing written;\n"
      "3: a look (--quick, --only-plan), from which no program is released.");
  program.name("yardpass");
  program.set_version_flag("--version", "yardpass " YARDPASS_VERSION);
  program.require_subcommand(1);
  app::RunWords words;
  const auto large = [&](CLI::App* verb) {
    verb->add_flag("--yes", words.yes,
                   "Go on without asking where the estimate is above 10 minutes, 4 GB or 20 million points");
  };
  const auto common = [&](CLI::App* verb) {
    verb->add_flag("--quiet", words.quiet, "No progress and no tables: findings, verdict and errors only");
    verb->add_option("--threads", words.threads,
                     "Cores to use; the result does not depend on it (default: all)")
        ->check(CLI::Range(1, 1024));
    verb->add_flag("--save-stock", words.save_stock,
                   "Also write stock.npy and stock.frame, which another job can start from");
    add_among_others(verb, words.among_others);
    add_pictures(verb, words.pictures, words.section);
  };
  auto* run_verb = program.add_subcommand("run", "Plan, post, verify and report a job");
  run_verb->add_option("JOB", words.job, "The job file (TOML)")->required();
  run_verb->add_option("--out", words.out, "Folder for program, report and pictures")->required();
  large(run_verb);
  const auto looks = [&](CLI::App* verb) {
    verb->add_flag("--quick", words.quick,
                   "A quick look: spacing, tolerance and cells 6 times as wide; no program is "
                   "released, exit code 3")
        ->excludes("--save-stock");
    verb->add_flag(
        "--only-plan", words.only_plan,
        "Stop when all is planned and linked: times, lengths, retracts and air, nothing judged, no "
        "program released, exit code 3");
    verb->add_flag("--afresh", words.afresh,
                   "Plan everything again, also what the last run into this folder has planned just so");
  };
  common(run_verb);
  looks(run_verb);
  run_verb->footer(
      "Examples:\n"
      "  yardpass run paddle-blade.toml --out blade\n"
      "  yardpass run paddle-blade.toml --out look --quick --only-plan");
  auto* check_verb = add_check_verb(program, words);
  common(check_verb);
  app::InspectWords inspect_words;
  auto* inspect_verb = add_inspect_verb(program, inspect_words);
  inspect_verb
      ->add_option("--threads", words.threads,
                   "Cores to use; the result does not depend on it (default: all)")
      ->check(CLI::Range(1, 1024));
  auto* resume_verb = add_resume_verb(program, words);
  common(resume_verb);
  auto* demo_verb = program.add_subcommand("demo", "Run a shipped job");
  demo_verb->add_option("NAME", words.demo, fmt::format("Which one: {}", fmt::join(app::demo_names(), ", ")))
      ->default_val("paddle-blade");
  demo_verb->add_option("--out", words.out,
                        "Folder for program, report and pictures (default: NAME-demo, where you stand)");
  large(demo_verb);
  demo_verb->footer("Examples:\n  yardpass demo\n  yardpass demo hull-plug --out hull");
  common(demo_verb);
  looks(demo_verb);
  program.footer(
      "Examples:\n"
      "  yardpass run paddle-blade.toml --out blade\n"
      "  yardpass check blade/program.nc --job paddle-blade.toml\n"
      "  yardpass resume blade/program.nc --job paddle-blade.toml --at-line 1840 --out blade-rest\n"
      "  yardpass inspect paddle-blade.stl\n"
      "  yardpass new hull-plug.stl\n"
      "  yardpass compare hull-plug.toml --operation 4 --try stepover=0.2,0.3\n"
      "  yardpass keys parallel\n"
      "  yardpass demo");
  app::NewWords new_words;
  CLI::App* new_verb = add_new_verb(program, new_words);
  app::CompareWords compare_words;
  CLI::App* compare_verb = add_compare_verb(program, compare_words);
  for (CLI::App* verb : {new_verb, compare_verb})
    verb->add_option("--threads", words.threads,
                     "Cores to use; the result does not depend on it (default: all)")
        ->check(CLI::Range(1, 1024));
  app::KeysWords keys_words;
  CLI::App* keys_verb = add_keys_verb(program, keys_words);
  if (const auto mistake = app::usage_mistake(program, {arguments + 1, arguments + count})) {
    fmt::print(stderr, "yardpass: {}\n", *mistake);
    return app::kBadInput;
  }
  try {
    program.parse(count, arguments);
  } catch (const CLI::ParseError& error) {
    return program.exit(error) == 0 ? app::kClean : app::kBadInput;
  }
  std::optional<tbb::global_control> cores;
  if (words.threads > 0)
    cores.emplace(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(words.threads));
  app::listen_for_stop();
  if (*keys_verb) return guarded([&] { return app::keys(keys_words); });
  if (*run_verb) return guarded([&] { return app::run(words); });
  if (*check_verb) return guarded([&] { return app::check(words); });
  if (*resume_verb) return guarded([&] { return app::resume(words); });
  if (*new_verb) return guarded([&] { return app::new_job(new_words); });
  if (*compare_verb) return guarded([&] { return app::compare(compare_words); });
  if (*inspect_verb) return guarded([&] { return app::inspect(inspect_words); });
  return guarded([&] { return app::demo(words); });
}

}  // namespace

int main(int count, char** arguments) { return when_screen_is_written(carried_out(count, arguments)); }
