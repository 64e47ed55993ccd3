#include "yardpass/run/starting_job.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>

#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

/// The tools that a job of this part wants from a rack, and why.
struct Choice {
  const RackTool* rough = nullptr;
  const RackTool* rest = nullptr;  ///< roughs again where the first one could not get
  const RackTool* face = nullptr;  ///< for level faces
  const RackTool* finish = nullptr;
  const RackTool* corners = nullptr;
  double finish_reaches = 0, corners_reach = 0;  ///< shares of the surface
};

bool clears(const Tool& tool) { return tool.shape == Shape::flat || tool.shape == Shape::bull; }

std::vector<const RackTool*> by_size(const Rack& rack, const auto& suits) {
  std::vector<const RackTool*> tools;
  for (const RackTool& one : rack.tools)
    if (suits(one.tool)) tools.push_back(&one);
  std::stable_sort(tools.begin(), tools.end(), [](const RackTool* a, const RackTool* b) {
    return a->tool.diameter_mm > b->tool.diameter_mm;
  });
  return tools;
}

/// The widest that is no wider than wanted, else the narrowest.
const RackTool* no_wider(const std::vector<const RackTool*>& tools, double diameter_mm) {
  for (const RackTool* tool : tools)
    if (tool->tool.diameter_mm <= diameter_mm) return tool;
  return tools.empty() ? nullptr : tools.back();
}

double share_of(const Survey& survey, double diameter_mm) {
  for (const BallReach& reach : survey.reach)
    if (reach.diameter_mm == diameter_mm) return reach.share;
  return 0;
}

Choice choose(const Rack& rack, const Survey& survey, const Box3& part) {
  Choice choice;
  const Vec3 size = part.sizes();
  const double narrow = std::min(size.x(), size.y());
  const auto ends = by_size(rack, clears);
  const auto balls = by_size(rack, [](const Tool& tool) { return tool.shape == Shape::ball; });
  if (balls.empty())
    throw Error("the rack has no ball end to finish with: [tools.NAME] with shape = \"ball\"");
  choice.rough = ends.empty() ? nullptr : no_wider(ends, narrow / 5);
  if (choice.rough) {
    const RackTool* rest = no_wider(ends, 0.6 * choice.rough->tool.diameter_mm);
    if (rest->tool.diameter_mm < choice.rough->tool.diameter_mm) choice.rest = rest;
    for (const RackTool* end : ends)
      if (end->tool.shape == Shape::flat && end->tool.diameter_mm <= choice.rough->tool.diameter_mm)
        choice.face = choice.face ? choice.face : end;
  }
  double level_mm2 = 0;
  for (const Flat& flat : survey.flats) level_mm2 += flat.area_mm2;
  if (level_mm2 < 0.02 * size.x() * size.y()) choice.face = nullptr;
  double best = 0;
  for (const RackTool* ball : balls) best = std::max(best, share_of(survey, ball->tool.diameter_mm));
  for (const RackTool* ball : balls) {
    const double share = share_of(survey, ball->tool.diameter_mm);
    if (choice.finish || ball->tool.diameter_mm > narrow / 5) continue;
    if (share >= best - 0.05) choice.finish = ball, choice.finish_reaches = share;
  }
  if (!choice.finish)
    choice.finish = balls.back(), choice.finish_reaches = share_of(survey, balls.back()->tool.diameter_mm);
  for (const RackTool* ball : balls) {
    const double share = share_of(survey, ball->tool.diameter_mm);
    const bool smaller = ball->tool.diameter_mm < 0.8 * choice.finish->tool.diameter_mm;
    // What differs less may be thinner than what is worth cutting again.
    if (!choice.corners && smaller && share > choice.finish_reaches + 0.04)
      choice.corners = ball, choice.corners_reach = share;
  }
  return choice;
}

std::vector<double> ball_sizes(const Rack& rack) {
  std::set<double> sizes;
  for (const RackTool& one : rack.tools)
    if (one.tool.shape == Shape::ball) sizes.insert(one.tool.diameter_mm);
  return {sizes.begin(), sizes.end()};
}

class Writer {
 public:
  Writer(const StartingJob& wanted, const Inspection& seen, const Choice& choice)
      : wanted_(wanted), seen_(seen), choice_(choice), mm_(millimetres(wanted.rack.units)) {}

  std::string text() {
    head();
    tools();
    operations();
    return std::move(text_);
  }

 private:
  template <typename... Values>
  void line(fmt::format_string<Values...> form, Values&&... values) {
    text_ += fmt::format(form, std::forward<Values>(values)...) + "\n";
  }
  /// A length in the units of the job, in few digits.
  [[nodiscard]] std::string length(double mm) const {
    return short_number(std::round(mm / mm_ * 1000) / 1000);
  }
  [[nodiscard]] static std::string percent(double share) { return fmt::format("{:.0f} %", 100 * share); }

  void beside(const std::string& words, const std::string& comment) { line("{:<26}# {}", words, comment); }

  void head() {
    const Survey& survey = seen_.survey;
    const Vec3 size = seen_.setup.part->box().sizes();
    const std::string stem = one_line(wanted_.mesh.stem().string());
    line("# A job to start from, written from a look at the part. Keys and strategies: yardpass keys.");
    line("# It is {} x {} x {} {}, {} deep from above.", length(size.x()), length(size.y()), length(size.z()),
         name_of(wanted_.rack.units), length(survey.depth_mm()));
    if (survey.undercut_mm2 > 0)
      line("# {:.3g} {}2 of it hang over: no tool from above gets there.", survey.undercut_mm2 / mm_ / mm_,
           name_of(wanted_.rack.units));
    line("title = {}", toml_string(stem));
    if (wanted_.rack.units == Units::inch) line("units = \"inch\"");
    line("\n[part]");
    line("mesh = {}", toml_string((wanted_.in_job.empty() ? wanted_.mesh : wanted_.in_job).generic_string()));
    if (wanted_.unit) line("unit = \"{}\"", name_of(*wanted_.unit));
    const double margin = std::clamp(0.02 * size.maxCoeff(), 0.5, 5.0);
    line("");
    beside("[stock]", "a block; `yardpass keys stock` tells of bars, meshes, castings");
    beside(fmt::format("margin = [{0}, {0}]", length(margin)), "around the part");
    beside(fmt::format("above = {}", length(std::clamp(0.01 * size.maxCoeff(), 0.2, 2.0))), "extra on top");
  }

  void tools() {
    std::set<const RackTool*> written;
    for (const RackTool* one : {choice_.rough, choice_.rest, choice_.face, choice_.finish, choice_.corners}) {
      if (!one || !written.insert(one).second) continue;
      line("\n[tools.{}]", toml_key(one->tool.name));
      text_ += toml_of(one->says);
    }
  }

  void operation(const std::string& comment, const char* name, const char* strategy, const RackTool& tool) {
    line("");
    beside("[[operation]]", comment);
    line("name = \"{}\"\nstrategy = \"{}\"\ntool = {}", name, strategy, toml_string(tool.tool.name));
  }

  void operations() {
    if (choice_.rough) operation("clears the block, level by level", "rough", "roughing", *choice_.rough);
    if (choice_.rest) operation("what the wider tool could not get at", "rest", "roughing", *choice_.rest);
    if (choice_.face) operation("level faces at their exact height", "faces", "flats", *choice_.face);
    operation(fmt::format("steep parts in waterlines, shallow ones in passes over them: this ball reaches {}",
                          percent(choice_.finish_reaches)),
              "finish", "by-slope", *choice_.finish);
    if (choice_.face) beside("slope = [1, 90]", "level faces are done");
    beside("smooth = true", "fewer blocks: arcs and longer lines, within the tolerance");
    if (!choice_.corners) return;
    operation(fmt::format("corners that the ball before cannot reach: this one reaches {}",
                          percent(choice_.corners_reach)),
              "corners", "rest-finishing", *choice_.corners);
    line("reference = {}", toml_string(choice_.finish->tool.name));
  }

  const StartingJob& wanted_;
  const Inspection& seen_;
  const Choice& choice_;
  double mm_;
  std::string text_;
};

}  // namespace

std::string starting_job(const StartingJob& wanted, const StageProgress& progress) {
  Job job;
  job.file = wanted.mesh;
  job.title = wanted.mesh.stem().string();
  job.part.mesh = wanted.mesh;
  job.part.read.unit = wanted.unit;
  SurveyOptions options;
  options.ball_diameters_mm = ball_sizes(wanted.rack);
  const Inspection seen = inspect_part(job, {}, options, progress);
  return Writer(wanted, seen, choose(wanted.rack, seen.survey, seen.setup.part->box())).text();
}

}  // namespace yardpass
