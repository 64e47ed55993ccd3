// Down into the material along a cut or a helix, and along the cut itself.
#pragma once

#include "link/trail.h"

namespace yardpass::detail {

/// The cut as a line; of a closed one the last point is the first again.
class Entries {
 public:
  Entries(Trail& trail, const Tool& tool, const LinkOptions& options)
      : trail_(trail), tool_(tool), options_(options) {}

  /// Down along the cut until its own height is reached, and then all of it. Returns the line that it ended
  /// with: a closed one may end elsewhere than it began.
  Polyline3 by_ramp(const Polyline3& line, bool closed, double lift_up_to_mm);
  /// Down round a helix, once round at its foot, and on to the start of the cut.
  Polyline3 by_helix(const Polyline3& line, const Helix& helix, double lift_up_to_mm);
  void cut_along(const Polyline3& whole);

 private:
  bool through_cleared(const Vec3& start);
  double down_to(const Vec3& start, double z, double lift_up_to_mm);
  [[nodiscard]] double steepest() const;  // of ways down, as a slope
  Polyline3 ramp_down(const Polyline3& line, bool closed, double top);

  static constexpr double kAboveSolid = 0.1;  // mm: where ways down into solid begin

  Trail& trail_;
  const Tool& tool_;
  const LinkOptions& options_;
};

/// Which pieces of a line run at plunge feed. A stretch that falls steeper than `slope` (fall over distance)
/// counts from a least fall, and the feed changes at most once in a least length.
std::vector<bool> steep_pieces(const Polyline3& line, double slope, double least_fall_mm,
                               double least_length_mm);

}  // namespace yardpass::detail
