// The lines that a step of fronts gives: what of its loops lies in the area.
#pragma once

#include "geom/bands.h"
#include "plan/front/ground.h"
#include "plan/front/near_lines.h"
#include "yardpass/plan/fronts.h"

namespace yardpass::detail {

class FrontRuns {
 public:
  FrontRuns(const Region& area, const FrontOptions& options);

  /// Adds the lines of the loops and marks the points of the loops with them.
  void add(std::vector<FrontLoop>& loops, std::int32_t step, std::vector<FrontPass>& passes);
  /// Adds the outline of a place that no line comes near.
  void add_middle(const FrontLoop& outline, std::int32_t step, std::vector<FrontPass>& passes);
  /// Adds what of the border no line comes near: fronts that run along it may end a stepover before it.
  void add_border(const Ground& ground, std::vector<FrontPass>& passes, FrontCounts& counts);

  [[nodiscard]] bool contains(const Vec2& p) const { return bands_.contains(p); }

 private:
  struct Run {
    FrontLoop points;
    std::vector<std::size_t> of;  // indices in the loop; none of a border crossing
    bool closed = false;
  };
  [[nodiscard]] std::vector<Run> runs_of(const FrontLoop& loop) const;
  [[nodiscard]] bool belongs(const FrontPoint& p) const {
    return p.touched && p.triangle >= 0 && contains(plan(p.tip));
  }

  void note(const Run& run);
  [[nodiscard]] FrontPass pass_of(Run run, std::int32_t step, bool middle);

  const Region& border_;
  Region area_;
  Bands bands_, deep_;  // deep: far from the border
  NearLines near_border_;
  const FrontOptions& options_;
};

/// The line with its hollow corners (turns to the left of more than 0.3) rounded, see FrontOptions.
[[nodiscard]] Polyline2 with_round_corners(const FrontLoop& points, bool closed, const FrontOptions& options);

}  // namespace yardpass::detail
