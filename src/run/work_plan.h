// How far a run is, over all its stages.
#pragma once

#include <chrono>

#include "yardpass/run/run.h"

namespace yardpass::detail {

/// The stages of a run in their order, each with a guess at its time. What is to go is told by how long the
/// finished ones took beside their guesses.
class WorkPlan {
 public:
  WorkPlan(const JobSetup& setup, const std::vector<Settled>& operations, const Estimate& foretold,
           bool only_plan);
  /// Passes progress on, and tells `whole` where in all of it that is. Both must outlive what is returned.
  /// Lengths and points are known now, no longer foretold: judging is guessed anew.
  void planned(const JobSetup& setup, const std::vector<Settled>& operations,
               const std::vector<PlannedOperation>& planned);
  [[nodiscard]] StageProgress telling(const StageProgress& progress,
                                      const std::function<void(const WholeProgress&)>& whole);

 private:
  struct Stage {
    std::string name;
    double weight = 0, spent_s = 0;
  };
  using Clock = std::chrono::steady_clock;
  void add(std::string name, double weight) { stages_.push_back({std::move(name), weight}); }
  [[nodiscard]] WholeProgress at(const std::string& stage, double share);
  [[nodiscard]] double to_go_s(double share) const;

  std::vector<Stage> stages_;
  double cells_ = 0;
  std::size_t now_ = 0;
  double told_ = 0;  ///< of all the work; never less than before
  Clock::time_point last_ = Clock::now();
};

}  // namespace yardpass::detail
