/// Rest areas: where a larger cutter leaves material that a smaller one reaches.
#pragma once

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"
#include "yardpass/stock/stock.h"

namespace yardpass {

struct RestOptions {
  double threshold_mm = 0.02;  ///< thinner is not worth it; REQUIRES: above 0
  /// Areas reach so far beyond, over what is finished, by the way over the tip surface (within 3 %).
  double overlap_mm = 0.5;  ///< REQUIRES: at least 0
  double cell_mm = 0;       ///< of the grid of places; 0: an eighth of the smaller cutter's radius
};

struct RestAreas {
  Region area;             ///< for the smaller tool's axis, with the overlap
  Region bare;             ///< without
  double thickest_mm = 0;  ///< that is left
  Vec3 thickest_at{0, 0, 0};
  std::int64_t pieces = 0;
  std::int64_t scraps = 0;  ///< pieces smaller than four cells of the grid, left out
};

/// What a reference cutter leaves where the smaller cutter, standing at a place, touches the part: the least
/// distance between that point of touch and any free position of the reference cutter. By one touch of the
/// reference: it is set down so that it would touch the same point. Where it stands off there, a ball steps
/// out sideways of what it meets, until it is free; of other ends how far they stand off says how far they
/// must step out, and what that leaves on their round: exact where the part around is flat on both sides. 0:
/// it reaches the place, or nothing is there.
/// `doubtful_mm`: where the one touch tells no more than that, nothing is stepped out.
[[nodiscard]] double left_by(const TipSurface& reference, const TipSurface& smaller, const Vec2& place,
                             std::int32_t* near = nullptr, double doubtful_mm = 0);

/// The part of an area in which more than the threshold is left by a reference cutter: the border is found
/// within 0.0001 mm on the lines of a grid. Both surfaces are of the same part; the allowance of the
/// reference counts as left. Scraps are left out. Runs on all cores; the result does not depend on their
/// number. Throws Error if an option breaks what it asks for.
[[nodiscard]] RestAreas rest_areas(const TipSurface& reference, const TipSurface& smaller, const Region& area,
                                   const RestOptions& options, const Progress& progress = {});

/// The same from material: where the smaller cutter meets more than the threshold.
[[nodiscard]] RestAreas rest_areas(const Stock& material, const TipSurface& smaller, const Region& area,
                                   const RestOptions& options, const Progress& progress = {});

}  // namespace yardpass
