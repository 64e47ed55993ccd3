#include "run/work_plan.h"

#include <algorithm>

#include "run/layer_name.h"

namespace yardpass::detail {

namespace {

// Seconds on the machine the demo jobs were measured on; elsewhere all of them shrink or grow alike.
constexpr double kPlanPoint = 1.5e-4, kLinkPoint = 4e-5, kLinkLevels = 2.5, kProvePoint = 4e-5;
constexpr double kWrite = 0.6, kWritePoint = 1e-5, kCell = 4e-7;

/// Judging an operation. Following a cutter through the stock cell by cell takes longest; under a flat end
/// few cells are new.
double judge_s(const Settled& settled, double points, double length_mm, bool engagement_known,
               const JobSetup& setup, double cells) {
  const double follow = kProvePoint * points + kCell * cells;
  if (engagement_known) return follow;
  const double radius = 0.5 * settled.tool.diameter_mm;
  const bool flat = settled.tool.shape == Shape::flat || settled.tool.shape == Shape::bull;
  return follow + (flat ? 2.3e-7 : 9e-7) * length_mm * radius / (setup.cell_mm * setup.cell_mm);
}

constexpr const char* kJudge = "judge the program";

}  // namespace

WorkPlan::WorkPlan(const JobSetup& setup, const std::vector<Settled>& operations, const Estimate& foretold,
                   bool only_plan)
    : cells_(foretold.cells) {
  double judging = 0, points = 0;
  for (std::size_t i = 0; i < operations.size(); ++i) {
    const Settled& settled = operations[i];
    const OperationEstimate& one = foretold.operations[i];
    points += one.points;
    judging += judge_s(settled, one.points, one.length_mm, one.taken_over, setup, cells_);
    if (one.taken_over) continue;
    for (int layer = settled.values.layers; layer > 0; --layer) {
      const std::string named = layer_name(settled, layer);
      const double own = one.points / settled.values.layers;
      // Contours of walls are found level by level.
      const double dear = settled.usual.spread == Spread::on_walls ? 4 : 1;
      add("plan " + named, dear * kPlanPoint * own + 0.3);
      add("link " + named, kLinkPoint * own + (settled.usual.at_levels ? kLinkLevels : 0.4));
      if (settled.values.smooth) add("smooth " + named, 0.5 * dear * kPlanPoint * own + 0.2);
    }
  }
  if (only_plan)
    add("carry the program out", 0.3 + 1e-5 * points);
  else
    add(kJudge, judging);
  // What is proven is written before the reasons for what is left are asked for.
  const bool explained = !only_plan && setup.job.left.explained;
  if (explained) add("explain what is left", 0.04 * judging);
  add("write the results", (explained ? 2 : 1) * (kWrite + kWritePoint * points));
}

void WorkPlan::planned(const JobSetup& setup, const std::vector<Settled>& operations,
                       const std::vector<PlannedOperation>& planned) {
  double judging = 0;
  for (std::size_t i = 0; i < operations.size(); ++i) {
    const PathLengths& lengths = planned[i].lengths;
    judging += judge_s(operations[i], static_cast<double>(planned[i].points),
                       lengths.cut_mm + lengths.ramp_mm + lengths.link_mm + lengths.lead_mm,
                       planned[i].engagement.has_value(), setup, cells_);
  }
  for (Stage& stage : stages_)
    if (stage.name == kJudge) stage.weight = judging;
}

WholeProgress WorkPlan::at(const std::string& stage, double share) {
  const Clock::time_point now = Clock::now();
  stages_[now_].spent_s += std::chrono::duration<double>(now - last_).count();
  last_ = now;
  const auto found = std::find_if(stages_.begin() + static_cast<std::ptrdiff_t>(now_), stages_.end(),
                                  [&](const Stage& one) { return one.name == stage; });
  // Not a stage of its own, but a part of the one that is under way.
  if (found == stages_.end())
    return {static_cast<int>(now_) + 1, static_cast<int>(stages_.size()), told_, {}};
  now_ = static_cast<std::size_t>(found - stages_.begin());
  // The first half of judging looks at the part alone and takes a twentieth of the time.
  if (stage == kJudge) share = share < 0.5 ? share / 10 : 0.05 + (share - 0.5) * 1.9;
  double all = 0, done = share * stages_[now_].weight;
  for (std::size_t k = 0; k < stages_.size(); ++k) {
    all += stages_[k].weight;
    if (k < now_) done += stages_[k].weight;
  }
  told_ = std::max(told_, all > 0 ? done / all : 0);
  WholeProgress result{static_cast<int>(now_) + 1, static_cast<int>(stages_.size()), told_, {}};
  if (told_ > 0.05) result.to_go_s = to_go_s(share);
  return result;
}

/// Guesses are wrong for single stages by more than machines differ, so that one stage alone says little
/// about the others, and more and more about what remains of itself.
double WorkPlan::to_go_s(double share) const {
  constexpr double kTrustInGuess = 0.1;  // of all the work
  double all = 0, guessed = 0, spent = 0, later = 0;
  for (std::size_t k = 0; k < stages_.size(); ++k) {
    all += stages_[k].weight;
    if (k > now_) later += stages_[k].weight;
    if (k >= now_) continue;
    // One that took four times its guess is one badly guessed.
    guessed += stages_[k].weight, spent += std::min(stages_[k].spent_s, 4 * stages_[k].weight);
  }
  const Stage& here = stages_[now_];
  const double prior = (spent + kTrustInGuess * all) / (guessed + kTrustInGuess * all);
  const double own = share > 0 ? here.spent_s / (share * here.weight) : prior;
  const double trust = std::min(1.0, 2 * share);
  const double rest_here = (1 - share) * here.weight * ((1 - trust) * prior + trust * own);
  const double rate =
      (spent + here.spent_s + kTrustInGuess * all) / (guessed + share * here.weight + kTrustInGuess * all);
  return rest_here + later * rate;
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
