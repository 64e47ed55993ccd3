/// How far a tool may go at a boundary.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "yardpass/geom/region.h"
#include "yardpass/keys/keys.h"
#include "yardpass/plan/touch_rule.h"

namespace yardpass {

/// What of the tool the boundary holds back.
enum class LimitBy {
  contact,  ///< the point where it touches the part: the axis may go up to a radius outside
  axis,     ///< its axis
  cutter    ///< all of it stays inside
};
/// "contact", "axis", "cutter"
[[nodiscard]] const char* name_of(LimitBy limit);

struct LimitRule {
  LimitBy by = LimitBy::axis;
  double margin_mm = 0;  ///< the boundary lies so much farther out; negative: farther in
};

/// Another rule where the boundary runs inside an area.
struct LimitException {
  Region where;
  LimitRule rule;
};

/// An area as a job gives it: by points, or by a name, which is found once the part is there.
struct GivenArea {
  enum class From { nothing, points, boundary, region, part, stock };
  From from = From::nothing;
  std::string name = {};  ///< of the boundary or region
  Region area = {};
  [[nodiscard]] bool given() const { return from != From::nothing; }
};

/// What an operation works in, by what it gives: one row of the table of areas.
struct AreaRow {
  GivenArea::From given;
  bool at_levels;       ///< of operations that clear levels; else of those that follow the surface
  const char* area;     ///< in words
  LimitBy limit;        ///< unless the operation says another
  const char* because;  ///< half a line
};
/// The table of areas, whole.
[[nodiscard]] std::span<const AreaRow> area_table();
[[nodiscard]] const AreaRow& area_row(GivenArea::From given, bool at_levels);

/// Only one side of the part split by slope, see slope_areas().
struct SteepnessLimits {
  std::optional<double> steep_from_deg = {}, shallow_to_deg = {};
  /// How far the two sides reach over each other; nothing: half a stepover.
  std::optional<double> overlap_mm = {};
};

/// Where an operation may work, as it says.
struct Limits {
  GivenArea keep_inside, keep_out;
  LimitRule rule = {};  ///< at the boundary
  std::vector<LimitException> exceptions = {};
  bool avoid_riding_up = false;  ///< else they are only told
  std::optional<double> top_z = {}, bottom_z = {};
  std::optional<SlopeLimits> slope = {};  ///< of the part where it is touched
  SteepnessLimits steepness = {};
  /// Only where the material before is thicker than this above what the cutter touches.
  std::optional<double> only_where_left_mm = {};
};
/// `keep_inside`, `keep_out`, `limit`, `margin`, `limit_where`, `ride_up`, `top`, `bottom`, `slope`,
/// `steep_from`, `shallow_to`, `seam_overlap`, `only_where_left`. `at_levels`: see Usual.
void keys_of(Limits& limits, bool at_levels, Keys& keys);

/// Where the axis of a tool may be, by an area and the rule at its boundary. By `contact` the axis may be up
/// to a radius outside, and a TouchRule says which of its places count. Exact within kRegionStep and the
/// arc tolerance of 0.001 mm at corners. A rule by contact and other rules cannot be mixed: exceptions by
/// contact throw Error.
[[nodiscard]] Region centre_area(const Region& area, double tool_radius_mm, const LimitRule& rule,
                                 const std::vector<LimitException>& exceptions = {});

}  // namespace yardpass
