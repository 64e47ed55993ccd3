#include "app/inspect_verb.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <optional>

#include <fmt/format.h>

#include "app/output_folder.h"
#include "app/places.h"
#include "app/terminal.h"
#include "yardpass/report/outputs.h"

namespace fs = std::filesystem;

namespace yardpass::app {

namespace {

constexpr LengthUnit kUnits[] = {LengthUnit::micrometre, LengthUnit::millimetre, LengthUnit::centimetre,
                                 LengthUnit::metre,      LengthUnit::inch,       LengthUnit::foot};

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
    if (!words.unit.empty()) job.part.read.unit = unit_named(words.unit);
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

void write_inspection(const Inspection& inspection, OutputFolder& folder, PictureForm form,
                      const std::optional<SectionLine>& section, const StageProgress& progress) {
  try {
    write_curve_files(folder.draft(), curves_of(inspection));
    write_part_json(folder.draft() / "part.json", inspection);
    std::vector<Picture> pictures = draw_inspection(
        inspection, folder.draft(), [&](double share) { return progress("draw", share); }, form);
    if (section) {
      pictures.push_back({std::string("section.") + name_of(form), "Part and stock, cut along a line"});
      draw_section(inspection, *section, folder.draft() / pictures.back().file);
    }
    write_part_page(folder.draft() / "part.html", inspection, pictures);
  } catch (const Error& error) {
    throw Error(folder.as_wanted(error.what()));
  }
  stop_if_asked();
  folder.publish();
}

}  // namespace

LengthUnit unit_named(const std::string& name) {
  const auto names = unit_names();
  return kUnits[std::find(names.begin(), names.end(), name) - names.begin()];
}

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

int inspect(const InspectWords& words) {
  std::vector<std::vector<double>> places;
  if (!std::is_sorted(words.balls.begin(), words.balls.end()))
    throw Error("--balls: the diameters must be ascending");
  const Job job = job_of(words);
  for (const std::string& place : words.places) {
    places.push_back(place_of(place));
    for (double& x : places.back()) x *= millimetres(job.units);
  }
  const std::optional<SectionLine> section = section_of(words.section, job.units, words.out);
  std::optional<OutputFolder> folder;
  if (!words.out.empty()) folder.emplace(words.out, files_of(job), words.among_others);
  SurveyOptions options;
  options.ball_diameters_mm = words.balls;
  if (words.least_edge >= 0) options.least_edge_mm = words.least_edge;
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
    if (folder)
      write_inspection(*inspection, *folder, form_named(words.pictures), section, progress.callback());
  }
  if (words.json)
    fmt::print("{}", inspection_json(*inspection));
  else
    print_inspection(*inspection);
  if (folder && !words.json) fmt::print("written to {}\n", words.out);
  return 0;
}

}  // namespace yardpass::app
