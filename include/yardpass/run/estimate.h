/// What a job will be like, before any of it is planned: how many passes and points, how long it takes, how
/// much memory. For a question before hours of work, not for quotes.
#pragma once

#include "yardpass/run/plan.h"

namespace yardpass {

/// Of one operation, all its layers.
struct OperationEstimate {
  std::int32_t number = 0;
  std::string name;
  double passes = 0;        ///< rows, rings, levels or curves, as its strategy counts them
  double length_mm = 0;     ///< of its cuts
  double points = 0;        ///< of its cuts
  bool taken_over = false;  ///< all this is known, from an earlier run
};

/// What of a job is foretold.
struct EstimateOf {
  const KeptPaths* kept = nullptr;  ///< what it has is not planned again
  bool judged = true;               ///< else it stops after linking
};

struct Estimate {
  std::vector<OperationEstimate> operations;  ///< the active ones, in the order of the job
  double cells = 0;                           ///< of the simulation
  double bytes = 0;                           ///< of memory, at its largest
  double seconds = 0;                         ///< to plan, prove and draw, on this machine
  /// What makes little sense together, in words: a part much smaller than the thinnest tool.
  std::vector<std::string> odd = {};
  [[nodiscard]] double points() const;
};

/// Looks at the tip surface of each tool at some ten thousand places of its area, and at how densely a few
/// dozen lines across it need points. Passes that follow the surface: area by spacing; waterlines: upright
/// area by level distance; clearing: what stands over what the tool reaches, level by level, after the
/// operations before; drawn curves: their length. Takes about a second, whatever is asked for; the time told
/// is measured on a few touches. The counts do not depend on the number of threads or on the machine, the
/// seconds do.
[[nodiscard]] Estimate estimate(const JobSetup& setup, const std::vector<Settled>& operations,
                                const Progress& progress = {}, const EstimateOf& of = {});

/// What nobody starts by mistake.
struct LargeWork {
  double seconds = 600;
  double bytes = 4e9;
  double points = 20e6;
};
/// "40 seconds", "34 minutes", "3 hours": as exact as an estimate is.
[[nodiscard]] std::string rough_time(double seconds);
/// What of an estimate is above the limits, in words: "about 34 minutes"; empty: nothing.
[[nodiscard]] std::vector<std::string> above(const Estimate& estimate, const LargeWork& limits);

}  // namespace yardpass
