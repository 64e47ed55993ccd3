// How far apart neighbouring passes over rails really lie, in space on the tip surface.
#pragma once

#include "support/front_spacing.h"
#include "yardpass/plan/rails.h"

namespace yardpass::testing {

struct Gaps {
  double widest = 0, median = 0, length = 0;
  Vec3 at{0, 0, 0};
};

/// From places of each pass, 0.1 mm apart, to the nearest place of the pass before.
inline Gaps gaps_of(const TipSurface& surface, const DividedRails& rails, bool closed) {
  Gaps gaps;
  std::vector<double> all;
  std::vector<LinePlace> before;
  for (std::int32_t k = 0; k <= rails.steps(); ++k) {
    FrontPass pass;
    pass.line = rails.pass(static_cast<double>(k) / rails.steps());
    pass.closed = closed;
    const std::vector<LinePlace> places = places_of(surface, pass, 0.1);
    if (k > 0) {
      NearSegments near(1);
      for (std::size_t i = 1; i < before.size(); ++i) near.add(before[i - 1].tip, before[i].tip);
      if (closed && !before.empty()) near.add(before.back().tip, before.front().tip);
      for (std::size_t i = 0; i < places.size(); i += 3) {
        const double gap = near.distance(places[i].tip, 8);
        all.push_back(gap);
        if (gap > gaps.widest) gaps.widest = gap, gaps.at = places[i].tip;
      }
    }
    gaps.length += 0.1 * static_cast<double>(places.size());
    before = places;
  }
  std::sort(all.begin(), all.end());
  gaps.median = all.empty() ? 0 : all[all.size() / 2];
  return gaps;
}

}  // namespace yardpass::testing
