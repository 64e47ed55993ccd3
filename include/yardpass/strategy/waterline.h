/// Waterline finishing: level passes along the walls, from the top down.
#pragma once

#include <optional>

#include "yardpass/strategy/roughing.h"

namespace yardpass {

/// How a wall that is closed all round is cut from top to bottom.
enum class Descent : std::uint8_t {
  levels,  ///< level by level
  helix    ///< in one unbroken line that falls all the way and ends with a level lap
};

struct WaterlineOptions {
  /// Between levels, which are spread evenly: so far apart or a little less. Nothing: as `scallop_mm` says.
  /// REQUIRES: above 0
  std::optional<double> stepdown_mm = {};
  /// Height of the ridges between passes; REQUIRES: above 0
  double scallop_mm = 0.01;
  /// The scallop height holds where the tool rests on slopes from here up; what is less steep gets no denser
  /// passes. REQUIRES: 3 to 90
  double least_slope_deg = 15;
  LoopDirection direction = LoopDirection::climb;
  LevelOrder order = LevelOrder::by_area;
  Descent descent = Descent::levels;
};

/// `stepdown` or `scallop_height`, `least_slope`, `direction`, `order`, `descent`.
void keys_of(WaterlineOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const WaterlineOptions& options, const Tool& tool);

/// Passes are contours of the tip surface, see plan/contours.h: free of the part, and nowhere farther off it,
/// normal to it, than the site's tolerance; upright walls and inner corners included.
///
/// Levels go from the site's top, or a step below the highest touch in its area, down to its bottom, and one
/// lies just above each level face of the part (1.5 tolerances), which takes the place of levels nearer to
/// it. By scallop the step on a slope a is sin(a) sqrt(8 R c (1 + k R)), for ridges c, the radius R of the
/// tip and the part's curvature k along the fall line, measured by touches; the step of each height is the
/// one for which all passes together are shortest, and where that leaves too much, pieces of passes in
/// between are cut, half a step apart, a quarter, and so on. A sharp corner of a flat end leaves steps
/// instead of ridges: c / cos(a) apart.
///
/// Climb: the material lies on the right. To and fro: every cut may be turned round. A group is a wall from
/// top to bottom, until it parts or joins another (by area), or a level. A helix is made of closed passes one
/// below the other; where a wall opens, parts or joins another it ends with a level lap, and another begins
/// below, if that is closed again.
///
/// Where a contour could not be followed, or a gap could not be ruled out, a note says so with the place.
/// Runs on all cores; the result does not depend on their number. Throws Error if an option breaks what it
/// asks for.
[[nodiscard]] CutPlan cuts_of(const WaterlineOptions& options, const Site& site,
                              const Progress& progress = {});

}  // namespace yardpass
