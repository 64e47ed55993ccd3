#include "yardpass/strategy/morph.h"

#include "plan/meeting_line.h"
#include "strategy/curve_chain.h"
#include "strategy/rail_passes.h"

namespace yardpass {

namespace {

/// What is wrong with the curves together; empty: nothing, or they are not found yet.
std::string trouble_with(const MorphOptions& options) {
  if (options.first.curves.empty() || options.last.curves.empty()) return {};
  const bool closed = options.first.curves.front().closed;
  bool same = options.last.curves.front().closed == closed;
  for (const Curve& curve : options.between.curves) same = same && curve.closed == closed;
  if (!same) return "some of the curves are closed and some open; valid: all closed, or all open";
  if (options.rails.pattern == RailPattern::spiral && !closed)
    return "a spiral needs closed curves, and these are open; valid: \"zigzag\", \"one-way\"";
  if (!options.match.empty() && !options.between.curves.empty())
    return "\"match\" is for two curves alone: a curve between them leads passes by itself";
  return {};
}

/// First, those between, last; each with the name that messages can call it by.
std::vector<Curve> curves_of(const MorphOptions& options) {
  if (const std::string trouble = trouble_with(options); !trouble.empty()) throw Error(trouble);
  require(options.first.curves.size() == 1, "first", "must be one curve");
  require(options.last.curves.size() == 1, "last", "must be one curve");
  std::vector<Curve> curves;
  for (const auto& [given, role] : {std::pair(&options.first, "first"),
                                    std::pair(&options.between, "between"), std::pair(&options.last, "last")})
    detail::add_named(curves, *given, role);
  return curves;
}

std::vector<Rails> rails_of(const MorphOptions& options) {
  return detail::rails_along(curves_of(options), options.match);
}

/// With lines beside areas in place of those areas.
MorphOptions with_lines(MorphOptions options, const Site& site) {
  const Region& strip = site.touched ? *site.touched : site.area;
  for (auto [area, curve] :
       {std::pair(&options.beside_first, &options.first), std::pair(&options.beside_last, &options.last)}) {
    if (!area->given()) continue;
    curve->names = {area->name.empty() ? "area" : area->name};
    try {
      curve->curves = {detail::meeting_line(site.surface, strip, area->area, site.tolerance_mm)};
    } catch (const Error& error) {
      throw Error("beside \"" + curve->names.front() + "\": " + error.what());
    }
  }
  return options;
}

}  // namespace

void keys_of(MorphOptions& options, const Tool& tool, Keys& keys) {
  keys.curves("first", options.first,
              {.says = "the curve that is the first pass, seen from above; open or closed"});
  keys.area("beside_first", options.beside_first,
            {.says = "instead: an area beside the one that is worked in; the first pass is where the tool "
                     "touches both"});
  keys.one_of({"first", "beside_first"}, true);
  keys.curves("last", options.last, {.says = "the curve that is the last pass, as `first`"});
  keys.area("beside_last", options.beside_last, {.says = "instead: an area, as `beside_first`"});
  keys.one_of({"last", "beside_last"}, true);
  keys.curves(
      "between", options.between,
      {.says = "curves on the way from the first to the last, in their order; each is a pass of its own",
       .usual = "none"});
  std::vector<std::vector<double>> places;
  keys.places("match", places, 0,
              {.says = "places of the first and of the last curve in turn that belong together",
               .usual = "by equal shares of their lengths"});
  keys.refuse_if(places.size() % 2 == 1, {"match"}, "needs as many places of the last curve as of the first");
  options.match.clear();
  for (std::size_t i = 0; i + 1 < places.size(); i += 2)
    options.match.push_back({Vec2(places[i][0], places[i][1]), Vec2(places[i + 1][0], places[i + 1][1])});
  detail::rail_keys(options.rails, tool, keys, RailDirection::climb, "cleaner walls", "`\"climb\"`");
  detail::refuse_several(keys, "first", options.first);
  detail::refuse_several(keys, "last", options.last);
  const std::string trouble = trouble_with(options);
  keys.refuse_if(!trouble.empty(), {"first", "last"}, detail::kDoNotGoTogether + trouble);
}

Usual usual_of(const MorphOptions& options, const Tool& tool) {
  return detail::rail_usual(options.rails, tool);
}

std::vector<CurveRole> roles_of(const MorphOptions& options, const Region&) {
  if (options.beside_first.given() || options.beside_last.given()) return {};
  return detail::roles_along(options.rails, rails_of(options), false);
}

CutPlan cuts_of(const MorphOptions& options, const Site& site, const Progress& progress) {
  if (site.area.empty()) return {};
  return detail::rail_cuts(options.rails, rails_of(with_lines(options, site)), site, progress);
}

}  // namespace yardpass
