#include "app/inspect_verb.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <optional>

#include <fmt/format.h>
#include <CLI/CLI.hpp>

#include "app/output_folder.h"
#include "app/terminal.h"

namespace fs = std::filesystem;

namespace yardpass::app {

namespace {

constexpr LengthUnit kUnits[] = {LengthUnit::micrometre, LengthUnit::millimetre, LengthUnit::centimetre,
                                 LengthUnit::metre,      LengthUnit::inch,       LengthUnit::foot};

std::vector<std::string> unit_names() {
  std::vector<std::string> names;
  for (const LengthUnit unit : kUnits) names.emplace_back(name_of(unit));
  return names;
}

std::vector<std::string> repair_names() {
  std::vector<std::string> names;
  for (const Repair repair : all_repairs()) names.emplace_back(name_of(repair));
  return names;
}

/// "X,Y" or "X,Y,Z".
std::vector<double> place_of(const std::string& text) {
  std::vector<double> numbers;
  std::size_t at = 0;
  while (at <= text.size()) {
    const std::size_t comma = std::min(text.find(',', at), text.size());
    const std::string word = text.substr(at, comma - at);
    char* end = nullptr;
    const double value = std::strtod(word.c_str(), &end);
    if (word.empty() || *end != '\0' || !(std::abs(value) <= 1e6)) break;
    numbers.push_back(value);
    at = comma + 1;
  }
  if (at <= text.size() || numbers.size() < 2 || numbers.size() > 3)
    throw Error(fmt::format(
        "--place \"{}\": must be X,Y (seen from above) or X,Y,Z (the nearest point), in mm", text));
  return numbers;
}

bool is_job(const fs::path& file) { return file.extension() == ".toml"; }

/// The job named, or one made of nothing but a mesh, with what the command line asks for.
Job job_of(const InspectWords& words) {
  Job job;
  if (is_job(words.part)) {
    if (!words.unit.empty() || words.weld > 0 || !words.repairs.empty())
      throw Error("--unit, --weld and --repair belong to a mesh; a job says them in its [part]");
    job = read_job(words.part);
  } else {
    job.file = words.part;
    job.title = fs::path(words.part).filename().string();
    job.part.mesh = words.part;
    job.part.read.weld_mm = words.weld;
    const auto names = unit_names();
    if (!words.unit.empty())
      job.part.read.unit = kUnits[std::find(names.begin(), names.end(), words.unit) - names.begin()];
    for (const Repair repair : all_repairs())
      if (std::find(words.repairs.begin(), words.repairs.end(), name_of(repair)) != words.repairs.end())
        job.part.repairs.push_back(repair);
    job.part.read.drop_not_finite =
        std::find(words.repairs.begin(), words.repairs.end(), "not-finite") != words.repairs.end();
  }
  if (words.crease_angle > 0) job.splitting.crease_deg = words.crease_angle;
  if (words.bend_radius >= 0) job.splitting.bend_radius_mm = words.bend_radius;
  return job;
}

}  // namespace

CLI::App* add_inspect_verb(CLI::App& program, InspectWords& words) {
  auto* verb =
      program.add_subcommand("inspect", "Survey a part: size, faults, slopes, reach of balls, regions");
  verb->add_option("PART", words.part, "The part (STL, OBJ, PLY, 3MF), or a job file: its part as placed")
      ->required();
  verb->add_flag("--json", words.json, "Print JSON");
  verb->add_option("--out", words.out, "Folder for pictures and the JSON (default: none are written)");
  verb->add_option("--unit", words.unit,
                   "Unit of the numbers in the mesh file (default: what the file says, else mm)")
      ->check(CLI::IsMember(unit_names()));
  verb->add_option("--weld", words.weld, "Join corners nearer than this [mm]")->check(CLI::Range(0.0, 1.0));
  verb->add_option("--repair", words.repairs, "Repairs to carry out, separated by commas")
      ->delimiter(',')
      ->check(CLI::IsMember(repair_names()));
  verb->add_option("--crease-angle", words.crease_angle,
                   "Joints that turn by more split regions [degrees] (default: 25)")
      ->check(CLI::Range(0.1, 180.0));
  verb->add_option("--bend-radius", words.bend_radius,
                   "Bends tighter than this are regions of their own [mm]; 0: none (default: from the part)")
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
  verb->add_flag("--quiet", words.quiet, "No progress");
  verb->footer(
      "Examples:\n"
      "  yardpass inspect paddle-blade.stl --out survey\n"
      "  yardpass inspect paddle-blade.stl --place 0,0 --place 77,47\n"
      "  yardpass inspect scan.obj --unit inch --weld 0.01 --repair zero-area,repeated --json");
  return verb;
}

int inspect(const InspectWords& words) {
  std::vector<std::vector<double>> places;
  for (const std::string& place : words.places) places.push_back(place_of(place));
  if (!std::is_sorted(words.balls.begin(), words.balls.end()))
    throw Error("--balls: the diameters must be ascending");
  const Job job = job_of(words);
  std::optional<OutputFolder> folder;
  if (!words.out.empty()) folder.emplace(words.out);
  SurveyOptions options;
  options.ball_diameters_mm = words.balls;
  std::optional<Inspection> inspection;
  {
    ProgressLine progress(words.quiet);
    try {
      inspection.emplace(inspect_part(job, places, options, progress.callback()));
    } catch (const LoopError& error) {
      if (!folder) throw;
      draw_loop_trouble(error, folder->draft() / "loop.png");
      folder->publish();
      throw Error(fmt::format("{}\ndrawn in {}", error.what(), (fs::path(words.out) / "loop.png").string()));
    }
    if (folder) {
      write_curve_files(folder->draft(), curves_of(*inspection));
      folder->write("part.json", inspection_json(*inspection));
      const StageProgress drawing = progress.callback();
      draw_inspection(*inspection, folder->draft(), [&](double share) { return drawing("draw", share); });
      folder->publish();
    }
  }
  if (words.json)
    fmt::print("{}", inspection_json(*inspection));
  else
    print_inspection(*inspection);
  if (folder && !words.json) fmt::print("written to {}\n", words.out);
  return 0;
}

}  // namespace yardpass::app
