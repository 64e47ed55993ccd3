/// Finishing by slope: waterlines where the part is steep, straight passes or passes equally far apart on the
/// surface where it is shallow, in one operation and without a gap.
#pragma once

#include "yardpass/plan/slope_areas.h"
#include "yardpass/strategy/parallel.h"
#include "yardpass/strategy/scallop.h"
#include "yardpass/strategy/waterline.h"

namespace yardpass {

struct BySlopeOptions {
  SlopeSplit split = {};
  Steepness first = Steepness::steep;  ///< which side is cut first
  WaterlineOptions steep = {};
  ParallelOptions shallow = {};
  std::optional<ScallopOptions> scallop = {};  ///< instead of the straight passes of `shallow`
};

/// `split_angle`, `split_overlap`, `first`, and in tables `steep` and `shallow`, or `scallop` instead of
/// that, the keys of the patterns.
void keys_of(BySlopeOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const BySlopeOptions& options, const Tool& tool);

/// The site's area is split by slope_areas(); each side is cut by its pattern, as an operation of that
/// pattern would cut it, those of the first side before those of the second. Throws Error as the two patterns
/// do.
[[nodiscard]] CutPlan cuts_of(const BySlopeOptions& options, const Site& site, const Progress& progress = {});

}  // namespace yardpass
