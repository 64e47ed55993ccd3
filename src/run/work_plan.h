// How far a run is, over all its stages.
#pragma once

#include "yardpass/run/run.h"

namespace yardpass::detail {

/// The stages of a run in their order, each with a guess at its time; only their proportions count.
class WorkPlan {
 public:
  WorkPlan(const JobSetup& setup, const std::vector<Settled>& operations, const Estimate& foretold,
           bool only_plan);
  /// Passes progress on, and tells `whole` where in all of it that is. Both must outlive what is returned.
  [[nodiscard]] StageProgress telling(const StageProgress& progress,
                                      const std::function<void(const WholeProgress&)>& whole);

 private:
  struct Stage {
    std::string name;
    double weight = 0;
  };
  void add(std::string name, double weight);
  [[nodiscard]] WholeProgress at(const std::string& stage, double share);

  std::vector<Stage> stages_;
  std::vector<double> before_;  ///< weights of all stages before each
  double all_ = 0;
  std::size_t now_ = 0;
  double done_ = 0;
};

}  // namespace yardpass::detail
