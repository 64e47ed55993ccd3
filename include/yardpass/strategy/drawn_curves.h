/// Curves that passes run along as they are drawn: of projected curves and of engraving.
#pragma once

#include <cstdint>
#include <vector>

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/given_curves.h"
#include "yardpass/plan/site.h"

namespace yardpass {

enum class DrawnOrder : std::uint8_t {
  as_drawn,    ///< one after the other, each the way it is drawn
  to_and_fro,  ///< one after the other, each from its end that is nearer to where the one before ended
  joined       ///< curves whose ends meet are one, and the order is the one with least air
};

struct DrawnCurves {
  GivenCurves curves;  ///< seen from above; REQUIRES: at least one
  DrawnOrder order = DrawnOrder::as_drawn;
  bool last_first = false;                ///< from the last curve to the first
  std::vector<std::int64_t> turned = {};  ///< curves that run the other way, by their number as drawn, from 1
  bool own_heights = false;               ///< their Z is added to the height of the surface
};

namespace detail {

/// A curve as it is cut, or several that are joined.
struct DrawnLine {
  DepthLine line;                          ///< depths below the surface; negative: above it
  std::vector<std::int64_t> numbers = {};  ///< of its curves as drawn, from 1
};

/// `curves`, `order`, `last_first`, `turned`, `own_heights`.
void drawn_keys(DrawnCurves& drawn, Keys& keys);
/// In the order in which they are cut (joined ones: in which they are drawn), without curves that have no
/// length. Depths are those of their own heights.
[[nodiscard]] std::vector<DrawnLine> drawn_lines(const DrawnCurves& drawn);
[[nodiscard]] std::vector<CurveRole> drawn_roles(const DrawnCurves& drawn,
                                                 const std::vector<DrawnLine>& lines);
/// What of them is below the surface.
[[nodiscard]] IntendedCuts intended_along(const std::vector<DrawnLine>& lines);
/// Lifted onto the surface within the site's area, pass by pass. What is above the surface is raised; what is
/// below it goes into CutPlan::sunk.
[[nodiscard]] CutPlan drawn_cuts(const std::vector<DrawnLine>& lines, DrawnOrder order, const Site& site,
                                 const Progress& progress);

}  // namespace detail

}  // namespace yardpass
