/// Valleys: where a round-ended cutter touches two places of the part at once, and leaves a corner between
/// them.
///
/// On the tip surface a valley is a kink that bends upwards. Between touches of a grid kinks are seen by the
/// chord against both slopes; each is closed in where the tangents of both sides meet; cells of the grid join
/// them to lines, which are then followed on to their ends. Source of the idea: pencil curves as lines where
/// the inverse tool offset surface crosses itself, see B. K. Choi and R. B. Jerard, "Sculptured Surface
/// Machining", 1998; the joining in cells is that of W. E. Lorensen and H. E. Cline, "Marching Cubes", 1987,
/// in the plane.
#pragma once

#include <cstdint>
#include <vector>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"

namespace yardpass {

struct ValleyOptions {
  /// What the cutter leaves in the corner must be more than this, measured from its round to the part. So a
  /// fillet as wide as the cutter's round, or wider, is no valley, and neither are facets of a fine mesh.
  double left_mm = 0.02;        ///< REQUIRES: above 0
  double shortest_mm = 6;       ///< lines that are shorter in space are left out
  double tolerance_mm = 0.005;  ///< chords leave the valley by no more, in plan; REQUIRES: above 0
  double cell_mm = 0;           ///< of the grid; 0: a third of the cutter's round
};

struct Valley {
  Polyline2 line;  ///< of the tip's place; of a closed one the first point is not repeated
  bool closed = false;
  double length_mm = 0;  ///< in space
  double left_mm = 0;    ///< the most that the cutter leaves along it
};

struct Valleys {
  std::vector<Valley> lines;
  std::int64_t too_short = 0;  ///< lines left out
  double too_short_mm = 0;     ///< their length
  std::int64_t touches = 0;    ///< asked for
};

/// The radius of the round that a cutter ends in: of a ball, or a taper with a round tip. 0: it does not end
/// in a round, so valleys() has no answer.
[[nodiscard]] double round_end_mm(const Profile& cutter);

/// The valleys of an area, for the tool's axis. Each point of a line is found within 0.00001 mm across it,
/// where the part lets a place be told so exactly; lines that meet in a corner end at one place, and where
/// two do they are one. Valleys that rise more steeply than 80 degrees, as in the upright corners of a
/// pocket, are not followed: waterlines cut those. Corners sharper than the grid's cell may be cut by it.
/// Runs on all cores; the result does not depend on their number. Throws Error if the cutter has no round
/// end, or an option breaks what it asks for.
[[nodiscard]] Valleys valleys(const TipSurface& surface, const Region& area, const ValleyOptions& options,
                              const Progress& progress = {});

}  // namespace yardpass
