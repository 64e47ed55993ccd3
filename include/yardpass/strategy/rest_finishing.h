/// Rest finishing: only where a larger tool left material.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/fronts.h"
#include "yardpass/plan/rest_areas.h"
#include "yardpass/plan/site.h"

namespace yardpass {

/// How rest areas are filled.
enum class RestPattern : std::uint8_t {
  rings,    ///< from their outline inwards, equally far apart on the surface
  along,    ///< along the corner that runs through them, from the corner outwards
  across,   ///< square to that corner
  by_slope  ///< along where it is steep, across where it is shallow
};

struct RestFinishingOptions {
  GivenTool reference = {};    ///< the larger tool; none: the material before says where
  double threshold_mm = 0.02;  ///< REQUIRES: above 0
  double overlap_mm = 0.5;     ///< into what is finished; REQUIRES: not negative
  RestPattern pattern = RestPattern::rings;
  double split_deg = 45;     ///< for by_slope
  bool walls = true;         ///< upright walls beside what is left get level passes
  double stepover_mm = 0.2;  ///< REQUIRES: above 0
  FrontMeasure measure = FrontMeasure::tip;
};

/// `reference`, `then_with` (a job makes an operation of each), `threshold`, `overlap`, `pattern`,
/// `split_angle`, `walls`, `scallop_height`, `stepover`.
void keys_of(RestFinishingOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const RestFinishingOptions& options, const Tool& tool);

/// The rest areas of the site's area, see plan/rest_areas.h, each filled as its pattern says; upright walls
/// in them by level passes. Corners are the valleys of the reference tool, else of the tool itself. `seam` of
/// the plan is the border of the areas. Runs on all cores; the result does not depend on their number. Throws
/// Error if an option breaks what it asks for.
[[nodiscard]] CutPlan cuts_of(const RestFinishingOptions& options, const Site& site,
                              const Progress& progress = {});

}  // namespace yardpass
