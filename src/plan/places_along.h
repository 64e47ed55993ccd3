// Places evenly spread along cuts.
#pragma once

#include <algorithm>
#include <vector>

#include "yardpass/plan/cuts.h"

namespace yardpass::detail {

struct PlaceAlong {
  Vec3 tip;
  std::size_t group, cut;  // indices
  Vec3 way;                // unit vector along the cut, or 0
};

/// About so many, but no nearer than `least_mm`; none at the very ends of a cut.
inline std::vector<PlaceAlong> places_along(const CutPlan& plan, double least_mm, std::size_t count) {
  double whole = 0;
  const auto segments = [](const Cut& cut) { return cut.points.size() - (cut.closed ? 0 : 1); };
  const auto end = [](const Cut& cut, std::size_t i) -> const Vec3& {
    return cut.points[(i + 1) % cut.points.size()];
  };
  for (const CutGroup& group : plan.groups)
    for (const Cut& cut : group.cuts)
      for (std::size_t i = 0; cut.points.size() > 1 && i < segments(cut); ++i)
        whole += (end(cut, i) - cut.points[i]).norm();
  std::vector<PlaceAlong> places;
  const double step = std::max(least_mm, whole / static_cast<double>(std::max<std::size_t>(count, 1)));
  if (!(step > 0)) return places;
  double next = 0.5 * step;
  for (std::size_t g = 0; g < plan.groups.size(); ++g)
    for (std::size_t c = 0; c < plan.groups[g].cuts.size(); ++c) {
      const Cut& cut = plan.groups[g].cuts[c];
      for (std::size_t i = 0; cut.points.size() > 1 && i < segments(cut); ++i) {
        const Vec3 way = end(cut, i) - cut.points[i];
        const double size = way.norm();
        for (; next < size; next += step)
          places.push_back({cut.points[i] + way * (next / size), g, c, way / size});
        next -= size;
      }
    }
  return places;
}

}  // namespace yardpass::detail
