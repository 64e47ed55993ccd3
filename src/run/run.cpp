#include "yardpass/run/run.h"

#include <algorithm>
#include <cmath>
#include <ctime>

#include <fmt/format.h>

#include "run/eased_feed.h"
#include "run/rest_stock.h"
#include "setup/guided_parts.h"
#include "setup/stage.h"
#include "yardpass/geom/rounding.h"
#include "yardpass/part/outlines.h"
#include "yardpass/plan/material_met.h"
#include "yardpass/plan/seams.h"
#include "yardpass/plan/spacing.h"
#include "yardpass/run/curve_roles.h"
#include "yardpass/survey/touchable.h"

namespace yardpass {

namespace {

/// What is planned goes on from where the path ends.
void append(Toolpath& path, Toolpath more) {
  if (path.moves.empty() && path.cuts.empty()) {
    path = std::move(more);
    return;
  }
  const auto cuts = static_cast<std::int32_t>(path.cuts.size());
  if (!more.moves.empty()) path.moves.push_back({more.start, MoveKind::rapid, 0, -1});
  for (Move& move : more.moves) {
    if (move.cut >= 0) move.cut += cuts;
    path.moves.push_back(move);
  }
  path.cuts.insert(path.cuts.end(), more.cuts.begin(), more.cuts.end());
}

void tell(const MaterialMet& met, std::vector<SettledValue>& facts) {
  facts.push_back(
      {"thickness, half", length_of(met.half_mm), "of the material in its way, on half of its length"});
  facts.push_back({"thickness, most", length_of(met.most_mm), "on 95 % of its length"});
  facts.push_back({"thickness, greatest", length_of(met.greatest_mm), "anywhere along it"});
  facts.push_back({"thickest at", place_at(met.at.x(), met.at.y(), met.at.z()), ""});
  facts.push_back({"at size", number_of(met.share_at_size, Unit::share),
                   "of its length, over what was finished within the tolerance"});
}

void tell(const TrueSpacing& spacing, const Tool& tool, std::vector<SettledValue>& facts) {
  if (spacing.places.empty()) return;
  facts.push_back({"spacing, half", length_of(spacing.half_mm),
                   "from pass to pass on the surface, on half of the length"});
  facts.push_back({"spacing, most", length_of(spacing.most_mm), "on 95 % of the length"});
  facts.push_back({"spacing, widest", length_of(spacing.greatest_mm), "anywhere"});
  facts.push_back({"widest at", place_at(spacing.at.x(), spacing.at.y(), spacing.at.z()), ""});
  facts.push_back({"wider than asked", number_of(spacing.share_above, Unit::share), "of the length"});
  if (!leaves_scallops(tool)) return;
  facts.push_back({"ridges, half", length_of(scallop_height(tool, spacing.half_mm)),
                   "with slopes across the passes, on half of the length"});
  facts.push_back(
      {"ridges, most", length_of(scallop_height(tool, spacing.most_mm)), "on 95 % of the length"});
}

double tenths(double seconds) { return std::round(10 * seconds) / 10; }

void tell(const LinkCounts& links, std::vector<SettledValue>& facts) {
  facts.push_back({"links", count_of(links.stay_down), "from cut to cut staying down"});
  facts.push_back({"hops", count_of(links.hops), "smoothly over what is in between"});
  facts.push_back({"lifts", count_of(links.lifts), "at rapid, just high enough"});
  facts.push_back({"retracts", count_of(links.planes), "to the clearance plane, between cuts"});
  if (links.leads_wanted > 0)
    facts.push_back(
        {"leads",
         number_of(static_cast<double>(links.leads) / static_cast<double>(links.leads_wanted), Unit::share),
         "of ways in and out have one that fits"});
  facts.push_back(
      {"between cuts", number_of(tenths(links.between_s), Unit::seconds), "in the air and in links, about"});
  facts.push_back({"by the plane", number_of(tenths(links.plain_between_s), Unit::seconds),
                   "it would take in the strategy's own order, with a retract every time, about"});
}

/// What would suit the surface better than straight passes at an angle; nothing where they fit.
void hint_at(const PatternHint& hint, std::vector<Note>& notes) {
  using Better = PatternHint::Better;
  if (hint.better == Better::none) return;
  if (hint.better == Better::flats) {
    notes.push_back(
        {"pattern", "all of it is level: strategy \"flats\" finishes it at its exact height, off the walls"});
    return;
  }
  Note note{"pattern",
            "on {} of the surface passes lie over a quarter farther apart than in plan",
            {number_of(hint.share_above, Unit::share)}};
  if (hint.better == Better::other_angle) {
    note.says += "; at an angle of {} on {}";
    note.values.push_back(number_of(hint.angle_deg, Unit::degrees));
    note.values.push_back(number_of(hint.share_better, Unit::share));
  } else {
    note.says += hint.better == Better::waterline
                     ? ", at any angle: it is steep, waterlines would suit better"
                     : ", at any angle: passes at equal distance on the surface (scallop) would suit better";
  }
  const bool here = hint.better == Better::other_angle ||
                    strategy_named(hint.better == Better::waterline ? "waterline" : "scallop");
  if (!here) note.says += "; there is no such strategy here yet";
  notes.push_back(std::move(note));
}

/// One layer of an operation: its cuts with an allowance, linked in the stock as it is.
class Planner {
 public:
  Planner(const Settled& settled, const detail::GuidedPart& guided, int decimals,
          const std::vector<Vec2>& drilled)
      : settled_(settled), guided_(guided), decimals_(decimals), bounds_(settled.bounds()) {
    bounds_.drilled = drilled;
    links_ = settled.values.links;
    links_.keep_out = settled.kept_out();
    links_.bottom_z = settled.bottom_z;
  }

  /// `seen`: the same material in finer cells, if that is needed.
  void layer(const Allowance& allowance, Stock& stock, const Stock* seen, const StageProgress& progress,
             const std::string& named) {
    TipSurfaceOptions options = guided_.options(allowance);
    if (settled_.usual.exact_floors) {
      const double reserve = rounding_reserve(decimals_),
                   of_floors = std::min(options.floor_extra_mm, reserve);
      options.floor_extra_mm -= of_floors;
      options.wall_extra_mm += reserve - of_floors;
      options.allowance_mm -= reserve - of_floors;
    }
    const ToolSurface surface(guided_.part, settled_.tool, options, decimals_);
    const auto strategy = [&](const Site& site, const Progress& share) {
      return settled_.values.pattern->cuts(site, share);
    };
    BoundedCuts bounded = cuts_within(bounds_, surface, seen ? seen : &stock, settled_.values.tolerance_mm,
                                      strategy, detail::stage(progress, "plan " + named));
    heed_obstacles(surface, bounded.plan);
    blend_seam(surface, stock, bounded);
    if (settled_.usual.repeats && !settled_.usual.sinks && !bounded.plan.empty())
      tell(material_met(bounded.plan, stock, surface.cutter(), settled_.values.tolerance_mm),
           bounded.plan.facts);
    const double spacing =
        settled_.usual.at_levels || !settled_.usual.tells_spacing ? 0 : settled_.usual.spacing_mm;
    planned_.spacing = spacing > 0 ? true_spacing(bounded.plan, spacing) : TrueSpacing{};
    tell(planned_.spacing, settled_.tool, bounded.plan.facts);
    // Where it only takes what another one left, that one decides the pattern.
    if (const auto angle = settled_.usual.angle_deg; angle && !settled_.values.limits.only_where_left_mm)
      hint_at(pattern_hint(bounded.plan, surface, *angle, spacing), bounded.plan.notes);
    std::optional<Stock> before;
    if (settled_.values.ease_feed) before = stock;
    LinkedCuts linked =
        link_cuts(bounded.plan, surface, std::move(stock), links_, detail::stage(progress, "link " + named));
    stock = std::move(linked.stock);
    if (before)
      bounded.plan.facts.push_back({"eased", length_of(detail::ease_feed(linked.path, std::move(*before))),
                                    "of cuts, at a lower feed"});
    planned_.area = std::move(bounded.area);
    planned_.facts = std::move(bounded.plan.facts);
    if (!linked.path.moves.empty()) tell(linked.counts, planned_.facts);
    planned_.links.add(linked.counts);
    planned_.notes = std::move(bounded.plan.notes);
    const bool told = std::any_of(planned_.notes.begin(), planned_.notes.end(),
                                  [](const Note& note) { return note.about == "nothing"; });
    if (bounded.plan.empty() && !told)
      planned_.notes.push_back({"nothing", "nothing to cut: the tool reaches no place inside the boundary"});
    planned_.notes.insert(planned_.notes.end(), linked.notes.begin(), linked.notes.end());
    append(planned_.path, std::move(linked.path));
  }

  /// Facts and notes are those of the last layer.
  PlannedOperation take() {
    planned_.lengths = measure(planned_.path);
    planned_.points = std::count_if(planned_.path.moves.begin(), planned_.path.moves.end(),
                                    [](const Move& move) { return move.kind != MoveKind::rapid; });
    return std::move(planned_);
  }

 private:
  /// What clears levels keeps off them anyway.
  void heed_obstacles(const ToolSurface& surface, CutPlan& plan) const {
    if (settled_.usual.at_levels) return;
    Obstacles obstacles = settled_.values.obstacles;
    obstacles.guards = guided_.guards;
    heed(obstacles, surface, settled_.values.tolerance_mm, plan);
  }

  /// Where it ends within what others finished, passes rise as asked, and the step that stays is told.
  void blend_seam(const ToolSurface& surface, const Stock& stock, BoundedCuts& bounded) const {
    if (settled_.usual.at_levels || settled_.usual.sinks || bounded.plan.empty()) return;
    const SteepnessLimits& sides = settled_.values.limits.steepness;
    const bool by_slope = sides.steep_from_deg || sides.shallow_to_deg;
    const bool drawn = settled_.drawn && settled_.values.limits.rule.by != LimitBy::contact;
    if (!bounded.plan.seam && !by_slope && !drawn) return;
    const double radius = 0.5 * settled_.tool.diameter_mm;
    const std::vector<Polyline2> seam = seam_lines(bounded.plan.seam ? *bounded.plan.seam : bounded.area,
                                                   silhouette(guided_.part->mesh()), radius);
    const Feather& feather = settled_.values.feather;
    yardpass::feather(bounded.plan, seam, feather);
    const double leaves = std::max(0.0, surface.allowance_mm()) + feather.height_mm;
    const TipSurface cutter(surface.shared_part(), surface.cutter());
    const SeamStep step = seam_step(seam, cutter, stock, leaves);
    if (step.places == 0) return;
    std::vector<SettledValue>& facts = bounded.plan.facts;
    facts.push_back(
        {"step, half", length_of(step.half_mm), "predicted at the seam with what was finished before"});
    facts.push_back({"step, most", length_of(step.most_mm), "on 95 % of the seam"});
    facts.push_back({"step, greatest", length_of(step.greatest_mm), "anywhere"});
    if (step.greatest_mm > 0)
      facts.push_back({"step at", place_at(step.at.x(), step.at.y(), step.at.z()), ""});
  }

  const Settled& settled_;
  const detail::GuidedPart& guided_;
  int decimals_;
  Bounds bounds_;
  LinkOptions links_;
  PlannedOperation planned_;
};

PlannedOperation plan_operation(const Settled& settled, const detail::GuidedPart& guided, int decimals,
                                const std::vector<Vec2>& drilled, Stock& stock, const Stock* seen,
                                const StageProgress& progress) {
  Planner planner(settled, guided, decimals, drilled);
  const OperationValues& values = settled.values;
  try {
    for (int layer = values.layers; layer > 0; --layer)
      planner.layer(layer == 1 ? values.allowance : values.allowance.more_by((layer - 1) * values.layer_mm),
                    stock, seen, progress,
                    values.layers == 1 ? settled.name
                                       : fmt::format("{}, layer {} of {}", settled.name,
                                                     values.layers + 1 - layer, values.layers));
  } catch (const Error& error) {
    throw Error(fmt::format("operation {} \"{}\": {}", settled.number, settled.name, error.what()));
  }
  return planner.take();
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
    std::optional<Stock> seen;
    if (settled.usual.at_levels) seen = detail::stock_for(settled.tool, *setup.stock, stock, planned);
    planned.push_back(plan_operation(settled, guided, setup.job.machine.controller.decimals, setup.drilled,
                                     stock, seen ? &*seen : nullptr, progress));
    if (seen)
      planned.back().facts.push_back({"seen in cells", length_of(seen->cell_mm()),
                                      "what stands: of a 45th of the tool's radius, if not too many"});
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

/// No machine of today carries that out; most likely a number is in another unit than it was meant.
void refuse_what_is_absurd(const JobSetup& setup, const std::vector<Settled>& operations,
                           const Estimate& foretold) {
  const std::vector<std::string> words =
      above(foretold, {.seconds = 14 * 24 * 3600.0, .bytes = 64e9, .points = 1e9});
  if (words.empty() || operations.empty()) return;
  std::size_t worst = 0;
  for (std::size_t i = 0; i < operations.size(); ++i)
    if (foretold.operations[i].points > foretold.operations[worst].points) worst = i;
  const Settled& settled = operations[worst];
  throw Error(
      fmt::format("{}: {}; nothing is planned. Most of it is operation {} \"{}\": {:.3g} passes, {:.3g} "
                  "points; is its spacing "
                  "of {:g} mm right, its tool's diameter of {:g} mm, the part's unit?",
                  setup.job.file.string(), fmt::join(words, ", "), settled.number, settled.name,
                  foretold.operations[worst].passes, foretold.operations[worst].points,
                  settled.usual.spacing_mm, settled.tool.diameter_mm));
}

std::string today() {
  const std::time_t now = std::time(nullptr);
  std::tm here{};
  localtime_r(&now, &here);
  char text[16];
  return {text, std::strftime(text, sizeof text, "%Y-%m-%d", &here)};
}

}  // namespace

RunResult run_job(const Job& job, const StageProgress& progress) {
  return run_job(job, RunSteps{.progress = progress});
}

RunResult run_job(const Job& job, const RunSteps& steps) {
  const StageProgress& progress = steps.progress;
  JobSetup setup = load_setup(job, progress);
  std::vector<Settled> operations = settle(setup);
  (void)curve_roles(setup, operations);  // refuses curves that do not go together before any is planned
  const Estimate foretold = estimate(setup, operations, detail::stage(progress, "estimate the work"));
  refuse_what_is_absurd(setup, operations, foretold);
  if (steps.foretold) steps.foretold(foretold);
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
  if (steps.proven) steps.proven(result);
  explain_left(result.judged, result.setup, result.operations, progress);
  return result;
}

}  // namespace yardpass
