#include "yardpass/link/link.h"

#include <algorithm>
#include <cmath>

#include "link/linker.h"

namespace yardpass {

namespace {

void check(const Lead& lead) {
  require(lead.radius_mm > 0, "radius_mm of a lead", "must be above 0");
  require(lead.sweep_deg > 0 && lead.sweep_deg <= 180, "sweep_deg of a lead",
          "must be above 0 and at most 180 degrees");
  require(lead.length_mm > 0, "length_mm of a lead", "must be above 0");
  require(lead.angle_deg >= 0 && lead.angle_deg <= 90, "angle_deg of a lead", "must be 0 to 90 degrees");
}

void check(const Between& between) {
  require(between.ladder.stay_down_mm >= 0, "stay_down_mm", "must be at least 0");
  require(between.ladder.hop_mm >= 0, "hop_mm", "must be at least 0");
  require(between.ladder.lift_mm >= 0, "lift_mm", "must be at least 0");
  check(between.leads.in);
  check(between.leads.out);
}

void check(const LinkOptions& options, const ToolSurface& surface, const Stock& before) {
  require(options.feed_height_mm > 0, "feed_height_mm", "must be above 0");
  check(options.steps);
  if (options.gaps) check(*options.gaps);
  require(options.ramp_angle_deg > 0 && options.ramp_angle_deg <= 45, "ramp_angle_deg",
          "must be above 0 and at most 45 degrees");
  require(options.tolerance_mm > 0, "tolerance_mm", "must be above 0");
  require(options.rapid_mm_min.minCoeff() > 0, "rapid_mm_min", "must be above 0");
  require(options.acceleration_mm_s2 > 0, "acceleration_mm_s2", "must be above 0");
  const double top = std::max(before.block().max().z(), surface.part().box().max().z());
  if (!(options.plane_z > top))
    throw Error("the clearance plane at Z " + std::to_string(options.plane_z) +
                " is not above stock and part, Z " + std::to_string(top));
  require_feeds(surface.tool());
}

void check(const CutPlan& plan) {
  for (std::size_t g = 0; g < plan.groups.size(); ++g)
    for (const std::int32_t before : plan.groups[g].after)
      if (before < 0 || static_cast<std::size_t>(before) >= g)
        throw Error("group " + std::to_string(g) + " of the cuts is to come after group " +
                    std::to_string(before) + ", which is not before it");
}

/// By guess: nothing is proven when cuts are put in order.
LinkCosts costs_of(const LinkOptions& options, const Tool& tool) {
  const auto reach = [](const LinkLadder& ladder) { return std::max(ladder.stay_down_mm, ladder.hop_mm); };
  LinkCosts costs;
  costs.at_feed_up_to_mm = reach(options.steps.ladder);
  if (options.gaps) costs.at_feed_up_to_mm = std::max(costs.at_feed_up_to_mm, reach(options.gaps->ladder));
  costs.feed_mm_s = tool.link_feed_mm_min / 60;
  costs.rapid_mm_s = options.rapid_mm_min.minCoeff() / 60;
  constexpr double kTurns = 0.15;  // s: speeding up and slowing down
  costs.lift_s = kTurns + 3 * options.feed_height_mm / costs.rapid_mm_s +
                 options.feed_height_mm / tool.plunge_feed_mm_min * 60;
  return costs;
}

/// From cut to cut as planned, always by way of the plane.
double plain_seconds(const CutPlan& plan, const LinkOptions& options) {
  double sum = 0;
  std::optional<Vec3> at;
  for (const CutGroup& group : plan.groups)
    for (const Cut& cut : group.cuts) {
      if (cut.points.size() < 2) continue;
      if (at) sum += detail::seconds_by_plane(*at, cut.points.front(), options);
      at = cut.closed ? cut.points.front() : cut.points.back();
    }
  return sum;
}

constexpr std::pair<LeadShape, const char*> kShapes[] = {{LeadShape::arc, "arc"},
                                                         {LeadShape::straight, "straight"},
                                                         {LeadShape::ramp, "ramp"},
                                                         {LeadShape::none, "none"}};

/// What is said of keys of the operation, and of the same in a table of gaps.
struct Told {
  const char* rule;
  bool in_gaps = false;
  [[nodiscard]] const char* usual(const char* of_operation) const {
    return in_gaps ? "as between passes" : of_operation;
  }
};

/// The sizes of a lead: keys that begin with `name`.
struct LeadKeyNames {
  const char *plane, *radius, *sweep, *length, *angle;
};
constexpr LeadKeyNames kIn{"lead_plane", "lead_radius", "lead_sweep", "lead_length", "lead_angle"};
constexpr LeadKeyNames kOut{"lead_out_plane", "lead_out_radius", "lead_out_sweep", "lead_out_length",
                            "lead_out_angle"};

void size_keys(const LeadKeyNames& names, Lead& lead, const Lead& usual, const Told& told, bool out,
               Keys& keys) {
  const auto about = [&](const char* says, const char* in_general) {
    About of{.says = says, .usual = out ? "as of `lead_in`" : told.usual(in_general)};
    return of;
  };
  constexpr std::pair<LeadPlane, const char*> planes[] = {
      {LeadPlane::surface, "surface"}, {LeadPlane::upright, "upright"}, {LeadPlane::level, "level"}};
  keys.choice(
      names.plane, lead.plane, planes, usual.plane, told.rule,
      about("the plane of an arc or a straight lead: of the cut and the surface's normal, upright, or level",
            "`\"surface\"`"));
  const auto length_key = [&](const char* key, double& value, double usual_mm, const char* says) {
    About of = about(says, "a fifth of the diameter");
    of.low = 0, of.high = 1000, of.above_low = true, of.of_tool = true;
    keys.number(key, value, {usual_mm, told.rule}, of);
  };
  const auto angle_key = [&](const char* key, double& value, double usual_deg, const char* says,
                             const char* in_general, double high, bool above_low) {
    About of = about(says, in_general);
    of.unit = Unit::degrees, of.low = 0, of.high = high, of.above_low = above_low;
    keys.number(key, value, {usual_deg, told.rule}, of);
  };
  length_key(names.radius, lead.radius_mm, usual.radius_mm,
             "radius of an arc; where it does not fit a half and a quarter of it are tried");
  angle_key(names.sweep, lead.sweep_deg, usual.sweep_deg, "angle of an arc", "90", 180, true);
  length_key(names.length, lead.length_mm, usual.length_mm, "length of a straight lead");
  angle_key(names.angle, lead.angle_deg, usual.angle_deg, "angle of a straight lead to the cut", "45", 90,
            false);
}

/// Sizes that the shape of the lead does not have.
void size_idle(const LeadKeyNames& names, const Lead& lead, Keys& keys) {
  const bool arc = lead.shape == LeadShape::arc, straight = lead.shape == LeadShape::straight;
  keys.idle_if(!arc && !straight, names.plane, "the lead is neither an arc nor straight");
  for (const char* key : {names.radius, names.sweep}) keys.idle_if(!arc, key, "the lead is no arc");
  for (const char* key : {names.length, names.angle})
    keys.idle_if(!straight, key, "the lead is not straight");
}

void lead_keys(Leads& leads, const Leads& usual, const Told& told, Keys& keys) {
  keys.choice("lead_in", leads.in.shape, kShapes, usual.in.shape, told.rule,
              {.says = "how a cut is entered from the air: round an arc, straight at an angle, down along "
                       "the cut itself, or straight down",
               .usual = told.usual("finishing: `\"arc\"`; roughing, engraving: `\"none\"`")});
  size_keys(kIn, leads.in, usual.in, told, false, keys);
  size_idle(kIn, leads.in, keys);
  keys.choice("lead_out", leads.out.shape, kShapes, leads.in.shape, "as lead_in",
              {.says = "how it is left into the air", .usual = "as `lead_in`"});
  size_keys(kOut, leads.out, leads.in, {"as lead_in", told.in_gaps}, true, keys);
  size_idle(kOut, leads.out, keys);
}

void ladder_keys(LinkLadder& ladder, const LinkLadder& usual, const Told& told, Keys& keys) {
  const char* rule = told.rule;
  keys.number("link_distance", ladder.stay_down_mm, {usual.stay_down_mm, rule},
              {.says = "up to this far the next cut is reached at feed, straight or along the surface, if "
                       "proven free",
               .usual = told.usual("2.5 stepovers"),
               .low = 0,
               .high = 1e4,
               .of_tool = true});
  keys.number("hop_distance", ladder.hop_mm, {usual.hop_mm, rule},
              {.says = "up to this far it is reached at feed by a smooth curve over what is in between, no "
                       "more than a radius higher",
               .usual = told.usual("finishing: two diameters; roughing: 0"),
               .low = 0,
               .high = 1e4,
               .of_tool = true});
  std::optional<double> lift;
  keys.number("lift_distance", lift,
              {.says = "up to this far it is reached at rapid, just high enough over what is in between; "
                       "beyond that by the clearance plane",
               .usual = told.usual("any"),
               .low = 0,
               .high = 1e5,
               .of_tool = true});
  ladder.lift_mm = lift.value_or(usual.lift_mm);
}

/// Places of three numbers.
void way_key(const char* key, Polyline3& way, const char* says, Keys& keys) {
  std::vector<std::vector<double>> points;
  keys.points(key, points, 1, "places [[x, y, z], ...]", {.says = says, .usual = "none"});
  way.clear();
  bool all = true;
  for (const std::vector<double>& p : points) {
    all = all && p.size() == 3;
    way.emplace_back(p[0], p[1], p.size() == 3 ? p[2] : 0);
  }
  keys.refuse_if(!all, {key}, "its places must have three numbers, [x, y, z]");
}

}  // namespace

void keys_of(LinkOptions& options, const Usual& usual, const Tool& tool, Keys& keys) {
  keys.number("feed_height", options.feed_height_mm, {1, "above the material"},
              {.says = "height above the material where rapid turns into feed",
               .usual = "1",
               .low = 0.1,
               .high = 1000,
               .of_tool = true});
  const LinkLadder ladder{2.5 * usual.spacing_mm, usual.at_levels ? 0 : 2 * tool.diameter_mm};
  ladder_keys(options.steps.ladder, ladder, {"by stepover and tool"}, keys);
  Leads leads;
  leads.in.radius_mm = leads.in.length_mm = 0.2 * tool.diameter_mm;
  if (!usual.at_levels && !usual.sinks) leads.in.shape = LeadShape::arc;
  leads.out = leads.in;
  lead_keys(options.steps.leads, leads,
            {usual.at_levels ? "levels have ways in of their own"
             : usual.sinks   ? "straight down into the surface"
                             : "finishing"},
            keys);
  options.gaps.reset();
  keys.table("gaps",
             [&](Keys& inner) {
               Between gaps = options.steps;
               ladder_keys(gaps.ladder, options.steps.ladder, {"as between passes", true}, inner);
               lead_keys(gaps.leads, options.steps.leads, {"as between passes", true}, inner);
               options.gaps = gaps;
             },
             {.says = "other distances and leads between two pieces of one pass: a table of `link_distance`, "
                      "`hop_distance`, `lift_distance`, `lead_in` and what follows it",
              .usual = "as between passes"});
  constexpr std::pair<CutOrder, const char*> orders[] = {{CutOrder::quickest, "quickest"},
                                                         {CutOrder::as_planned, "planned"}};
  keys.choice("cut_order", options.order, orders, CutOrder::quickest, "least time in the air",
              {.says = "of cuts whose order the strategy leaves free: so that links take little time, or "
                       "pass by pass",
               .usual = "`\"quickest\"`"});
  std::vector<std::vector<double>> near;
  keys.places("start_near", near, 1,
              {.says = "a place near which it begins, `[x, y]`, where the order is free",
               .usual = "where the strategy begins"});
  options.start_near.reset();
  if (!near.empty()) options.start_near = Vec2(near[0][0], near[0][1]);
  way_key(
      "way_in", options.approach,
      "places `[[x, y, z], ...]` through which the tool comes to its first cut: down over the first, on at "
      "feed",
      keys);
  way_key("way_out", options.exit, "places `[[x, y, z], ...]` through which it leaves its last cut, at feed",
          keys);
}

void LinkCounts::add(const LinkCounts& more) {
  stay_down += more.stay_down, hops += more.hops, lifts += more.lifts, planes += more.planes;
  leads_wanted += more.leads_wanted, leads += more.leads;
  between_s += more.between_s, plain_between_s += more.plain_between_s;
}

LinkOptions plain(LinkOptions options) {
  const Lead none;
  options.steps = {{0, 0, 0}, {none, none}};
  options.gaps.reset();
  options.order = CutOrder::as_planned;
  options.start_near.reset();
  return options;
}

LinkedCuts link_cuts(const CutPlan& plan, const ToolSurface& surface, Stock before,
                     const LinkOptions& options, const Progress& progress) {
  check(options, surface, before);
  check(plan);
  const auto run = [&](const CutPlan& cuts, Stock stock, const Progress& share) {
    return detail::Linker(surface, std::move(stock), options).run(cuts, share);
  };
  const double by_plane = plain_seconds(plan, options);
  const auto link_in_order = [&] {
    if (options.order == CutOrder::as_planned) return run(plan, std::move(before), progress);
    const OrderedPlan order = ordered(plan, costs_of(options, surface.tool()), options.start_near);
    // The order is found by guess: what promises next to nothing is not worth leaving the plan's own.
    constexpr double kWorth = 0.95, kSure = 0.8;
    if (!options.start_near && order.after_s > kWorth * order.before_s)
      return run(plan, std::move(before), progress);
    if (!order.reordered || options.start_near) return run(order.plan, std::move(before), progress);
    LinkedCuts linked = run(order.plan, before, part_of(progress, 0, 0.5));
    if (linked.counts.between_s <= kSure * by_plane) return linked;
    // And where it saves little in the end, that is tried too.
    LinkedCuts planned = run(plan, std::move(before), part_of(progress, 0.5, 1));
    return detail::seconds_of(planned.path, options) < detail::seconds_of(linked.path, options) ? planned
                                                                                                : linked;
  };
  LinkedCuts result = link_in_order();
  result.counts.plain_between_s = by_plane;
  return result;
}

}  // namespace yardpass
