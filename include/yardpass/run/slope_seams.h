/// Where operations that work by slope part the steep from the shallow, before anything is planned.
#pragma once

#include "yardpass/plan/slope_areas.h"
#include "yardpass/run/settle.h"

namespace yardpass {

struct SlopeSeam {
  std::int32_t operation = 0;  ///< its number
  std::string name;
  double angle_deg = 0;
  SlopeAreas areas;                    ///< of all that it works in
  std::optional<Steepness> only = {};  ///< the side that it keeps to; nothing: both
};

/// Of the active operations that keep to a side, or cut both; two of one that keeps to a band between two
/// slopes. Throws Error like `settle`.
[[nodiscard]] std::vector<SlopeSeam> slope_seams(const JobSetup& setup, const StageProgress& progress = {});

}  // namespace yardpass
