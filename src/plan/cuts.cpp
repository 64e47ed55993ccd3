#include "yardpass/plan/cuts.h"

#include <algorithm>

namespace yardpass {

std::size_t CutPlan::cut_count() const {
  std::size_t count = 0;
  for (const CutGroup& group : groups) count += group.cuts.size();
  return count;
}

double IntendedCuts::greatest_mm() const {
  double greatest = along.empty() ? depth_mm : 0;
  for (const DepthLine& line : along) greatest = std::max(greatest, line.greatest_mm());
  return greatest;
}

bool CutPlan::empty() const { return cut_count() == 0; }

CutPlan plan_of(std::vector<Cut> cuts) {
  CutPlan plan;
  plan.groups.push_back({std::move(cuts)});
  return plan;
}

}  // namespace yardpass
