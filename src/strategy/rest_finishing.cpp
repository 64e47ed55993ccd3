#include "yardpass/strategy/rest_finishing.h"

#include <algorithm>
#include <cmath>

#include "plan/upright_walls.h"
#include "strategy/merged_plans.h"
#include "strategy/pattern_keys.h"
#include "yardpass/geom/text.h"
#include "yardpass/plan/slope_areas.h"
#include "yardpass/plan/spacing.h"
#include "yardpass/plan/valleys.h"
#include "yardpass/strategy/scallop.h"
#include "yardpass/strategy/square_to_curve.h"
#include "yardpass/strategy/waterline.h"

namespace yardpass {

void keys_of(RestFinishingOptions& options, const Tool& tool, Keys& keys) {
  keys.tool("reference", options.reference,
            {.says = "the larger tool that finished before; where it cannot have been is cut",
             .usual = "none: the material before says where"});
  if (options.reference.tool) {
    const double before = options.reference.tool->diameter_mm;
    keys.refuse_if(before <= tool.diameter_mm && !(smallest_corner(profile_of(*options.reference.tool)) >
                                                   smallest_corner(profile_of(completed(tool)))),
                   {"reference"},
                   "is no larger than the tool of the operation: " + short_number(before) + " and " +
                       short_number(tool.diameter_mm) + " mm");
  }
  std::vector<std::string> further;
  keys.names(
      "then_with", further, Named::tools,
      {.says = "tools, ever smaller, that go on in operations of their own: each cuts what the one before it "
               "left",
       .usual = "none"});
  const bool by_tool = options.reference.given();
  keys.number("threshold", options.threshold_mm,
              {by_tool ? 0.02 : 0.05, by_tool ? "0.02 mm" : "0.05 mm: material is seen in cells"},
              {.says = "where no more than this is left nothing is cut",
               .usual = "0.02 by a reference tool, 0.05 by the material",
               .low = 0.001,
               .high = 100});
  const bool asked = detail::stepover_keys(options.stepover_mm, tool, keys,
                                           "from each pass to the next, in space, not in plan");
  options.measure = asked ? FrontMeasure::scallop : FrontMeasure::tip;
  keys.number("overlap", options.overlap_mm, {2 * options.stepover_mm, "two stepovers"},
              {.says = "how far passes reach beyond, over what is finished",
               .usual = "two stepovers",
               .low = 0,
               .high = 1000,
               .of_tool = true});
  constexpr std::pair<RestPattern, const char*> patterns[] = {{RestPattern::rings, "rings"},
                                                              {RestPattern::along, "along"},
                                                              {RestPattern::across, "across"},
                                                              {RestPattern::by_slope, "by-slope"}};
  keys.choice(
      "pattern", options.pattern, patterns, RestPattern::rings, "the same width everywhere",
      {.says = "from the outline of each area inwards; beside the corner in it; square to the corner; or "
               "beside it where it is steep and square to it where it is shallow",
       .usual = "`\"rings\"`"});
  keys.number(
      "split_angle", options.split_deg, {45, "as many passes either way"},
      {.says = "from level, for `by-slope`", .usual = "45", .unit = Unit::degrees, .low = 10, .high = 85});
  keys.idle_if(options.pattern != RestPattern::by_slope, "split_angle",
               "the pattern is the same at all slopes");
  keys.flag(
      "walls", options.walls, true,
      {.says = "upright walls beside what is left, of which nothing is seen from above, get level passes",
       .usual = "`true`"});
}

Usual usual_of(const RestFinishingOptions& options, const Tool& tool) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spacing_mm = options.stepover_mm;
  usual.spread = Spread::in_corners;
  usual.tells_spacing = false;
  if (leaves_scallops(tool)) usual.scallop_mm = scallop_height(tool, options.stepover_mm);
  return usual;
}

namespace {

class RestFinisher {
 public:
  RestFinisher(const RestFinishingOptions& options, const Site& site)
      : options_(options), site_(site), smaller_(site.surface.cutter_alone()) {
    if (options.reference.tool)
      reference_.emplace(site.surface.shared_part(), profile_of(*options.reference.tool),
                         TipSurfaceOptions{.allowance_mm = std::max(0.0, site.surface.allowance_mm())});
  }

  CutPlan plan(const Progress& progress) {
    const RestAreas rest = areas(part_of(progress, 0, 0.3));
    CutPlan plan;
    if (!rest.area.empty()) {
      corners_ = find_corners(rest.area, part_of(progress, 0.3, 0.4));
      if (options_.walls) {
        constexpr double kLeast = 0.3;  // mm: lower steps are cut from above
        const Region walls =
            detail::upright_walls(smaller_, rest.area, 0.125 * smaller_.cutter().radius(), kLeast);
        if (!walls.empty())
          plan = detail::order_by_after(detail::without_nothing(
              wall_passes(intersect(walls, site_.area), part_of(progress, 0.4, 0.6))));
      }
      add_over(plan, rest.area, part_of(progress, 0.6, 1));
    }
    plan.seam = rest.area;
    tell(rest, plan);
    return plan;
  }

 private:
  [[nodiscard]] RestAreas areas(const Progress& progress) const {
    const RestOptions options{options_.threshold_mm, options_.overlap_mm, 0};
    if (reference_) {
      // Of what the tool leaves on purpose nothing is left by the reference.
      const double kept = std::max(0.0, site_.surface.allowance_mm());
      RestOptions more = options;
      more.threshold_mm += kept;
      return rest_areas(*reference_, smaller_, site_.area, more, progress);
    }
    if (site_.before) return rest_areas(*site_.before, smaller_, site_.area, options, progress);
    throw Error("rest finishing needs a \"reference\" tool, or material that is left before");
  }

  /// Lines that run through the corners, seen from above.
  [[nodiscard]] std::vector<Curve> find_corners(const Region& area, const Progress& progress) const {
    if (options_.pattern == RestPattern::rings) return {};
    const TipSurface& by = reference_ ? *reference_ : smaller_;
    if (!(round_end_mm(by.cutter()) > 0)) return {};
    ValleyOptions options;
    options.left_mm = options_.threshold_mm;
    options.shortest_mm = 0.5 * by.cutter().radius();
    std::vector<Curve> curves;
    for (const Valley& valley : valleys(by, offset(area, by.cutter().radius()), options, progress).lines) {
      Curve curve{{}, valley.closed, "corner"};
      for (const Vec2& p : valley.line) curve.points.push_back(with_z(p, 0));
      curves.push_back(std::move(curve));
    }
    return curves;
  }

  [[nodiscard]] Site within(const Region& area) const {
    Site part{site_.surface, area,           site_.before, site_.tolerance_mm,
              site_.top_z,   site_.bottom_z, site_.drilled};
    part.touched = site_.touched;
    return part;
  }
  [[nodiscard]] CutPlan wall_passes(const Region& area, const Progress& progress) const {
    WaterlineOptions options;
    options.stepdown_mm = options_.stepover_mm;
    options.direction = LoopDirection::zigzag;
    return cuts_of(options, within(area), progress);
  }
  /// Equally far apart on the surface, from curves or, without any, from the outline.
  [[nodiscard]] CutPlan fronts(const Region& area, const std::vector<Curve>& start,
                               const Progress& progress) const {
    ScallopOptions options;
    options.stepover_mm = options_.stepover_mm;
    options.measure = options_.measure;
    options.start.curves = start;
    return cuts_of(options, within(area), progress);
  }
  [[nodiscard]] CutPlan across(const Region& area, const Progress& progress) const {
    SquareOptions options;
    options.curves.curves = corners_;
    options.stepover_mm = options_.stepover_mm;
    const double reach =
        4 * (reference_ ? reference_->cutter().radius() : smaller_.cutter().radius()) + options_.overlap_mm;
    options.left_mm = options.right_mm = reach;
    return cuts_of(options, within(area), progress);
  }

  void add_over(CutPlan& plan, const Region& area, const Progress& progress) const {
    const auto add = [&](CutPlan more) {
      if (plan.groups.empty()) {
        more.seam = plan.seam;
        plan = detail::order_by_after(detail::without_nothing(std::move(more)));
      } else {
        detail::append_plan(plan, detail::order_by_after(detail::without_nothing(std::move(more))));
      }
    };
    if (area.empty()) return;
    if (options_.pattern != RestPattern::rings && corners_.empty())
      plan.notes.push_back({"corners", "no corner runs through what is left: areas are cut in rings"});
    if (options_.pattern == RestPattern::rings || corners_.empty()) return add(fronts(area, {}, progress));
    if (options_.pattern == RestPattern::along) return add(fronts(area, corners_, progress));
    if (options_.pattern == RestPattern::across) return add(across(area, progress));
    const SlopeAreas areas = slope_areas(smaller_, area, {options_.split_deg, options_.stepover_mm});
    if (!areas.steep.empty()) add(fronts(areas.steep, corners_, part_of(progress, 0, 0.5)));
    if (!areas.shallow.empty()) add(across(areas.shallow, part_of(progress, 0.5, 1)));
  }

  void tell(const RestAreas& rest, CutPlan& plan) const {
    std::vector<SettledValue> facts{
        {"rest areas", count_of(rest.pieces),
         reference_ ? "that the reference tool cannot have reached" : "of material before"},
        {"rest areas, size", number_of(rest.bare.area_mm2(), Unit::mm2), "in plan, without the overlap"}};
    if (rest.pieces > 0) {
      facts.push_back({"left, most", length_of(rest.thickest_mm), "on the part where the tool touches it"});
      facts.push_back({"most at", place_at(rest.thickest_at.x(), rest.thickest_at.y(), rest.thickest_at.z()),
                       "of the tip"});
    }
    plan.facts.insert(plan.facts.begin(), facts.begin(), facts.end());
    if (rest.scraps > 0)
      plan.notes.push_back({"scraps",
                            "{} rest areas are left out: they are hardly wider than a pass",
                            {count_of(rest.scraps)}});
    if (rest.area.empty())
      plan.notes.push_back(
          {"nothing", "nothing to cut: nowhere is more than {} left", {length_of(options_.threshold_mm)}});
  }

  const RestFinishingOptions& options_;
  const Site& site_;
  TipSurface smaller_;
  std::optional<TipSurface> reference_;
  std::vector<Curve> corners_;
};

}  // namespace

CutPlan cuts_of(const RestFinishingOptions& options, const Site& site, const Progress& progress) {
  require(options.threshold_mm > 0, "threshold_mm", "must be above 0");
  require(options.overlap_mm >= 0, "overlap_mm", "must not be negative");
  require(options.stepover_mm > 0, "stepover_mm", "must be above 0");
  if (site.area.empty()) return {};
  return RestFinisher(options, site).plan(progress);
}

}  // namespace yardpass
