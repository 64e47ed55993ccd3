/// How far apart neighbouring passes really lie, on the surface.
#pragma once

#include <optional>
#include <vector>

#include "yardpass/contact/tool_surface.h"
#include "yardpass/plan/cuts.h"

namespace yardpass {

/// A place on a pass and how far from there the next pass is, in space.
struct SpacingAt {
  Vec3 tip;
  double mm;
};

struct TrueSpacing {
  double asked_mm = 0;
  double half_mm = 0, most_mm = 0, greatest_mm = 0;  ///< on 50, 95, 100 % of the length that has a neighbour
  Vec3 at = Vec3::Zero();                            ///< of the greatest
  double share_above = 0;                            ///< of the length: farther than asked, by over 2 %
  std::vector<SpacingAt> places;                     ///< in the order of the cuts
};

/// From places along each pass to the nearest place of the pass with the next number, in space, between tip
/// positions. Where the next pass has ended, or is not seen within eight times what was asked in plan, there
/// is no neighbour. Passes that have no number have none. Runs on all cores; the result does not depend on
/// their number. REQUIRES: asked_mm above 0
[[nodiscard]] TrueSpacing true_spacing(const CutPlan& plan, double asked_mm, std::size_t places = 20000);

/// Which pattern would space its passes better.
struct PatternHint {
  enum class Better : std::uint8_t { none, other_angle, waterline, scallop, flats };
  Better better = Better::none;
  double angle_deg = 0;    ///< of the other angle
  double share_above = 0;  ///< of the area in plan: passes farther apart on it than in plan by over a quarter
  double share_better = 0;  ///< the same with what is better
};

/// For straight passes at an angle: by how the tip surface rises across them, from pass to pass. Another
/// angle is better if it leaves no more than a third as much; waterlines if at least half of the surface is
/// steeper than 50 degrees; flats if nearly all of it is level and the tool has a flat end; else passes at
/// equal distance on the surface. None while passes are too far apart on no more than a tenth.
[[nodiscard]] PatternHint pattern_hint(const CutPlan& plan, const ToolSurface& surface, double angle_deg,
                                       double stepover_mm);

}  // namespace yardpass
