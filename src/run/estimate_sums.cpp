#include "run/estimate_sums.h"

#include <tbb/global_control.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <set>

#include <fmt/format.h>

namespace yardpass {

namespace detail {

std::vector<const PlannedOperation*> known_of(const JobSetup& setup, const std::vector<Settled>& operations,
                                              const KeptPaths* kept) {
  if (kept && kept->size() > 0) return kept->find(fingerprints_of(setup, operations));
  return std::vector<const PlannedOperation*>(operations.size(), nullptr);
}

OperationEstimate as_planned(const Settled& settled, const PlannedOperation& planned) {
  std::set<std::int32_t> passes;
  for (const CutOrigin& cut : planned.path.cuts) passes.insert(cut.pass);
  return {settled.number,
          settled.name,
          static_cast<double>(passes.size()),
          planned.lengths.cut_mm,
          static_cast<double>(planned.points),
          true};
}

/// How long a touch takes on this part and machine, on one core.
double seconds_per_touch(const ToolSurface& surface, const Box3& box) {
  const auto start = std::chrono::steady_clock::now();
  constexpr int kTouches = 2000;
  double sum = 0;
  for (int i = 0; i < kTouches; ++i) {
    const Vec2 share(std::fmod(0.5 + i * 0.7548776662466927, 1.0),
                     std::fmod(0.5 + i * 0.5698402909980532, 1.0));
    const double z = surface.height(plan(box.min()) + share.cwiseProduct(plan(box.sizes())));
    sum += z == kNothingBelow ? 0 : z;
  }
  const std::chrono::duration<double> took = std::chrono::steady_clock::now() - start;
  return std::isfinite(sum) ? took.count() / kTouches : 0;
}

void sum_up(const JobSetup& setup, const std::vector<Settled>& operations, double touch_s, bool judged,
            Estimate& estimate) {
  // Measured on the demo jobs: touches for each point to plan and link it and to prove it, for each cell to
  // carve and measure it, and seconds for pictures.
  constexpr double kPlan = 60, kProve = 60;
  double touches = 0;
  for (const OperationEstimate& one : estimate.operations)
    touches += one.points * ((one.taken_over ? 0 : kPlan) + (judged ? kProve : 0));
  estimate.cells = static_cast<double>(setup.stock->heights().size());
  const auto cores =
      static_cast<double>(tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism));
  estimate.seconds = (touches * touch_s + 150 * estimate.cells * 1e-8) / std::min(cores, 8.0) +
                     2.0 * static_cast<double>(operations.size() + 2);
  estimate.bytes = 60e6 + 40 * estimate.cells +
                   250 * static_cast<double>(setup.part->mesh().triangles.size()) + 300 * estimate.points();
  const double size = setup.part->box().sizes().maxCoeff();
  double thinnest = 1e300;
  for (const Settled& settled : operations) thinnest = std::min(thinnest, settled.tool.diameter_mm);
  if (!operations.empty() && size < 0.2 * thinnest)
    estimate.odd.push_back(
        fmt::format("the part is only {:.3g} mm large, and the thinnest tool {:.3g} mm: is the "
                    "part's unit right (`unit` in [part])",
                    size, thinnest));
}

}  // namespace detail

double Estimate::points() const {
  double sum = 0;
  for (const OperationEstimate& operation : operations) sum += operation.points;
  return sum;
}

std::string rough_time(double seconds) {
  return seconds < 90     ? fmt::format("{:.0f} seconds", seconds)
         : seconds < 7200 ? fmt::format("{:.0f} minutes", seconds / 60)
                          : fmt::format("{:.0f} hours", seconds / 3600);
}

std::vector<std::string> above(const Estimate& estimate, const LargeWork& limits) {
  std::vector<std::string> words;
  if (estimate.seconds > limits.seconds) words.push_back("about " + rough_time(estimate.seconds));
  if (estimate.bytes > limits.bytes)
    words.push_back(fmt::format("about {:.0f} GB of memory", estimate.bytes / 1e9));
  if (estimate.points() > limits.points)
    words.push_back(fmt::format("about {:.0f} million points", estimate.points() / 1e6));
  return words;
}

}  // namespace yardpass
