/// Which places of a path count, by where the tool touches the part there.
#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/polyline.h"
#include "yardpass/geom/region.h"

namespace yardpass {

/// Slopes of a surface against level, in degrees: 0 level, 90 upright. Both ends are in.
struct SlopeLimits {
  double least_deg = 0, greatest_deg = 90;
  bool operator==(const SlopeLimits&) const = default;
};

/// A rule about touches. Cheap to copy; immutable, so any number of threads may ask it.
class TouchRule {
 public:
  /// `inside`: where the point of touch must lie, seen from above. `slope`: of the triangle that is touched.
  /// What breaks the rule by no more than the tolerance (for slopes: by no more than a degree) belongs
  /// nearly; what would be in no smaller area, drawn in by the tolerance and grown again, belongs but not
  /// surely.
  explicit TouchRule(const std::optional<Region>& inside, const std::optional<SlopeLimits>& slope = {},
                     double tolerance_mm = 0);

  enum class Belongs : std::uint8_t { no, nearly, yes, surely };
  /// `upright`: the tool stands beside a wall, whichever edge of it is touched from above.
  [[nodiscard]] Belongs operator()(const ContactPart& part, const Touch& touch, bool upright = false) const;
  /// The place just inside the area that is nearest to one outside it, if it is within reach.
  [[nodiscard]] std::optional<Vec2> nearest_inside(const Vec2& place, double reach) const;

 private:
  struct Areas;
  std::shared_ptr<const Areas> areas_;  // none: anywhere
  std::optional<SlopeLimits> slope_;
};

/// The pieces of a path that belong. Each begins and ends where the rule is met, found by bisection within
/// `precision_mm` along the path; between its ends the rule may be broken within the tolerance, so that a
/// pass along a border of facets is whole or absent. Pieces that belong nowhere surely are left out and
/// counted: they exist only through the tolerance. What leaves and comes back within `step_mm` may be missed.
/// Where the path floats above the surface, the touch straight below counts. A flat end that lies on level
/// ground touches all of it: any place under it that belongs will do. Beside an upright wall the touch
/// straight below is on the ground at its foot; with `thicker`, the same tool thicker by as much as the path
/// may keep from the part, the touch of that one counts where the path floats higher than `floats_mm`.
struct PiecesThatBelong {
  std::vector<Polyline3> pieces;
  std::int64_t scraps = 0;
  /// No more of the path than a step at each end of a piece belongs nearly but not quite.
  bool whole = true;
};
[[nodiscard]] PiecesThatBelong pieces_that_belong(const TipSurface& surface, const Polyline3& path,
                                                  const TouchRule& rule, double step_mm,
                                                  double precision_mm = 1e-5,
                                                  const TipSurface* thicker = nullptr, double floats_mm = 0);

}  // namespace yardpass
