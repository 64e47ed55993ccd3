#include "app/what_if_verbs.h"

#include <algorithm>
#include <filesystem>
#include <memory>

#include <fmt/format.h>

#include "app/inspect_verb.h"
#include "app/operation_words.h"
#include "app/output_folder.h"
#include "app/run_verbs.h"
#include "app/terminal.h"
#include "geom/write_file.h"
#include "yardpass/geom/text.h"
#include "yardpass/report/comparison.h"
#include "yardpass/run/starting_job.h"
#include "yardpass/run/variants.h"

namespace fs = std::filesystem;

namespace yardpass::app {

int new_job(const NewWords& words) {
  const fs::path mesh = words.mesh;
  const fs::path out = words.out.empty() ? fs::path(mesh.stem().string() + ".toml") : fs::path(words.out);
  std::error_code code;
  if (fs::exists(out, code)) throw Error(out.string() + ": is there already; --out FILE names another place");
  if (!fs::exists(mesh, code)) throw Error(mesh.string() + ": there is no such file");
  StartingJob wanted;
  wanted.mesh = mesh;
  // Named from where the job lies, so that both may move together.
  const fs::path beside = fs::absolute(out).parent_path();
  wanted.in_job = fs::relative(fs::absolute(mesh), beside, code);
  if (wanted.in_job.empty()) wanted.in_job = fs::absolute(mesh);
  if (!words.unit.empty()) wanted.unit = unit_named(words.unit);
  if (!words.rack.empty()) wanted.rack = read_rack(words.rack);
  std::string text;
  {
    ProgressLine progress(words.quiet);
    text = starting_job(wanted, progress.callback());
  }
  stop_if_asked();
  detail::write_file(out, {text});
  (void)read_job(out);
  if (!words.quiet) fmt::print("{}\n", text);
  fmt::print("written to {}\n", out.string());
  return kClean;
}

namespace {

std::vector<Variant> variants_of(const Job& job, const CompareWords& words) {
  const std::int32_t operation = operation_number(job, words.operation);
  if (operation == 0)
    throw Error(
        fmt::format("the job has no operation \"{}\"; there are: {}", words.operation, operations_of(job)));
  if (!words.with.empty()) {
    const std::int32_t other = operation_number(job, words.with);
    if (other == 0)
      throw Error(
          fmt::format("the job has no operation \"{}\"; there are: {}", words.with, operations_of(job)));
    return side_by_side(job, operation, other);
  }
  if (words.angles) return twelve_angles(job, operation);
  const std::size_t equals = words.tries.find('=');
  if (equals == std::string::npos || equals == 0 || equals + 1 == words.tries.size())
    throw Error(fmt::format("--try \"{}\": must be KEY=VALUE,VALUE,..., for example stepover=0.2,0.3,0.4",
                            words.tries));
  std::vector<Given> values;
  for (std::size_t at = equals + 1; at <= words.tries.size();) {
    const std::size_t comma = std::min(words.tries.find(',', at), words.tries.size());
    if (comma == at) throw Error(fmt::format("--try \"{}\": a value is missing", words.tries));
    values.push_back(given_of(words.tries.substr(at, comma - at)));
    at = comma + 1;
  }
  if (values.size() > 20) throw Error("--try takes at most 20 values");
  return variants(job, operation, words.tries.substr(0, equals), values);
}

/// Variants that were carried out, with all that their reports refer to.
class Carried {
 public:
  void add(const Variant& variant, RunResult run) {
    runs_.push_back(std::make_unique<RunResult>(std::move(run)));
    reports_.push_back(std::make_unique<Report>(make_report(*runs_.back())));
    compared_.push_back({variant.words, variant.operation, reports_.back().get()});
  }
  [[nodiscard]] const std::vector<ComparedRun>& all() const { return compared_; }
  [[nodiscard]] const RunResult& run(std::size_t index) const { return *runs_[index]; }

 private:
  std::vector<std::unique_ptr<RunResult>> runs_;
  std::vector<std::unique_ptr<Report>> reports_;
  std::vector<ComparedRun> compared_;
};

/// Values of a key that changes nothing here are not worth comparing.
void refuse_if_idle(const Variant& variant, const RunResult& run) {
  const std::string key = variant.words.substr(0, variant.words.find(" = "));
  const std::string start = "\"" + key.substr(key.rfind('.') + 1) + "\" (";
  for (const Note& note : run.operations.back().notes)
    if (note.about == "idle" && note.says.rfind(start, 0) == 0) throw Error(note.says);
}

/// What was planned before is taken over, whether for another variant or for the same one.
Carried carry_out(const std::vector<Variant>& all, bool only_plan, KeptPaths& kept,
                  const CompareWords& words) {
  Carried carried;
  ProgressLine progress(words.quiet);
  for (const Variant& variant : all) {
    const StageProgress said = progress.callback();
    const StageProgress named = [&](const std::string& stage, double share) {
      return said(variant.words + ": " + stage, share);
    };
    RunSteps steps{.progress = named, .kept = &kept, .only_plan = only_plan};
    steps.foretold = [&](const Estimate& foretold) {
      progress.clear();
      heed_size(foretold, words.yes);
    };
    carried.add(variant, run_job(variant.job, steps));
    refuse_if_idle(variant, carried.run(carried.all().size() - 1));
    for (const PlannedOperation& planned : carried.run(carried.all().size() - 1).planned) kept.add(planned);
  }
  return carried;
}

void write_comparison(const Carried& carried, const std::string& form, OutputFolder& folder) {
  try {
    draw_comparison(carried.all(), folder.draft() / ("compare." + form));
    detail::write_file(folder.draft() / "compare.json", {comparison_json(carried.all())});
  } catch (const Error& error) {
    throw Error(folder.as_wanted(error.what()));
  }
  stop_if_asked();
  folder.publish();
}

}  // namespace

int compare(const CompareWords& words) {
  const int asked = !words.tries.empty() + !words.with.empty() + words.angles;
  if (asked != 1) throw Error("compare needs one of --try KEY=VALUE,VALUE,..., --with OPERATION, --angles");
  Job job = read_job(words.job);
  if (words.quick) job.coarser = quick_look();
  const std::vector<Variant> all = variants_of(job, words);
  std::optional<OutputFolder> folder;
  if (!words.out.empty()) folder.emplace(words.out, files_of(job), words.among_others);
  KeptPaths kept;
  Carried carried = carry_out(all, true, kept, words);
  fmt::print("{}\n{}", one_line(job.title), comparison_table(carried.all()));
  if (words.angles || words.only_plan)
    fmt::print("least time: {}\n", carried.all()[quickest(carried.all())].words);
  // Angles are many: only their times are wanted.
  if (!words.only_plan && !words.angles) {
    std::fflush(stdout);
    carried = carry_out(all, false, kept, words);
    fmt::print("\njudged, each up to this operation:\n{}", comparison_table(carried.all()));
    for (const ComparedRun& run : carried.all())
      fmt::print("{}: {}\n", run.words, verdict_words(*run.report));
  }
  if (words.quick)
    fmt::print("{}: spacing is used {} times as wide as it says\n", not_for_cutting(*carried.all()[0].report),
               quick_look().spacing);
  for (const auto& [one, other] : alike(carried.all()))
    fmt::print("note: \"{}\" and \"{}\" have the same path{}\n", carried.all()[one].words,
               carried.all()[other].words,
               words.quick ? ": spacing of a quick look is at most half the tool" : "");
  if (folder) {
    write_comparison(carried, words.pictures, *folder);
    fmt::print("written to {}\n", words.out);
  }
  return kClean;
}

}  // namespace yardpass::app
