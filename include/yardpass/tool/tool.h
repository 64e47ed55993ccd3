/// A tool as the rack and the tool table know it.
#pragma once

#include <string>
#include <vector>

#include "yardpass/tool/profile.h"

namespace yardpass {

enum class Shape { ball, flat, bull, taper, chamfer, profile };
[[nodiscard]] const char* name_of(Shape shape);

/// One cone or cylinder of the holder, counted from the spindle's face side nearest to the cutter upwards.
struct HolderSection {
  double length_mm;
  double lower_diameter_mm;
  double upper_diameter_mm;
};

struct Tool {
  std::string name = {};  ///< as in the job's tool table
  int number = 0;         ///< T word, and H word of the length compensation
  Shape shape = Shape::ball;
  double diameter_mm = 0;                           ///< of a taper: at its tip
  double corner_radius_mm = 0;                      ///< bull and taper
  double taper_angle_deg = 0;                       ///< taper and chamfer: from the axis
  double tip_diameter_mm = 0;                       ///< chamfer: width of its flat tip
  std::vector<Profile::OutlinePoint> outline = {};  ///< of a free profile, from the tip outwards
  double flute_length_mm = 0;
  double neck_diameter_mm = 0;  ///< between flutes and shank; 0: no neck
  double neck_length_mm = 0;
  double shank_diameter_mm = 0;
  double stickout_mm = 0;  ///< tip to holder
  std::vector<HolderSection> holder = {};
  double spindle_rpm = 0;
  double feed_mm_min = 0;         ///< cutting
  double plunge_feed_mm_min = 0;  ///< straight down
  double ramp_feed_mm_min = 0;    ///< down a slope while cutting
  double link_feed_mm_min = 0;    ///< between passes
  bool coolant = true;
};

/// The cutter's outline. Throws Error naming the dimension that is impossible.
[[nodiscard]] Profile profile_of(const Tool& tool);

/// What the values missing in a table (0) become, from the ones that are there: plunge 1/3, ramp 1/2 and link
/// 1 of the cutting feed, shank as wide as the cutter, stick-out four diameters, flutes two diameters, never
/// longer than the stick-out.
[[nodiscard]] Tool completed(Tool tool);

}  // namespace yardpass
