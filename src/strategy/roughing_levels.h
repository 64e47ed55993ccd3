// The levels of a roughing operation: which there are, and where the tool may stand on each.
#pragma once

#include "yardpass/plan/level_area.h"
#include "yardpass/strategy/roughing.h"

namespace yardpass::detail {

struct RoughingLevel {
  double z;
  double upper_z = 0;       ///< what stands above that is cut before
  bool only_flats = false;  ///< there only for flats: what has none there waits for the next level
  bool between = false;     ///< takes down what slopes leave between two others, from below upwards
  LevelArea drawn = {};     ///< where the tool can stand
};

/// In the order in which they are cut. A stepdown apart from the top, one at the bottom, and one on each flat
/// that the tool can stand on within the area; after each that is not for flats only, those between it and
/// the one above.
[[nodiscard]] std::vector<RoughingLevel> roughing_levels(const Site& site, const LevelAreas& areas,
                                                         double top, const RoughingOptions& options,
                                                         double lowest);

/// Draws where the tool can stand on each level within the site's area: with all of it, shank and holder too,
/// free of the part and of the material that stands when the level is cut.
void draw(std::vector<RoughingLevel>& levels, const Site& site, const LevelAreas& areas,
          const Progress& progress);

}  // namespace yardpass::detail
