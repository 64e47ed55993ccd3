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

/// Draws where the tool can stand on each level within the site's area, with all of it free of the part.
void draw(std::vector<RoughingLevel>& levels, const Site& site, const LevelAreas& areas,
          const Progress& progress);

/// Follows the material from level to level, for what of the tool reaches above the cutter's flutes: it keeps
/// off what still stands there when a level is cut.
class StandingMaterial {
 public:
  explicit StandingMaterial(const Site& site);

  /// Something of the tool comes down to the top of the material on its way to a height.
  [[nodiscard]] bool matters(double lowest) const;
  /// Where a body of the tool would stand in material, with the tip at a height.
  [[nodiscard]] Region barred(double z) const;
  /// The cells go down to a height.
  void cut(std::span<const std::uint8_t> cells, double z);

 private:
  struct Body {
    double above_tip_mm, reach_mm;
  };
  Stock stock_;
  std::vector<Body> bodies_;
};

}  // namespace yardpass::detail
