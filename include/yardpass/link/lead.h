/// Ways in and out of cuts that leave no mark.
#pragma once

#include <cstdint>
#include <optional>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/polyline.h"

namespace yardpass {

enum class LeadShape : std::uint8_t {
  none,      ///< straight down, straight up
  arc,       ///< a circle that runs into the cut without a corner
  straight,  ///< a line at an angle to the cut
  ramp,      ///< down (or up) along the cut itself, as shallow as ramps are
};

/// The plane in which a lead leaves the line of the cut.
enum class LeadPlane : std::uint8_t {
  surface,  ///< of the cut and the surface's normal: over floors it rises, beside walls it swings away
  upright,  ///< of the cut and Z
  level,    ///< X and Y, away from the part
};

struct Lead {
  LeadShape shape = LeadShape::none;
  LeadPlane plane = LeadPlane::surface;
  double radius_mm = 1;   ///< of an arc; REQUIRES: above 0
  double sweep_deg = 90;  ///< of an arc; REQUIRES: above 0, at most 180
  double length_mm = 1;   ///< of a straight lead; REQUIRES: above 0
  double angle_deg = 45;  ///< of a straight lead to the cut; REQUIRES: 0 to 90

  friend bool operator==(const Lead&, const Lead&) = default;
};

struct Leads {
  Lead in, out;

  friend bool operator==(const Leads&, const Leads&) = default;
};

/// Where a lead ends: the start of a cut.
struct LeadPlace {
  Vec3 at;
  Vec3 along;   ///< of length 1: where the cut goes from here
  Vec3 normal;  ///< of length 1: away from the part
};

/// The lead as a line from its start to the place, no farther than `tolerance_mm` beside its arc; nothing if
/// its shape is no line of its own (none, ramp) or has no plane there, as a level one on level ground.
/// `size`: smaller by that factor.
[[nodiscard]] std::optional<Polyline3> lead_line(const Lead& lead, const LeadPlace& place, double size,
                                                 double tolerance_mm);

/// The place at the start of a line over a surface; at the end of a cut give the line turned round. The
/// normal is the one of the touch where the tool touches, else straight up.
[[nodiscard]] LeadPlace lead_place(const TipSurface& surface, const Polyline3& line);

}  // namespace yardpass
