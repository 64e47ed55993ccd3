/// What the judge finds.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "yardpass/geom/vec.h"

namespace yardpass {

/// In the order of their danger.
enum class FindingKind {
  gouge,  ///< a feed move cuts into the part, deeper than its operation states
  rapid_into_part,
  rapid_through_stock,
  shank_into_part,
  holder_into_part,
  shank_into_stock,
  holder_into_stock,
  deeper_than_flutes,  ///< material stands above the flutes of a cutting move
  too_near,            ///< any part of the tool is nearer to what is kept away from than its clearance
  in_keep_out,         ///< at feed over an area that the operation keeps out of
  outside_travel,      ///< the tip leaves the machine's travel
  plunge_too_steep,    ///< down into material, steeper than the tool can be entered
  plunge_too_fast,     ///< straight down into material, faster than the tool's plunge feed
  too_thick,           ///< more material in the cutter's way than the tool's limit
  too_engaged,      ///< more of the cutter in material than the tool's limit; its depth is an angle [degrees]
  undercut_cutter,  ///< cuts with a cutter that is narrower above: not proved yet, and never accepted
};
/// In words a machinist would use, for reports: "gouge", "rapid into the part", ...
[[nodiscard]] const char* name_of(FindingKind kind);
/// Stable identifier, as in report.json and job files: "gouge", "rapid-into-part", ...
[[nodiscard]] const char* id_of(FindingKind kind);
[[nodiscard]] const std::vector<FindingKind>& all_finding_kinds();
/// Its depth is an angle in degrees, not a length.
[[nodiscard]] bool is_an_angle(FindingKind kind);
/// Whether such a finding can be accepted beforehand.
[[nodiscard]] bool can_be_accepted(FindingKind kind);

/// All moves of one operation with the same trouble are one finding.
struct Finding {
  FindingKind kind = FindingKind::gouge;
  std::int32_t operation = -1;  ///< index into Program::operations
  std::int32_t line = 0;        ///< the first move's line
  std::int32_t worst_line = 0;  ///< the line of the greatest depth
  std::int32_t moves = 1;       ///< how many have it
  Vec3 at =
      Vec3::Zero();  ///< place of the greatest depth: tip position for the part, place in the stock for stock
  /// Into the part: in space, see `room_around`. Into stock: in Z. Guards: what is missing to their
  /// clearance. Too thick: how thick, in space. Travel: how far outside. Areas kept out of: how far inside.
  /// Plunges: how much material stands under the tool's axis.
  double depth_mm = 0;
  std::string keep_away = {};         ///< which one
  std::string accepted_because = {};  ///< the reason given, if it was accepted beforehand
};

/// A finding that is accepted beforehand, by kind and operation, up to a depth.
struct AcceptedFinding {
  FindingKind kind = FindingKind::gouge;
  std::int32_t operation = 0;  ///< by number
  double up_to_mm = 0;
  std::string reason;
};

}  // namespace yardpass
