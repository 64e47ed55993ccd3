#include "yardpass/run/run.h"

#include <algorithm>
#include <ctime>

#include <fmt/format.h>

#include "setup/guided_parts.h"
#include "setup/stage.h"
#include "yardpass/survey/touchable.h"

namespace yardpass {

namespace {

PlannedOperation plan_operation(const Settled& settled, const detail::GuidedPart& guided, int decimals,
                                const std::vector<Vec2>& drilled, Stock& stock,
                                const StageProgress& progress) {
  const ToolSurface surface(guided.part, settled.tool, guided.options(settled.values.allowance), decimals);
  const auto strategy = [&](const Site& site, const Progress& share) {
    return settled.values.pattern->cuts(site, share);
  };
  PlannedOperation planned;
  Bounds bounds = settled.bounds();
  bounds.drilled = drilled;
  BoundedCuts bounded = cuts_within(bounds, surface, &stock, settled.values.tolerance_mm, strategy,
                                    detail::stage(progress, "plan " + settled.name));
  planned.area = std::move(bounded.area);
  planned.facts = std::move(bounded.plan.facts);
  planned.notes = std::move(bounded.plan.notes);
  const bool told = std::any_of(planned.notes.begin(), planned.notes.end(),
                                [](const Note& note) { return note.about == "nothing"; });
  if (bounded.plan.empty() && !told)
    planned.notes.push_back({"nothing", "nothing to cut: the tool reaches no place inside the boundary"});
  LinkOptions links = settled.values.links;
  links.keep_out = settled.kept_out();
  links.bottom_z = settled.bottom_z;
  LinkedCuts linked = link_cuts(bounded.plan, surface, std::move(stock), links,
                                detail::stage(progress, "link " + settled.name));
  stock = std::move(linked.stock);
  planned.notes.insert(planned.notes.end(), linked.notes.begin(), linked.notes.end());
  planned.path = std::move(linked.path);
  planned.lengths = measure(planned.path);
  planned.points = std::count_if(planned.path.moves.begin(), planned.path.moves.end(),
                                 [](const Move& move) { return move.kind != MoveKind::rapid; });
  return planned;
}

/// Of the region that an operation follows, how much its tool can touch. Throws Error, before any is planned,
/// where that is next to nothing.
std::vector<std::optional<double>> touchable(const JobSetup& setup, const std::vector<Settled>& operations) {
  constexpr double kTooLittle = 0.1;
  std::vector<std::optional<double>> shares;
  std::string mistakes;
  for (const Settled& settled : operations) {
    shares.emplace_back();
    const GivenArea& area = settled.values.limits.keep_inside;
    if (area.from != GivenArea::From::region || settled.usual.at_levels) continue;
    const auto region = std::find_if(setup.regions.begin(), setup.regions.end(),
                                     [&](const NamedRegion& one) { return one.name == area.name; });
    if (region == setup.regions.end()) continue;
    shares.back() = touchable_share(ToolSurface(setup.part, settled.tool, {}, std::nullopt), region->set);
    if (*shares.back() < kTooLittle)
      mistakes += fmt::format(
          "{}{}: operation \"{}\": its tool can touch {:.1f} % of the region \"{}\"; nothing is planned "
          "below "
          "{:.0f} % (a smaller or longer tool, or another region?)",
          mistakes.empty() ? "" : "\n", setup.job.file.string(), settled.name, 100 * *shares.back(),
          area.name, 100 * kTooLittle);
  }
  if (!mistakes.empty()) throw Error(mistakes);
  return shares;
}

std::vector<PlannedOperation> plan_all(const JobSetup& setup, const std::vector<Settled>& operations,
                                       const StageProgress& progress) {
  std::vector<Guides> guides;
  const std::vector<std::optional<double>> shares = touchable(setup, operations);
  for (const Settled& settled : operations) guides.push_back(settled.values.guides);
  detail::GuidedParts parts(setup, std::move(guides));
  Stock stock = setup.new_stock();
  std::vector<PlannedOperation> planned;
  for (const Settled& settled : operations) {
    const detail::GuidedPart guided =
        parts.next(detail::stage(progress, "index what guides " + settled.name));
    planned.push_back(plan_operation(settled, guided, setup.job.machine.controller.decimals, setup.drilled,
                                     stock, progress));
    if (const std::optional<double> share = shares[planned.size() - 1])
      planned.back().facts.push_back({"touched", number_of(*share, Unit::share),
                                      "of its region, at most, by the tool's shape and length"});
  }
  return planned;
}

}  // namespace

const Settled* settled_of(const std::vector<Settled>& operations, std::int32_t number) {
  for (const Settled& settled : operations)
    if (settled.number == number) return &settled;
  return nullptr;
}

const Move* move_of_line(const RunResult& run, std::int32_t line) {
  if (line < 1 || static_cast<std::size_t>(line) > run.posted.origin.size()) return nullptr;
  const LineOrigin origin = run.posted.origin[static_cast<std::size_t>(line) - 1];
  if (origin.operation < 0 || origin.move < 0) return nullptr;
  return &run.planned[static_cast<std::size_t>(origin.operation)]
              .path.moves[static_cast<std::size_t>(origin.move)];
}

Region area_of(const JobSetup& setup, const std::vector<Settled>& operations, std::int32_t number) {
  if (const Settled* settled = settled_of(operations, number)) return settled->works_in;
  return rectangle(plan(setup.part->box()));
}

namespace {

/// What planning said of operations that have no move.
void say_why(std::vector<Note>& disagreements, const std::vector<Settled>& operations,
             const std::vector<PlannedOperation>& planned) {
  for (Note& note : disagreements)
    for (std::size_t k = 0; k < operations.size() && note.about == "no move"; ++k)
      for (const Note& reason : planned[k].notes)
        if (reason.about == "nothing" && static_cast<double>(operations[k].number) == note.values[0].value[0])
          note.says += ": " + reason.says,
              note.values.insert(note.values.end(), reason.values.begin(), reason.values.end());
}

std::string today() {
  const std::time_t now = std::time(nullptr);
  std::tm here{};
  localtime_r(&now, &here);
  char text[16];
  return {text, std::strftime(text, sizeof text, "%Y-%m-%d", &here)};
}

}  // namespace

RunResult run_job(const Job& job, const StageProgress& progress,
                  const std::function<void(const RunResult&)>& proven) {
  JobSetup setup = load_setup(job, progress);
  std::vector<Settled> operations = settle(setup);
  std::vector<PlannedOperation> planned = plan_all(setup, operations, progress);
  std::vector<OperationPath> paths;
  for (std::size_t i = 0; i < planned.size(); ++i)
    paths.push_back({operations[i].number, operations[i].name, &planned[i].path});
  Controller controller = job.machine.controller;
  if (job.machine.dated) controller.date = today();
  PostedProgram posted = write_program(job.title, paths, controller);
  JudgedProgram judged = judge_program(read_program(posted.text, "program.nc"), setup, operations, progress);
  say_why(judged.disagreements, operations, planned);
  RunResult result{std::move(setup), std::move(operations), std::move(planned), std::move(posted),
                   std::move(judged)};
  if (!to_explain(result.judged, job)) return result;
  if (proven) proven(result);
  explain_left(result.judged, result.setup, result.operations, progress);
  return result;
}

}  // namespace yardpass
