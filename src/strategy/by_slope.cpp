#include "yardpass/strategy/by_slope.h"

#include <algorithm>

#include "strategy/merged_plans.h"
#include "strategy/pattern_keys.h"
#include "yardpass/plan/spacing.h"
#include "yardpass/plan/trim.h"

namespace yardpass {

namespace {

double shallow_stepover(const BySlopeOptions& options) {
  return options.scallop ? options.scallop->stepover_mm : options.shallow.stepover_mm;
}

}  // namespace

void keys_of(BySlopeOptions& options, const Tool& tool, Keys& keys) {
  keys.number(
      "split_angle", options.split.angle_deg, {45, "as many passes either way"},
      {.says = "from level: what is steeper is cut in waterlines, what is less steep in passes over it",
       .usual = "45",
       .unit = Unit::degrees,
       .low = 10,
       .high = 85});
  const Derived least{std::max(3.0, options.split.angle_deg - kSlopeBand), "6 below the split angle"};
  keys.table(
      "steep",
      [&](Keys& inner) { detail::waterline_keys(options.steep, inner, least, "6 below `split_angle`"); },
      {.says = "where the part is steep: keys of waterlines", .usual = "as of waterlines", .always = true});
  keys.table(
      "shallow",
      [&](Keys& inner) { detail::parallel_keys(options.shallow, tool, inner, SpacingHolds::on_surface); },
      {.says = "where the part is shallow: keys of parallel passes",
       .usual = "as of parallel passes",
       .always = true});
  options.scallop.reset();
  ScallopOptions scallop;
  keys.table("scallop", [&](Keys& inner) { detail::scallop_keys(scallop, tool, inner); },
             {.says = "where the part is shallow: keys of scallop passes, instead of straight ones",
              .usual = "straight passes"});
  if (keys.says("scallop")) options.scallop = std::move(scallop);
  keys.refuse_if(keys.says("scallop") && keys.says("shallow"), {"scallop"},
                 "cannot stand beside \"shallow\": the shallow side is cut in straight passes or in scallop "
                 "passes, so only one of the two tables can be said");
  keys.number("split_overlap", options.split.overlap_mm,
              {0.5 * shallow_stepover(options), "half a stepover, which closes the seam"},
              {.says = "how far the two sides reach over each other",
               .usual = "half the stepover of the shallow side",
               .low = 0,
               .high = 100,
               .of_tool = true});
  constexpr std::pair<Steepness, const char*> sides[] = {{Steepness::steep, "steep"},
                                                         {Steepness::shallow, "shallow"}};
  keys.choice("first", options.first, sides, Steepness::steep, "walls before what lies at their foot",
              {.says = "which side is cut first", .usual = "`\"steep\"`"});
}

Usual usual_of(const BySlopeOptions& options, const Tool& tool) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spacing_mm = shallow_stepover(options);
  usual.tells_spacing = false;
  usual.along_walls = true;
  usual.split_deg = options.split.angle_deg;
  usual.spread = Spread::by_slope;
  usual.wall_spacing_mm = usual_of(options.steep, tool).spacing_mm;
  usual.rows_angle_deg = options.shallow.angle_deg;
  if (spaced_by_scallop(tool)) usual.scallop_mm = scallop_height(tool, shallow_stepover(options));
  return usual;
}

namespace {

/// What lies on the edge of the area belongs to walls that stand on it: straight passes do not roll over it.
constexpr double kEdge = 0.002;  // mm

void keep_off_edge(CutPlan& plan, const Site& site) {
  const TouchedCuts touched(site.surface, TouchRule(*site.touched, {}, site.tolerance_mm), site.tolerance_mm);
  replace_cuts(plan, [&](const Cut& cut) { return touched.of(cut).cuts; });
}

}  // namespace

CutPlan cuts_of(const BySlopeOptions& options, const Site& site, const Progress& progress) {
  if (site.area.empty()) return {};
  const SlopeAreas areas = slope_areas(site.surface, site.area, options.split, part_of(progress, 0, 0.1));
  const Region inner = site.touched ? offset(*site.touched, -kEdge) : Region{};
  const auto side = [&](Steepness which, const Progress& share) {
    const Region& area = areas.of(which);
    if (area.empty()) return CutPlan{};
    Site part{site.surface, area, site.before, site.tolerance_mm, site.top_z, site.bottom_z, site.drilled};
    part.touched = site.touched;
    if (which == Steepness::steep) return detail::without_nothing(cuts_of(options.steep, part, share));
    if (site.touched) part.touched = &inner;
    CutPlan plan = detail::without_nothing(options.scallop ? cuts_of(*options.scallop, part, share)
                                                           : cuts_of(options.shallow, part, share));
    if (part.touched) keep_off_edge(plan, part);
    return plan;
  };
  const bool steep_first = options.first == Steepness::steep;
  CutPlan plan = detail::order_by_after(
      side(steep_first ? Steepness::steep : Steepness::shallow, part_of(progress, 0.1, 0.55)));
  detail::append_plan(plan, detail::order_by_after(side(steep_first ? Steepness::shallow : Steepness::steep,
                                                        part_of(progress, 0.55, 1))));
  std::vector<SettledValue> facts{
      {"steep areas", count_of(areas.steep_pieces), "in waterlines"},
      {"steep", number_of(areas.steep_mm2, Unit::mm2), "in plan"},
      {"shallow areas", count_of(areas.shallow_pieces),
       options.scallop ? "in scallop passes" : "in straight passes"},
      {"shallow", number_of(areas.shallow_mm2, Unit::mm2), "in plan"},
      {"steepest shallow", number_of(areas.steepest_shallow_deg, Unit::degrees), "on all but 1 % of it"}};
  plan.facts.insert(plan.facts.begin(), facts.begin(), facts.end());
  return plan;
}

}  // namespace yardpass
