/// A tool as the rack and the tool table know it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "yardpass/tool/profile.h"

namespace yardpass {

class Keys;

enum class Shape {
  ball,
  flat,
  bull,
  taper,
  chamfer,
  profile,
  lollipop,  ///< a ball on a neck
  tslot      ///< a disc on a neck, its rim as a bull nose's below
};
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
  double corner_radius_mm = 0;                      ///< bull, taper and T-slot
  double taper_angle_deg = 0;                       ///< taper and chamfer: from the axis
  double tip_diameter_mm = 0;                       ///< chamfer: width of its flat tip
  std::vector<Profile::OutlinePoint> outline = {};  ///< of a free profile, from the tip outwards
  double flute_length_mm = 0;
  double neck_diameter_mm = 0;  ///< between flutes and shank; 0: no neck
  double neck_length_mm = 0;
  double shank_diameter_mm = 0;
  double stickout_mm = 0;  ///< tip to holder
  std::vector<HolderSection> holder = {};
  /// How far what is above the cutter keeps from the part, for planning and for the judge.
  double neck_clearance_mm = 0, shank_clearance_mm = 0, holder_clearance_mm = 0;
  double spindle_rpm = 0;
  double feed_mm_min = 0;         ///< cutting
  double plunge_feed_mm_min = 0;  ///< straight down
  double ramp_feed_mm_min = 0;    ///< down a slope while cutting
  double link_feed_mm_min = 0;    ///< between passes
  bool coolant = true;
  /// The steepest way down into material that it takes, from level [degrees]; 90: it cuts over its middle.
  double steepest_entry_deg = 0;
  /// So much material may stand under its axis on a steeper way down.
  double plunge_through_mm = 0;
  bool steepest_within_cuts = false;  ///< that counts within cuts too, not only where they are entered
  double thickest_cut_mm = 0;         ///< more material in its way is a finding, in space; 0: no limit
  /// More of the leading half of the cutter in material is a finding, entries apart; 0: no limit.
  double widest_engagement_deg = 0;
  double plunge_limit_mm_min = 0;  ///< straight down into material it must not go faster; 0: nothing said
  /// The cutter is narrower above than below, so it can stand below an overhang.
  [[nodiscard]] bool undercuts() const { return shape == Shape::lollipop || shape == Shape::tslot; }
};

/// The cutter's outline; of one that undercuts, the outline from below, as if it went on upwards as wide as
/// it is. Throws Error naming the dimension that is impossible.
[[nodiscard]] Profile profile_of(const Tool& tool);

/// All that a table of a tool says.
void keys_of(Tool& tool, Keys& keys);

/// A value that a tool needs and does not have: its key in the tool table, and what it is for.
struct ToolLack {
  const char* key;
  std::string what;
};
/// What the cutter's shape needs and is not there (0 or empty).
[[nodiscard]] std::vector<ToolLack> lacks(const Tool& tool);

/// What the values missing in a table (0) become, from the ones that are there: plunge 1/3, ramp 1/2 and link
/// 1 of the cutting feed, shank as wide as the cutter, stick-out four diameters, flutes two diameters, of a
/// lollipop as far as the ball stands out of its neck, never longer than the stick-out. A lollipop or T-slot
/// cutter has a neck: half the diameter wide, up to the holder. Nothing said of its steepest entry: 80
/// degrees for cutters that are round at their tip, 45 for all others, and straight down
/// at the start of a cut through no more than half a radius; if it is said, anywhere through no more than a
/// tenth of the radius. Throws Error naming the key of a value that only
/// the user can know: those of `lacks`. Completing twice changes nothing.
[[nodiscard]] Tool completed(Tool tool);

/// Throws Error naming the key if the tool, completed, has no feed.
void require_feeds(const Tool& tool);
/// Throws Error naming the key if it has no number or no spindle speed, which a program needs.
void require_number_and_spindle(const Tool& tool);

/// A tool as a job names it; it is found once the job is carried out.
struct GivenTool {
  std::string name = {};
  std::optional<Tool> tool = {};
  [[nodiscard]] bool given() const { return !name.empty() || tool.has_value(); }
};

}  // namespace yardpass
