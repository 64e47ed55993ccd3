#include "yardpass/job/operation.h"

#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

void keys_of(Guides& guides, Keys& keys) {
  keys.names("lids", guides.lids, Named::lids,
             {.says = "lids that it runs straight over, a name or a list of names", .usual = "none"});
  keys.names("run_outs", guides.run_outs, Named::run_outs,
             {.says = "run-outs whose edges it runs on over, a name or a list", .usual = "none"});
  keys.names("carriers", guides.carriers, Named::carriers,
             {.says = "surfaces that carry it as the part does, a name or a list", .usual = "none"});
  keys.names(
      "keep_away", guides.keep_away, Named::keep_away,
      {.says = "regions that it keeps away from, besides the meshes that all operations keep away from",
       .usual = "none"});
}

/// Cutting into the part has limits: none where levels are cleared, else what the cutter's corners allow.
void refuse_deep_overcuts(const Allowance& allowance, const Usual& usual, const Tool& tool, Keys& keys) {
  const double least = allowance.least_mm();
  if (least >= 0) return;
  keys.refuse_if(usual.at_levels, {"allowance", "wall_allowance", "floor_allowance"},
                 "is " + short_number(least) +
                     ", but must be at least 0 mm: what clears levels does not cut into the part");
  keys.refuse_if(usual.sinks, {"allowance", "wall_allowance", "floor_allowance"},
                 "is " + short_number(least) +
                     ", but must be at least 0 mm: how deep it goes is said by its depth alone");
  keys.refuse_if(!usual.at_levels && !usual.sinks && -least > smallest_corner(profile_of(tool)),
                 {"allowance", "wall_allowance", "floor_allowance"},
                 "is " + short_number(least) + ", an overcut deeper than the corners of the cutter allow");
}

void layer_keys(OperationValues& operation, const Usual& usual, const Tool& tool, Keys& keys) {
  keys.whole(
      "layers", operation.layers, 1,
      {.says = "it is repeated so often, in layers of falling allowance; the last leaves the allowance",
       .usual = "1",
       .unit = Unit::none,
       .low = 1,
       .high = 100});
  keys.number("layer", operation.layer_mm, {0.05 * tool.diameter_mm, "0.05 of the tool's diameter"},
              {.says = "how much less each layer leaves than the one before",
               .usual = "0.05 of the diameter",
               .low = 0,
               .high = 100,
               .above_low = true,
               .of_tool = true});
  keys.idle_if(!usual.repeats, "layers", "what clears level by level has them anyway");
  keys.idle_if(!usual.repeats || operation.layers == 1, "layer", "there is one layer");
  if (!usual.repeats) operation.layers = 1;
}

}  // namespace

void keys_of(OperationValues& operation, const Tool& tool, Keys& keys) {
  keys_of(operation.limits, operation.pattern->usual(tool).at_levels, keys);
  keys_of(operation.guides, keys);
  operation.pattern->keys(tool, keys);
  const Usual usual = operation.pattern->usual(tool);
  keys_of(operation.allowance, usual.allowance_mm, keys);
  operation.guides.own_allowance.clear();
  for (const Allowance::OfRegion& one : operation.allowance.where)
    operation.guides.own_allowance.push_back(one.region);
  refuse_deep_overcuts(operation.allowance, usual, tool, keys);
  layer_keys(operation, usual, tool, keys);
  keys.number("tolerance", operation.tolerance_mm, usual.tolerance_mm,
              {.says = "how far the path may lie above the ideal one",
               .usual = "roughing: a sixth of the allowance; finishing: 0.01",
               .low = 0.0005,
               .high = 10,
               .coarsened = Coarsened::tolerance});
  keys_of(operation.feather, usual, keys);
  keys_of(operation.obstacles, keys);
  for (const char* key : {"shank_in_the_way", "holder_in_the_way", "rejoin"})
    keys.idle_if(usual.at_levels, key, "levels keep off all that is in the way");
  keys_of(operation.links, usual, tool, keys);
  operation.links.ramp_angle_deg = usual.ramp_angle_deg;
  operation.links.ways = usual.ways;
  operation.links.tolerance_mm = operation.tolerance_mm;
  keys.flag("ease_feed", operation.ease_feed, false,
            {.says = "cuts run slower where more of the cutter meets material than the tool's "
                     "`widest_engagement`, so that they take no more in a minute than at that limit",
             .usual = "false"});
  keys.refuse_if(operation.ease_feed && !(tool.widest_engagement_deg > 0), {"ease_feed"},
                 "needs a limit: \"widest_engagement\" of the tool");
  keys.flag(
      "smooth", operation.smooth, false,
      {.says = "cuts become arcs and longer lines, as few as the tolerance allows, each proven as posted",
       .usual = "false"});
  keys.number("smooth_within", operation.smooth_within_mm, {operation.tolerance_mm, "the tolerance"},
              {.says = "how far above the ideal path the smooth one may lie",
               .usual = "the tolerance",
               .low = 0.002,
               .high = 10,
               .coarsened = Coarsened::tolerance});
  keys.idle_if(!operation.smooth, "smooth_within", "it is not smoothed");
  keys.refuse_if(operation.smooth && operation.smooth_within_mm < operation.tolerance_mm - 1e-12,
                 {"smooth_within"}, "must be at least the tolerance, which the path is planned with");
  keys.refuse_if(operation.smooth && usual.sinks, {"smooth"},
                 "is not for what cuts below the surface: its depth is along its lines");
  keys.number(
      "intended_depth", operation.intended_depth_mm,
      {std::max(0.0, -operation.allowance.least_mm()) +
           operation.pattern->intended(tool, nullptr).greatest_mm(),
       usual.sinks ? "as deep as it is to go" : "what a negative allowance says"},
      {.says =
           "how deep it cuts into the part on purpose, where it works; within it, such cuts are no gouges",
       .usual = "what a negative allowance says; engraving: its depth",
       .low = 0,
       .high = 100});
}

}  // namespace yardpass
