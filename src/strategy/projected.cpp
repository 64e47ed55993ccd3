#include "yardpass/strategy/projected.h"

#include <algorithm>

namespace yardpass {

void keys_of(ProjectedOptions& options, const Tool&, Keys& keys) { detail::drawn_keys(options.drawn, keys); }

Usual usual_of(const ProjectedOptions& options, const Tool&) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spread = Spread::along_lines;
  usual.tells_spacing = false;
  usual.sinks = options.drawn.own_heights;
  return usual;
}

std::vector<CurveRole> roles_of(const ProjectedOptions& options, const Region&) {
  return detail::drawn_roles(options.drawn, detail::drawn_lines(options.drawn));
}

IntendedCuts intended_of(const ProjectedOptions& options) {
  return options.drawn.own_heights && options.drawn.curves.given()
             ? detail::intended_along(detail::drawn_lines(options.drawn))
             : IntendedCuts{};
}

CutPlan cuts_of(const ProjectedOptions& options, const Site& site, const Progress& progress) {
  if (site.area.empty()) return {};
  return detail::drawn_cuts(detail::drawn_lines(options.drawn), options.drawn.order, site, progress);
}

}  // namespace yardpass
