#include "run/plan_operation.h"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "run/eased_feed.h"
#include "run/layer_name.h"
#include "setup/stage.h"
#include "yardpass/geom/rounding.h"
#include "yardpass/link/smooth.h"
#include "yardpass/part/outlines.h"
#include "yardpass/path/motion.h"
#include "yardpass/plan/material_met.h"
#include "yardpass/plan/seams.h"
#include "yardpass/plan/spacing.h"

namespace yardpass::detail {

namespace {

/// What is planned goes on from where the path ends.
void append(Toolpath& path, Toolpath more) {
  if (path.moves.empty() && path.cuts.empty()) {
    path = std::move(more);
    return;
  }
  const auto cuts = static_cast<std::int32_t>(path.cuts.size()),
             arcs = static_cast<std::int32_t>(path.arcs.size());
  if (!more.moves.empty()) path.moves.push_back({more.start, MoveKind::rapid, 0, -1});
  for (Move& move : more.moves) {
    if (move.cut >= 0) move.cut += cuts;
    if (move.arc >= 0) move.arc += arcs;
    path.moves.push_back(move);
  }
  path.cuts.insert(path.cuts.end(), more.cuts.begin(), more.cuts.end());
  path.arcs.insert(path.arcs.end(), more.arcs.begin(), more.arcs.end());
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

/// Before and after smoothing.
void tell(const MotionStatistics& before, const MotionStatistics& after, std::int64_t kept_runs,
          std::vector<SettledValue>& facts) {
  const auto pair = [&](const std::string& key, const Quantity& is, const Quantity& was, const char* what) {
    facts.push_back({key, is, what});
    facts.push_back({key + ", before", was, "without smoothing"});
  };
  const auto degrees = [](double deg) { return number_of(deg, Unit::degrees); };
  pair("blocks", count_of(after.blocks), count_of(before.blocks), "of its cuts");
  facts.push_back({"arcs", count_of(after.arcs), "among them"});
  pair("block, shortest", length_of(after.shortest_mm), length_of(before.shortest_mm), "of its cuts");
  pair("block, half", length_of(after.half_mm), length_of(before.half_mm), "half of them are shorter");
  pair("turn, half", degrees(after.turn_half_deg), degrees(before.turn_half_deg),
       "where two blocks meet, on half of the length");
  pair("turn, most", degrees(after.turn_most_deg), degrees(before.turn_most_deg), "on 95 % of the length");
  pair("turn, greatest", degrees(after.turn_greatest_deg), degrees(before.turn_greatest_deg), "anywhere");
  if (kept_runs > 0)
    facts.push_back({"not smoothed", count_of(kept_runs), "stretches of cuts, for want of a proof"});
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
  Planner(const Settled& settled, const GuidedPart& guided, const Controller& controller,
          const std::vector<Vec2>& drilled)
      : settled_(settled), guided_(guided), controller_(controller), bounds_(settled.bounds()) {
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
      const double reserve = rounding_reserve(controller_),
                   of_floors = std::min(options.floor_extra_mm, reserve);
      options.floor_extra_mm -= of_floors;
      options.wall_extra_mm += reserve - of_floors;
      options.allowance_mm -= reserve - of_floors;
    }
    const ToolSurface surface(guided_.part, settled_.tool, options, posted_form(controller_).step_mm);
    const auto strategy = [&](const Site& site, const Progress& share) {
      return settled_.values.pattern->cuts(site, share);
    };
    BoundedCuts bounded = cuts_within(bounds_, surface, seen ? seen : &stock, settled_.values.tolerance_mm,
                                      strategy, stage(progress, "plan " + named));
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
        link_cuts(bounded.plan, surface, std::move(stock), links_, stage(progress, "link " + named));
    stock = std::move(linked.stock);
    if (before)
      bounded.plan.facts.push_back(
          {"eased", length_of(ease_feed(linked.path, std::move(*before))), "of cuts, at a lower feed"});
    if (settled_.values.smooth && !linked.path.moves.empty())
      smooth_path(linked.path, allowance, bounded.plan.facts, stage(progress, "smooth " + named));
    planned_.area = std::move(bounded.area);
    planned_.facts = std::move(bounded.plan.facts);
    if (!linked.path.moves.empty()) tell(linked.counts, planned_.facts);
    planned_.links.add(linked.counts);
    planned_.notes = std::move(bounded.plan.notes);
    planned_.left_alone = std::move(bounded.plan.left_alone);
    const bool told = std::any_of(planned_.notes.begin(), planned_.notes.end(),
                                  [](const Note& note) { return note.about == "nothing"; });
    if (bounded.plan.empty() && !told)
      planned_.notes.push_back({"nothing", "nothing to cut: the tool reaches no place inside the boundary"});
    planned_.notes.insert(planned_.notes.end(), linked.notes.begin(), linked.notes.end());
    append(planned_.path, std::move(linked.path));
  }

  /// Facts and notes are those of the last layer.
  PlannedOperation take() {
    planned_.measure();
    return std::move(planned_);
  }

 private:
  /// The same cuts in fewer blocks, and what that changed.
  void smooth_path(Toolpath& path, const Allowance& allowance, std::vector<SettledValue>& facts,
                   const Progress& progress) const {
    const ToolSurface exact(guided_.part, settled_.tool, guided_.options(allowance), std::nullopt);
    SmoothOptions options;
    options.tolerance_mm = settled_.values.smooth_within_mm;
    options.posted = posted_form(controller_);
    options.planes = controller_.arc_planes;
    options.keep_out = links_.keep_out;
    options.bottom_z = links_.bottom_z;
    options.steepest_deg = links_.plunge_slope_deg;
    const MotionStatistics before = motion_of(path);
    SmoothedPath smoothed = smooth(path, exact, options, progress);
    path = std::move(smoothed.path);
    tell(before, motion_of(path), smoothed.kept_runs, facts);
  }

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
  const GuidedPart& guided_;
  const Controller& controller_;
  Bounds bounds_;
  LinkOptions links_;
  PlannedOperation planned_;
};

}  // namespace

PlannedOperation plan_operation(const Settled& settled, const GuidedPart& guided,
                                const Controller& controller, const std::vector<Vec2>& drilled, Stock stock,
                                const Stock* seen, const StageProgress& progress) {
  Planner planner(settled, guided, controller, drilled);
  const OperationValues& values = settled.values;
  try {
    for (int layer = values.layers; layer > 0; --layer)
      planner.layer(layer == 1 ? values.allowance : values.allowance.more_by((layer - 1) * values.layer_mm),
                    stock, seen, progress, layer_name(settled, layer));
  } catch (const Error& error) {
    throw Error(fmt::format("operation {} \"{}\": {}", settled.number, settled.name, error.what()));
  }
  return planner.take();
}

}  // namespace yardpass::detail
