#include <algorithm>

#include "run/held_against_job.h"
#include "run/judge_rest.h"
#include "setup/stage.h"
#include "yardpass/part/outlines.h"
#include "yardpass/plan/grooves.h"
#include "yardpass/run/run.h"

namespace yardpass {

namespace {

constexpr double kDrawn = 0.005;  // sagitta of arcs written as lines

/// Guards as the judge takes them: regions for the operations that name them; other meshes for all, with
/// their clearance for those that name them.
std::vector<JudgedKeepAway> judged_keep_away(const JobSetup& setup, const std::vector<Settled>& operations) {
  std::vector<JudgedKeepAway> result;
  for (const GuideMesh& keep_away : setup.keep_away) {
    std::vector<std::int32_t> named_by;
    for (const Settled& settled : operations) {
      const std::vector<std::string>& named = settled.values.guides.keep_away;
      if (std::find(named.begin(), named.end(), keep_away.name) != named.end())
        named_by.push_back(settled.number);
    }
    Mesh mesh = keep_away.mesh;
    if (mesh.triangles.empty()) {
      mesh.points = setup.part->mesh().points;
      for (std::size_t t = 0; t < keep_away.triangles.size(); ++t)
        if (keep_away.triangles[t]) mesh.triangles.push_back(setup.part->mesh().triangles[t]);
    }
    const auto part = make_contact_part(std::move(mesh));
    if (!keep_away.mesh.triangles.empty()) result.push_back({keep_away.name, part, 0, {}});
    if (!named_by.empty()) result.push_back({keep_away.name, part, keep_away.clearance_mm, named_by});
  }
  return result;
}

/// How deep an operation states to cut into the part: by its allowances, region by region, unless it says a
/// depth of its own.
IntendedCut intended_cut(const JobSetup& setup, const Settled& settled, const IntendedCuts& intended) {
  IntendedCut cut{settled.number, settled.values.intended_depth_mm, settled.place()};
  if (!intended.none()) {
    constexpr double kOnTheLine = 0.01;  // mm
    cut.straight_down = true;
    if (!intended.along.empty()) cut.along = std::make_shared<DepthLines>(intended.along, kOnTheLine);
    if (!intended.within.empty()) cut.place = offset(intended.within, kOnTheLine);
    return cut;
  }
  const Allowance& allowance = settled.values.allowance;
  if (allowance.where.empty() || cut.depth_mm != -allowance.least_mm()) return cut;
  cut.depth_mm = std::max(0.0, -allowance.elsewhere_mm());
  std::vector<std::uint8_t> taken(setup.part->mesh().triangles.size(), 0);
  // Of regions that overlap the last counts, as in planning.
  for (auto one = allowance.where.rbegin(); one != allowance.where.rend(); ++one)
    for (const NamedRegion& region : setup.regions) {
      if (region.name != one->region) continue;
      cut.where.push_back({region.set, std::max(0.0, -one->mm)});
      for (std::size_t t = 0; t < taken.size(); ++t) {
        cut.where.back().triangles[t] = region.set[t] && !taken[t];
        taken[t] = taken[t] || region.set[t];
      }
    }
  return cut;
}

/// What the judge is told, and the edges that are measured beside it, by the number of their operation.
struct Asked {
  JudgeOptions options;
  std::map<std::int32_t, EdgesAsked> edges;
};

Asked asked_of(const JobSetup& setup, const std::vector<Settled>& operations) {
  Asked asked;
  JudgeOptions& options = asked.options;
  options.dog_leg_rapids = setup.job.machine.controller.dog_leg_rapids;
  options.travel = setup.job.machine.travel;
  options.accepted = setup.job.accepted;
  options.machine = setup.job.machine.motion;
  options.keep_away = judged_keep_away(setup, operations);
  for (const Settled& settled : operations)
    if (Region area = settled.kept_out(); !area.empty())
      options.keep_out.push_back({settled.number, std::move(area)});
  for (const Settled& settled : operations) {
    if (!(settled.values.intended_depth_mm > 0)) continue;
    IntendedCuts intended = settled.values.pattern->intended(settled.tool, setup.part);
    options.intended.push_back(intended_cut(setup, settled, intended));
    if (!intended.edges.edges.empty()) asked.edges.emplace(settled.number, std::move(intended.edges));
    if (!intended.keeps_off.triangles.empty())
      options.keep_away.push_back(
          {"the faces beside the edges", make_contact_part(intended.keeps_off), 0, {settled.number}});
    if (!intended.keeps_rim) continue;
    Mesh walls = rim_walls(setup.part, intended.within, 2 * intended.depth_mm + 1);
    if (!walls.triangles.empty())
      options.keep_away.push_back(
          {"the ground beside the outline", make_contact_part(std::move(walls)), 0, {settled.number}});
  }
  return asked;
}

/// What each operation wants to leave, and where.
std::vector<LeftByOperation> wanted_of(const JobSetup& setup, const std::vector<Settled>& operations) {
  std::vector<LeftByOperation> result;
  for (const Settled& settled : operations) {
    const TipSurfaceOptions leaves = tip_surface_options(settled.values.allowance);
    const Allowance& said = settled.values.allowance;
    double least = said.elsewhere_mm();  // where regions have more, that is meant too
    for (const Allowance::OfRegion& one : said.where) least = std::max(least, one.mm);
    LeftByOperation wanted{settled.works_in,     {}, least, &settled.tool, leaves.wall_extra_mm,
                           leaves.floor_extra_mm};
    const std::vector<std::string>& lids = settled.values.guides.lids;
    for (const GuideMesh& lid : setup.lids)
      if (std::find(lids.begin(), lids.end(), lid.name) != lids.end())
        wanted.lids = unite(wanted.lids, silhouette(lid.mesh));
    result.push_back(std::move(wanted));
  }
  return result;
}

}  // namespace

namespace {

std::map<std::int32_t, EdgeSizes> edge_sizes(const Asked& asked, const Program& program,
                                             const JobSetup& setup, const StageProgress& progress) {
  std::map<std::int32_t, EdgeSizes> result;
  if (program.lines > asked.options.up_to_line) return result;
  for (const auto& [number, edges] : asked.edges) {
    const auto own = [number = number](const ProgramOperation& operation) {
      return operation.number == number;
    };
    if (std::none_of(program.operations.begin(), program.operations.end(), own)) continue;
    result.emplace(number,
                   measure_edges(edges, program, number, setup.job.tools, *setup.part, *setup.stock,
                                 asked.options.done.get(), detail::stage(progress, "measure the edges")));
  }
  return result;
}

JudgedProgram judged_with(Asked asked, Program program, const JobSetup& setup,
                          const std::vector<Settled>& operations, const StageProgress& progress,
                          const std::map<std::int32_t, LeftStatistics>& left_after) {
  JudgeOptions& options = asked.options;
  program.come_down_from(setup.job.machine.change_z.value_or(setup.plane_z));
  RunningLeft running(*setup.part, std::numeric_limits<double>::infinity());
  std::vector<LeftStatistics> after(program.operations.size());
  options.after_operation = [&](std::int32_t operation, const Stock& stock) {
    const auto k = static_cast<std::size_t>(operation);
    const auto before = left_after.find(program.operations[k].number);
    if (before != left_after.end()) {
      after[k] = before->second;
      return;
    }
    after[k] = statistics(running.update(stock, detail::stage(progress, "measure what is left")), stock,
                          area_of(setup, operations, program.operations[k].number));
  };
  Judgement judgement = judge(program, setup.part, setup.job.tools, setup.new_stock(), options,
                              detail::stage(progress, "judge the program"));
  running.update(judgement.stock, detail::stage(progress, "measure what is left"));
  LeftMap left = running.take();
  count_peaks(left, judgement.stock, setup.part, judgement.peaks);
  WhyLeft why_left =
      explain_left(judgement.stock, left, setup.part, wanted_of(setup, operations), judgement.last_cut,
                   {.limit_mm = setup.job.left.thicker_than_mm, .most_work = 0});
  std::vector<Note> disagreements = detail::held_against_job(
      program, setup, operations, options.up_to_line >= program.lines && !options.done);
  std::map<std::int32_t, EdgeSizes> sizes = edge_sizes(asked, program, setup, progress);
  return {std::move(program),
          std::move(judgement),
          std::move(left),
          std::move(why_left),
          std::move(after),
          std::move(disagreements),
          true,
          options.up_to_line,
          {},
          std::move(sizes)};
}

}  // namespace

JudgedProgram judge_program(Program program, const JobSetup& setup, const std::vector<Settled>& operations,
                            const StageProgress& progress, std::int32_t up_to_line, MeasuredBefore known) {
  Asked asked = asked_of(setup, operations);
  asked.options.up_to_line = up_to_line;
  asked.options.engagements = std::move(known.engagements);
  return judged_with(std::move(asked), std::move(program), setup, operations, progress, known.left_after);
}

JudgedProgram detail::judge_rest(Program program, std::shared_ptr<const Program> done, const JobSetup& setup,
                                 const std::vector<Settled>& operations, const StageProgress& progress) {
  Asked asked = asked_of(setup, operations);
  asked.options.done = std::move(done);
  return judged_with(std::move(asked), std::move(program), setup, operations, progress, {});
}

JudgedProgram carry_out(Program program, const JobSetup& setup, const StageProgress& progress) {
  program.come_down_from(setup.job.machine.change_z.value_or(setup.plane_z));
  JudgeOptions options;
  options.machine = setup.job.machine.motion;
  Judgement judgement = carry_out(program, setup.job.tools, setup.new_stock(), options,
                                  detail::stage(progress, "carry the program out"));
  std::vector<LeftStatistics> after(program.operations.size());
  return {std::move(program), std::move(judgement), {}, {}, std::move(after), {}, false};
}

namespace {

/// So that explaining takes no longer than judging, about, wherever it runs: by the number of moves, for
/// results must not depend on time.
double work_like_judging(const Program& program) {
  return std::max(1e6, 12.0 * static_cast<double>(program.moves.size()));
}

}  // namespace

bool to_explain(const JudgedProgram& judged, const Job& job) {
  return job.left.explained && judged.why_left.not_asked_mm2 > 0;
}

void explain_left(JudgedProgram& judged, const JobSetup& setup, const std::vector<Settled>& operations,
                  const StageProgress& progress) {
  judged.why_left = explain_left(
      judged.judgement.stock, judged.left, setup.part, wanted_of(setup, operations),
      judged.judgement.last_cut,
      {.limit_mm = setup.job.left.thicker_than_mm, .most_work = work_like_judging(judged.program)},
      detail::stage(progress, "explain what is left"));
}

std::vector<Curve> curves_of(const Program& program, const std::function<std::string(std::int32_t)>& name) {
  std::vector<Curve> curves;
  const ProgramMove* before = nullptr;
  for (const ProgramMove& move : program.moves) {
    if (move.after_change) {
      before = nullptr;
      continue;
    }
    const bool goes_on = before && before->rapid() == move.rapid() && before->operation == move.operation &&
                         before->to == move.from;
    if (!goes_on) {
      curves.push_back({{move.from}, false, move.rapid() ? "rapid" : "feed", name(move.operation)});
    }
    const std::vector<Vec3> points = program.points_of(move, kDrawn);
    curves.back().points.insert(curves.back().points.end(), points.begin() + 1, points.end());
    before = &move;
  }
  return curves;
}

}  // namespace yardpass
