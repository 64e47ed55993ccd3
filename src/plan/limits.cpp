#include "yardpass/plan/limits.h"

#include <algorithm>
#include <cmath>

#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

constexpr std::pair<LimitBy, const char*> kLimitWords[] = {
    {LimitBy::contact, "contact"}, {LimitBy::axis, "axis"}, {LimitBy::cutter, "cutter"}};

using From = GivenArea::From;
constexpr AreaRow kAreas[] = {
    {From::nothing, true, "outline of part and stock", LimitBy::axis, "material beside the part goes too"},
    {From::nothing, false, "outline of the part", LimitBy::contact, "passes end where the part does"},
    {From::region, true, "outline of the region, from above", LimitBy::axis, "levels are cleared in it"},
    {From::region, false, "outline of the region, from above", LimitBy::contact,
     "the region is finished to its edge"},
    {From::boundary, true, "the boundary", LimitBy::axis, "as drawn"},
    {From::boundary, false, "the boundary", LimitBy::axis, "as drawn"},
    {From::points, true, "the loops", LimitBy::axis, "as drawn"},
    {From::points, false, "the loops", LimitBy::axis, "as drawn"},
    {From::part, true, "outline of the part", LimitBy::axis, "what stands beside the part stays"},
    {From::part, false, "outline of the part", LimitBy::contact, "passes end where the part does"},
    {From::stock, true, "outline of the stock", LimitBy::axis, "material beside the part goes too"},
    {From::stock, false, "outline of the stock", LimitBy::axis, "passes run on beside the part"}};

void keys_of(LimitRule& rule, LimitBy usual, const std::string& because, Keys& keys) {
  keys.choice(
      "limit", rule.by, kLimitWords, usual, because,
      {.says =
           "what of the tool the boundary holds back: the point of contact, its axis, or all of the cutter",
       .usual = "by the table of areas"});
  keys.number("margin", rule.margin_mm, {0, "on the boundary itself"},
              {.says = "the boundary lies so much farther out; below 0: farther in",
               .usual = "0",
               .low = -1000,
               .high = 1000,
               .of_tool = true});
}

void keys_of(SteepnessLimits& limits, bool at_levels, Keys& keys) {
  keys.number("steep_from", limits.steep_from_deg,
              {.says = "only areas where the part is steep: at least so much from level, without scraps",
               .usual = "none",
               .unit = Unit::degrees,
               .low = 10,
               .high = 85});
  keys.number("shallow_to", limits.shallow_to_deg,
              {.says = "only areas where the part is shallow: the other side of `steep_from`",
               .usual = "none",
               .unit = Unit::degrees,
               .low = 10,
               .high = 85});
  const bool upside_down =
      limits.steep_from_deg && limits.shallow_to_deg && *limits.steep_from_deg >= *limits.shallow_to_deg;
  keys.refuse_if(upside_down, {"steep_from", "shallow_to"},
                 upside_down
                     ? "is " + short_number(*limits.steep_from_deg) + ", but must be below \"shallow_to\", " +
                           short_number(*limits.shallow_to_deg)
                     : std::string());
  keys.number("seam_overlap", limits.overlap_mm,
              {.says = "how far the steep and the shallow side reach over each other",
               .usual = "half a stepover",
               .low = 0,
               .high = 100,
               .of_tool = true});
  for (const char* key : {"steep_from", "shallow_to"})
    keys.idle_if(at_levels, key, "it holds for passes that follow the surface, not for levels");
  keys.idle_if(!limits.steep_from_deg && !limits.shallow_to_deg, "seam_overlap",
               "there is no seam without \"steep_from\" or \"shallow_to\"");
}

}  // namespace

std::span<const AreaRow> area_table() { return kAreas; }

const AreaRow& area_row(GivenArea::From given, bool at_levels) {
  for (const AreaRow& row : kAreas)
    if (row.given == given && row.at_levels == at_levels) return row;
  return kAreas[0];
}

const char* name_of(LimitBy limit) {
  for (const auto& [known, word] : kLimitWords)
    if (known == limit) return word;
  return "";
}

void keys_of(Limits& limits, bool at_levels, Keys& keys) {
  keys.area(
      "keep_inside", limits.keep_inside,
      {.says =
           "the area to work in: the name of a boundary or of a region (its outline from above), \"part\", "
           "\"stock\", or points [[x, y], ...], or a list of such loops, which nest: odd depth is inside",
       .usual = "by the table of areas"});
  keys.area("keep_out", limits.keep_out, {.says = "an area where the tool is not wanted", .usual = "none"});
  const AreaRow& row = area_row(limits.keep_inside.from, at_levels);
  keys_of(limits.rule, row.limit, row.because, keys);
  keys.refuse_if(
      at_levels && limits.rule.by == LimitBy::contact && limits.keep_out.given(), {"limit"},
      "by contact lets levels be cleared up to a radius beyond, into what \"keep_out\" names; valid "
      "beside it: axis, cutter");
  limits.exceptions.clear();
  keys.each(
      "limit_where",
      [&](Keys& one) {
        LimitException exception;
        keys_of(exception.rule, limits.rule.by, "as elsewhere", one);
        GivenArea where;
        one.area("inside", where,
                 {.says = "points around the stretch of boundary that is meant, or an area by name",
                  .required = true});
        one.refuse_if(
            exception.rule.by == LimitBy::contact || limits.rule.by == LimitBy::contact, {},
            "cannot be mixed with a limit by contact; give the operation a limit of axis or cutter");
        exception.where = where.area;
        limits.exceptions.push_back(std::move(exception));
      },
      {.says = "other rules where the boundary runs inside an area: tables of `inside`, `limit`, `margin`",
       .usual = "none"});
  constexpr std::pair<bool, const char*> rides[] = {{false, "tell"}, {true, "avoid"}};
  keys.choice(
      "ride_up", limits.avoid_riding_up, rides, false, "told, not avoided",
      {.says = "what is done about passes that ride up a wall outside the boundary", .usual = "`\"tell\"`"});
  keys.number("top", limits.top_z,
              {.says = "what lies higher is left alone. Roughing: its first level lies a stepdown below it",
               .usual = "none; roughing: the stock's top"});
  keys.number("bottom", limits.bottom_z,
              {.says = "what lies lower is left alone",
               .usual = "the lowest that is seen of the part from above, but not below the stock"});
  std::vector<double> slope;
  constexpr const char* form = "[least, greatest] in degrees from level, between 0 and 90";
  keys.numbers("slope", slope, {2}, form,
               {.says = "only where the part is so steep, `[least, greatest]` from level",
                .usual = "`[0, 90]`",
                .unit = Unit::degrees,
                .low = 0,
                .high = 90});
  limits.slope.reset();
  if (slope.size() == 2) limits.slope = {slope[0], slope[1]};
  keys.refuse_if(slope.size() == 2 && slope[0] > slope[1], {"slope"}, std::string("must be ") + form);
  keys.idle_if(at_levels, "slope", "it holds for passes that follow the surface, not for levels");
  keys_of(limits.steepness, at_levels, keys);
  keys.number("only_where_left", limits.only_where_left_mm,
              {.says = "only where earlier operations left more than this above what it leaves itself",
               .usual = "everywhere",
               .low = 0,
               .high = 100,
               .above_low = true});
  keys.idle_if(at_levels, "only_where_left", "what clears levels looks at the material anyway");
  const bool upside_down = limits.top_z && limits.bottom_z && *limits.top_z <= *limits.bottom_z;
  keys.refuse_if(upside_down, {"top", "bottom"},
                 upside_down ? "is " + short_number(*limits.top_z) + ", but must be above \"bottom\", " +
                                   short_number(*limits.bottom_z)
                             : std::string());
}

namespace {

double distance_out(const LimitRule& rule, double radius) {
  switch (rule.by) {
    case LimitBy::axis:
      return rule.margin_mm;
    case LimitBy::contact:
      return rule.margin_mm + radius;
    case LimitBy::cutter:
      return rule.margin_mm - radius;
  }
  return 0;
}

/// The stretches of a closed loop that lie inside (or outside) an area, as open lines.
std::vector<Polyline2> stretches(const Polyline2& loop, const Region& where, bool wanted_inside) {
  std::vector<Polyline2> result;
  const auto add = [&](const Vec2& a, const Vec2& b) {
    if ((a - b).norm() < 1e-9) return;
    if (!result.empty() && (result.back().back() - a).norm() < 1e-9)
      result.back().push_back(b);
    else
      result.push_back({a, b});
  };
  for (std::size_t i = 0; i < loop.size(); ++i) {
    const Vec2 &a = loop[i], &b = loop[(i + 1) % loop.size()];
    double at = 0;
    const auto point = [&](double share) { return Vec2(a + share * (b - a)); };
    for (const Interval& part : inside(where, a, b)) {
      if (wanted_inside)
        add(point(part.from), point(part.to));
      else if (part.from > at)
        add(point(at), point(part.from));
      at = part.to;
    }
    if (!wanted_inside && at < 1) add(point(at), b);
  }
  return result;
}

/// offset(area, d) is the area with or without all within |d| of its boundary; so different stretches can
/// have different distances.
void move_boundary(Region& area, const std::vector<Polyline2>& lines, double distance) {
  if (lines.empty() || std::abs(distance) < kRegionStep) return;
  const Region band = around(lines, false, std::abs(distance));
  area = distance > 0 ? unite(area, band) : subtract(area, band);
}

}  // namespace

Region centre_area(const Region& area, double tool_radius_mm, const LimitRule& rule,
                   const std::vector<LimitException>& exceptions) {
  const double usual = distance_out(rule, tool_radius_mm);
  if (exceptions.empty()) return std::abs(usual) < kRegionStep ? unite(area, {}) : offset(area, usual);
  const Region clean = unite(area, {});
  std::vector<std::vector<Polyline2>> special(exceptions.size());
  std::vector<Polyline2> rest;
  Region all;
  for (const LimitException& exception : exceptions) {
    if (exception.rule.by == LimitBy::contact || rule.by == LimitBy::contact)
      throw Error(
          "a limit by the point of contact holds for a whole boundary; it cannot be one of several rules");
    all = unite(all, exception.where);
  }
  for (const Polyline2& loop : clean.loops) {
    for (std::size_t i = 0; i < exceptions.size(); ++i)
      for (auto& line : stretches(loop, exceptions[i].where, true)) special[i].push_back(std::move(line));
    for (auto& line : stretches(loop, all, false)) rest.push_back(std::move(line));
  }
  Region result = clean;
  // What grows first, then what shrinks: holding back wins where two rules meet.
  for (const bool growing : {true, false}) {
    if ((usual > 0) == growing) move_boundary(result, rest, usual);
    for (std::size_t i = 0; i < exceptions.size(); ++i) {
      const double distance = distance_out(exceptions[i].rule, tool_radius_mm);
      if ((distance > 0) == growing) move_boundary(result, special[i], distance);
    }
  }
  return result;
}

}  // namespace yardpass
