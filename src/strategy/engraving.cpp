#include "yardpass/strategy/engraving.h"

#include <algorithm>
#include <cmath>

#include "strategy/groove_cuts.h"
#include "yardpass/geom/text.h"

namespace yardpass {

namespace {

/// The depths of each place of a line, with a point at each place where they bend.
void deepen(DepthLine& line, const std::vector<double>& depths) {
  const std::size_t count = line.points.size(), steps = depths.size() - (line.closed ? 0 : 1);
  Polyline2 whole = line.points;
  if (line.closed) whole.push_back(whole.front());
  const double size = length(std::span<const Vec2>(whole));
  const auto depth = [&](double share) {
    const double at = std::clamp(share, 0.0, 1.0) * static_cast<double>(steps);
    const auto k = std::min(static_cast<std::size_t>(at), steps - 1);
    const double next = depths[(k + 1) % depths.size()];
    return depths[k] + (at - static_cast<double>(k)) * (next - depths[k]);
  };
  DepthLine result{{}, {}, line.closed};
  double way = 0;
  for (std::size_t i = 0; i + 1 < whole.size(); ++i) {
    const Vec2 along = whole[i + 1] - whole[i];
    const double piece = along.norm(), own = line.depth_mm[i], next = line.depth_mm[(i + 1) % count];
    std::vector<double> shares{0};
    for (std::size_t k = 1; k < steps; ++k)
      if (const double bend = size * static_cast<double>(k) / static_cast<double>(steps) - way;
          bend > 1e-9 && bend < piece - 1e-9)
        shares.push_back(bend / piece);
    if (i + 2 == whole.size() && !line.closed) shares.push_back(1);
    for (const double share : shares) {
      result.points.push_back(whole[i] + share * along);
      result.depth_mm.push_back(depth((way + share * piece) / size) + own + share * (next - own));
    }
    way += piece;
  }
  line = std::move(result);
}

std::vector<detail::DrawnLine> strokes(const EngravingOptions& options) {
  std::vector<detail::DrawnLine> lines = detail::drawn_lines(options.drawn);
  for (detail::DrawnLine& one : lines)
    if (options.depths_mm.size() > 1)
      deepen(one.line, options.depths_mm);
    else
      for (double& depth : one.line.depth_mm) depth += options.depth_mm;
  return lines;
}

}  // namespace

void keys_of(EngravingOptions& options, const Tool& tool, Keys& keys) {
  detail::drawn_keys(options.drawn, keys);
  constexpr std::pair<EngravingForm, const char*> forms[] = {{EngravingForm::stroke, "stroke"},
                                                             {EngravingForm::groove, "groove"}};
  keys.choice("form", options.form, forms, EngravingForm::stroke, "along the curves",
              {.says = "along the curves, or grooves that fill closed ones, as deep as their sides are apart",
               .usual = "`\"stroke\"`"});
  const bool groove = options.form == EngravingForm::groove;
  const Profile cutter = profile_of(completed(tool));
  const double cone =
      std::min(cutter.height(cutter.radius()), std::max(0.0, completed(tool).flute_length_mm));
  keys.number("depth", options.depth_mm,
              groove ? Derived{cone, "as high as the cutter's flanks are"} : Derived{0.2, "0.2 mm"},
              {.says = "how deep below the surface, straight down; of grooves: no deeper",
               .usual = "0.2; grooves: as high as the cutter's flanks are",
               .low = 0,
               .high = 100,
               .instead_of = "depths"});
  keys.numbers("depths", options.depths_mm, {2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16},
               "2 to 16 depths",
               {.says = "depths at as many places, evenly spread along each curve from its start to its end",
                .usual = "the same everywhere"});
  const bool below = std::any_of(options.depths_mm.begin(), options.depths_mm.end(),
                                 [](double depth) { return depth < 0 || depth > 100; });
  keys.refuse_if(below, {"depths"}, "must be 0 to 100 mm each");
  keys.refuse_if(groove && !options.depths_mm.empty(), {"depths"},
                 "belongs to strokes; a groove has its own depth");
  keys.refuse_if(groove && tool.shape != Shape::chamfer && tool.shape != Shape::taper, {"form"},
                 "\"groove\" needs a cutter that gets wider upwards: shape \"chamfer\" or \"taper\"");
  const std::vector<Curve>& curves = options.drawn.curves.curves;
  const auto open = std::find_if(curves.begin(), curves.end(), [](const Curve& c) { return !c.closed; });
  keys.refuse_if(groove && open != curves.end(), {"curves"},
                 "has " + std::to_string(curves.size()) + ", of which number " +
                     std::to_string(open - curves.begin() + 1) + " is open; grooves fill closed ones");
  keys.idle_if(groove, "order", "grooves are cut in the order with least air");
  keys.idle_if(groove, "own_heights", "a groove has its own depth");
  const double deepest = options.depths_mm.empty()
                             ? options.depth_mm
                             : *std::max_element(options.depths_mm.begin(), options.depths_mm.end());
  const double flutes = completed(tool).flute_length_mm;
  keys.refuse_if(flutes > 0 && deepest > flutes, {"depth", "depths"},
                 "is deeper than the flutes of the tool, " + short_number(flutes) + " mm");
}

Usual usual_of(const EngravingOptions&, const Tool&) {
  Usual usual{{0, "finish to size"}, {0.005, "0.005 mm"}};
  usual.tells_spacing = false;
  usual.sinks = true;
  usual.spread = Spread::along_lines;
  return usual;
}

std::vector<CurveRole> roles_of(const EngravingOptions& options, const Region&) {
  if (options.form == EngravingForm::groove) {
    std::vector<CurveRole> roles;
    for (const Curve& curve : options.drawn.curves.curves)
      if (curve.closed)
        roles.push_back(
            {curve.name.empty() ? "outline" : "outline (" + curve.name + ")", in_plan(curve), true});
    return roles;
  }
  return detail::drawn_roles(options.drawn, detail::drawn_lines(options.drawn));
}

IntendedCuts intended_of(const EngravingOptions& options) {
  if (options.form == EngravingForm::groove) {
    IntendedCuts intended;
    intended.within = detail::inside_of(options.drawn.curves);
    intended.depth_mm = options.depth_mm;
    intended.keeps_rim = true;
    return intended;
  }
  return options.drawn.curves.given() ? detail::intended_along(strokes(options)) : IntendedCuts{};
}

CutPlan cuts_of(const EngravingOptions& options, const Site& site, const Progress& progress) {
  require(options.depth_mm >= 0, "depth_mm", "must not be negative");
  for (const double depth : options.depths_mm) require(depth >= 0, "depths_mm", "must not be negative");
  if (site.area.empty()) return {};
  if (options.form == EngravingForm::groove)
    return detail::groove_cuts(detail::inside_of(options.drawn.curves), options.depth_mm, site, progress);
  CutPlan plan = detail::drawn_cuts(strokes(options), options.drawn.order, site, progress);
  double deepest = 0;
  for (const DepthLine& line : plan.sunk) deepest = std::max(deepest, line.greatest_mm());
  plan.facts.push_back({"deepest", length_of(deepest), "below the surface, straight down"});
  return plan;
}

}  // namespace yardpass
