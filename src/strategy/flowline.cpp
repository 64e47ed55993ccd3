#include "yardpass/strategy/flowline.h"

#include <algorithm>

#include "strategy/curve_chain.h"
#include "strategy/rail_passes.h"
#include "yardpass/geom/region.h"
#include "yardpass/plan/four_sides.h"

namespace yardpass {

namespace {

bool is_closed(const FlowlineOptions& options) {
  return !options.first.curves.empty() && options.first.curves.front().closed;
}

/// What is wrong with the curves together; empty: nothing, or they are not found yet.
std::string trouble_with(const FlowlineOptions& options) {
  const GivenCurves* sides[] = {&options.first, &options.last, &options.start, &options.end};
  int said = 0, found = 0;
  for (const GivenCurves* given : sides) said += given->given(), found += given->curves.size() == 1;
  if (said == 0) return {};
  for (std::size_t i = 0; i < 4; ++i)
    for (std::size_t k = i + 1; k < 4; ++k)
      if (sides[i]->names.size() == 1 && sides[i]->names == sides[k]->names)
        return "the curve \"" + sides[i]->names.front() +
               "\" is named for two of the sides; each is one of its own";
  if (!options.first.given() || !options.last.given()) return "a first and a last pass belong together";
  if (found < said) return {};
  if (is_closed(options) || (said == 2 && options.last.curves.front().closed)) {
    bool all = said == 2 && options.last.curves.front().closed;
    for (const Curve& curve : options.between.curves) all = all && curve.closed;
    if (!all) return "closed passes go with closed ones alone, without a start and an end";
    if (options.across) return "closed passes have no start and end that \"across\" could change them with";
    return {};
  }
  if (said < 4)
    return "open sides need a \"start\" and an \"end\" too; without them morph blends the two curves";
  if (options.rails.pattern == RailPattern::spiral)
    return "a spiral needs closed curves, and these are open; valid: \"zigzag\", \"one-way\"";
  return {};
}

const char* kCorners = "needs four places of the border";

NamedSides sides_of(const FlowlineOptions& options, const Region& area) {
  NamedSides sides;
  if (options.first.given()) {
    std::vector<Curve> four;
    for (const auto& [given, role] : {std::pair(&options.first, "first"), std::pair(&options.last, "last"),
                                      std::pair(&options.start, "start"), std::pair(&options.end, "end")})
      detail::add_named(four, *given, role);
    sides = {four[0], four[1], four[2], four[3], {}};
  } else {
    const std::vector<Region> all = pieces(area);
    if (all.size() != 1 || all.front().loops.size() != 1)
      throw Error("without sides the area must be one piece without holes, but it has " +
                  std::to_string(all.size()) + " pieces and " + std::to_string(area.loops.size()) +
                  " loops; name " + "\"first\", \"last\", \"start\" and \"end\"");
    const Polyline2& border = all.front().loops.front();
    std::array<Vec2, 4> corners;
    if (options.corners.empty()) {
      try {
        corners = clearest_corners(border);
      } catch (const Error& error) {
        throw Error(std::string(error.what()) +
                    "; give \"corners\", four places, or name \"first\", \"last\", \"start\" and \"end\"");
      }
    } else {
      require(options.corners.size() == 4, "corners", kCorners);
      std::copy(options.corners.begin(), options.corners.end(), corners.begin());
    }
    sides = yardpass::sides_of(border, corners);
  }
  if (options.across) std::swap(sides.first, sides.start), std::swap(sides.last, sides.end);
  detail::add_named(sides.between, options.between, "between");
  return sides;
}

std::vector<Rails> rails_of(const FlowlineOptions& options, const Region& area) {
  if (const std::string trouble = trouble_with(options); !trouble.empty()) throw Error(trouble);
  for (const GivenCurves* given : {&options.first, &options.last, &options.start, &options.end})
    require(!given->given() || given->curves.size() == 1, "sides", "must be one curve each");
  if (is_closed(options)) {
    std::vector<Curve> curves;
    detail::add_named(curves, options.first, "first");
    detail::add_named(curves, options.between, "between");
    detail::add_named(curves, options.last, "last");
    return detail::rails_along(curves, {});
  }
  const FourSides sides = bring_together(sides_of(options, area), options.reach_mm);
  std::vector<Rails> rails = rails_of(sides, detail::kRailsApart);
  std::vector<std::string> names{"first pass"};
  names.resize(rails.size(), "curve between");
  names.emplace_back("last pass");
  detail::unfold(rails, names);
  return rails;
}

}  // namespace

void keys_of(FlowlineOptions& options, const Tool& tool, Keys& keys) {
  keys.curves("first", options.first,
              {.says = "the curve that is the first pass, seen from above",
               .usual = "the border of the area, cut at its four clearest corners"});
  keys.curves("last", options.last, {.says = "the curve that is the last pass", .belongs_to = "first"});
  keys.curves("start", options.start, {.says = "the curve at which passes start", .belongs_to = "first"});
  keys.curves("end", options.end, {.says = "the curve at which passes end", .belongs_to = "first"});
  keys.curves(
      "between", options.between,
      {.says = "curves from the start to the end, in any order; each is a pass of its own", .usual = "none"});
  std::vector<std::vector<double>> places;
  keys.places(
      "corners", places, 4,
      {.says = "four places at which the border of the area is cut into sides", .usual = "the clearest"});
  options.corners.clear();
  for (const std::vector<double>& place : places) options.corners.emplace_back(place[0], place[1]);
  keys.number("reach", options.reach_mm, {0.5 * tool.diameter_mm, "half the tool's diameter"},
              {.says = "how far ends of sides may be from each other, or stand out",
               .usual = "half the tool's diameter",
               .low = 0,
               .high = 1000,
               .of_tool = true});
  keys.flag("across", options.across, false,
            {.says = "the roles are changed: first and last pass are where passes start and end",
             .usual = "false"});
  detail::rail_keys(options.rails, tool, keys, RailDirection::forward, "from the start to the end",
                    "`\"forward\"`");
  for (const auto& [key, given] : {std::pair("first", &options.first), std::pair("last", &options.last),
                                   std::pair("start", &options.start), std::pair("end", &options.end)})
    detail::refuse_several(keys, key, *given);
  const std::string trouble = trouble_with(options);
  keys.refuse_if(!trouble.empty(), {"first", "last", "start", "end"}, detail::kDoNotGoTogether + trouble);
  keys.refuse_if(options.first.given() && !options.corners.empty(), {"corners"},
                 "belongs to the border of the area, but sides are named");
}

Usual usual_of(const FlowlineOptions& options, const Tool& tool) {
  return detail::rail_usual(options.rails, tool);
}

std::vector<CurveRole> roles_of(const FlowlineOptions& options, const Region& area) {
  return detail::roles_along(options.rails, rails_of(options, area), !is_closed(options));
}

CutPlan cuts_of(const FlowlineOptions& options, const Site& site, const Progress& progress) {
  require(options.reach_mm >= 0, "reach_mm", "must not be negative");
  if (site.area.empty()) return {};
  return detail::rail_cuts(options.rails, rails_of(options, site.area), site, progress);
}

}  // namespace yardpass
