// Planning passes on so many threads, timed and checked.
#pragma once

#include <tbb/global_control.h>

#include <functional>
#include <vector>

#include "bench.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/site.h"

namespace yardpass::bench {

struct Planned {
  double seconds = 0, length_mm = 0;
  std::vector<Cut> cuts;
};

inline Planned planned(const Site& site, const std::function<CutPlan(const Site&)>& cuts_of,
                       std::size_t threads) {
  tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
  Planned result;
  const double start = now_s();
  CutPlan plan = cuts_of(site);
  result.seconds = now_s() - start;
  for (CutGroup& group : plan.groups)
    for (Cut& cut : group.cuts) {
      result.length_mm += length(std::span<const Vec3>(cut.points));
      result.cuts.push_back(std::move(cut));
    }
  return result;
}

struct Trial {
  std::function<CutPlan(const Site&)> cuts_of;
  std::size_t threads;
};

/// Of three runs of each the quickest; in turn, so that a slower spell of the machine meets all of them.
inline std::vector<Planned> quickest(const Site& site, const std::vector<Trial>& trials) {
  std::vector<Planned> best(trials.size());
  for (int k = 0; k < 3; ++k)
    for (std::size_t i = 0; i < trials.size(); ++i) {
      Planned now = planned(site, trials[i].cuts_of, trials[i].threads);
      if (k == 0 || now.seconds < best[i].seconds) best[i] = std::move(now);
    }
  return best;
}

inline void require_free(const ToolSurface& surface, const Planned& planned) {
  std::int64_t wrong = 0;
  for (const Cut& cut : planned.cuts)
    for (std::size_t i = 0; i + 1 < cut.points.size(); ++i)
      wrong += surface.clearance(cut.points[i], cut.points[i + 1], 0.0).room < -kTouchError;
  require(wrong == 0, "passes free of the part");
}

}  // namespace yardpass::bench
