#include "yardpass/plan/material_met.h"

#include <algorithm>

#include "geom/parallel_for.h"
#include "plan/places_along.h"

namespace yardpass {

MaterialMet material_met(const CutPlan& plan, const Stock& before, const Profile& cutter, double tolerance_mm,
                         std::size_t places) {
  MaterialMet met;
  std::vector<Vec3> tips;
  for (const detail::PlaceAlong& place : detail::places_along(plan, before.cell_mm(), places))
    tips.push_back(place.tip);
  if (tips.empty()) return met;
  std::vector<double> thickness(tips.size());
  detail::parallel_for(tips.size(),
                       [&](std::size_t i) { thickness[i] = before.thickness_met(cutter, tips[i]); });
  const auto greatest = std::max_element(thickness.begin(), thickness.end());
  met.greatest_mm = *greatest;
  met.at = tips[static_cast<std::size_t>(greatest - thickness.begin())];
  const auto thin =
      std::count_if(thickness.begin(), thickness.end(), [&](double one) { return one <= tolerance_mm; });
  met.share_at_size = static_cast<double>(thin) / static_cast<double>(thickness.size());
  std::sort(thickness.begin(), thickness.end());
  met.half_mm = thickness[thickness.size() / 2];
  met.most_mm = thickness[thickness.size() * 95 / 100];
  return met;
}

}  // namespace yardpass
