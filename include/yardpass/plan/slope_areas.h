/// Where the part is steep and where it is shallow, as areas without scraps.
#pragma once

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"

namespace yardpass {

enum class Steepness : std::uint8_t { steep, shallow };

struct SlopeSplit {
  double angle_deg = 45;  ///< of the tip surface from level: steeper is steep; REQUIRES: 10 to 85
  /// Both areas reach half of it over the seam; REQUIRES: at least 0
  double overlap_mm = 0;
  friend bool operator==(const SlopeSplit&, const SlopeSplit&) = default;
};

struct SlopeAreas {
  Region steep, shallow;  ///< for the tool's axis; together the whole area
  /// Without the overlap: how many connected pieces, how much area in plan.
  std::int64_t steep_pieces = 0, shallow_pieces = 0;
  double steep_mm2 = 0, shallow_mm2 = 0;
  /// The steepest that the shallow area holds on all but a hundredth of it, and the gentlest of the steep
  /// one.
  double steepest_shallow_deg = 0, gentlest_steep_deg = 90;

  [[nodiscard]] const Region& of(Steepness side) const { return side == Steepness::steep ? steep : shallow; }
};

/// How far beyond the angle a place is steep, or shallow, by itself; between, its neighbourhood decides.
inline constexpr double kSlopeBand = 6;  // degrees

/// Splits an area by the slope of the tip surface at a grid of touches, an eighth of the tool's radius apart.
/// What is steeper than the angle by more than kSlopeBand is steep, what is less steep by more than that is
/// shallow, and between the two the mean slope within half a radius decides, so that noise of scans does not
/// fray the seam. Pieces below a radius squared change sides, except steep ones with real walls (more than 20
/// degrees above the angle). Upright walls have no width in plan: the strip between two nodes of very
/// different height is steep. A sharp edge above a wall, over which a round tool rolls, belongs to the wall.
/// Runs on all cores; the result does not depend on their number. Throws Error if an option breaks what it
/// asks for.
[[nodiscard]] SlopeAreas slope_areas(const TipSurface& surface, const Region& area, const SlopeSplit& split,
                                     const Progress& progress = {});

}  // namespace yardpass
