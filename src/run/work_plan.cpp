#include "run/work_plan.h"

#include <algorithm>

#include "run/layer_name.h"

namespace yardpass::detail {

namespace {

// Seconds on the machine the demo jobs were measured on; elsewhere all of them shrink or grow alike.
constexpr double kPlanPoint = 1.5e-4, kLinkPoint = 4e-5, kLinkLevels = 2.5, kProvePoint = 4e-5;
constexpr double kWrite = 1, kWritePoint = 2e-5, kCell = 4e-7;

/// Following a cutter through the stock cell by cell; under a flat end few cells are new.
double engagement_s(const Settled& settled, const OperationEstimate& estimate, double cell_mm) {
  const double radius = 0.5 * settled.tool.diameter_mm;
  const bool flat = settled.tool.shape == Shape::flat || settled.tool.shape == Shape::bull;
  return (flat ? 6e-7 : 3.7e-6) * estimate.length_mm * radius / (cell_mm * cell_mm);
}

}  // namespace

WorkPlan::WorkPlan(const JobSetup& setup, const std::vector<Settled>& operations, const Estimate& foretold,
                   bool only_plan) {
  double judge_s = 0, points = 0;
  for (std::size_t i = 0; i < operations.size(); ++i) {
    const Settled& settled = operations[i];
    const OperationEstimate& one = foretold.operations[i];
    points += one.points;
    judge_s += kProvePoint * one.points + kCell * foretold.cells;
    if (one.taken_over) continue;
    judge_s += engagement_s(settled, one, setup.cell_mm);
    for (int layer = settled.values.layers; layer > 0; --layer) {
      const std::string named = layer_name(settled, layer);
      const double own = one.points / settled.values.layers;
      add("plan " + named, kPlanPoint * own + 0.3);
      add("link " + named, kLinkPoint * own + (settled.usual.at_levels ? kLinkLevels : 0.4));
    }
  }
  if (only_plan)
    add("carry the program out", 0.3 + 1e-5 * points);
  else
    add("judge the program", judge_s);
  // What is proven is written before the reasons for what is left are asked for.
  if (!only_plan && setup.job.left.explained) {
    add("write the results", kWrite + kWritePoint * points);
    add("explain what is left", 0.03 * judge_s);
  }
  add("write the results", kWrite + kWritePoint * points);
}

void WorkPlan::add(std::string name, double weight) {
  before_.push_back(all_);
  all_ += weight;
  stages_.push_back({std::move(name), weight});
}

WholeProgress WorkPlan::at(const std::string& stage, double share) {
  for (std::size_t k = now_; k < stages_.size(); ++k)
    if (stages_[k].name == stage) {
      now_ = k;
      // The first half of judging looks at the part alone and takes a twelfth of the time.
      if (stage == "judge the program") share = share < 0.5 ? share / 6 : 1.0 / 12 + (share - 0.5) * 11 / 6;
      done_ = std::max(done_, before_[k] + share * stages_[k].weight);
      break;
    }
  return {static_cast<int>(now_) + 1, static_cast<int>(stages_.size()), all_ > 0 ? done_ / all_ : 0};
}

StageProgress WorkPlan::telling(const StageProgress& progress,
                                const std::function<void(const WholeProgress&)>& whole) {
  return [this, &progress, &whole](const std::string& stage, double share) {
    const WholeProgress now = at(stage, share);
    if (whole) whole(now);
    return !progress || progress(stage, share);
  };
}

}  // namespace yardpass::detail
