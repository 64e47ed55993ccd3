/// Fronts: lines in rows over a part, each equally far from the one before on the surface itself.
///
/// Every line is the one before, advanced point by point square to itself; swallowed corners, vanished holes
/// and fronts that meet are taken out by one planar union of the raw lines a step. Sources: J. A. Sethian,
/// "Level set methods and fast marching methods", 1999 (what a front is); A. Hansen and F. Arbab, "An
/// algorithm for generating NC tool paths for arbitrarily shaped pockets with islands", 1992 (raw offset
/// lines and their winding numbers). Here distances are those between tip positions in space, found by
/// Newton's method on touches of the tool.
#pragma once

#include <cstdint>
#include <vector>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"

namespace yardpass {

/// Where neighbouring lines are as far apart as is asked.
enum class FrontMeasure : std::uint8_t {
  tip,     ///< between positions of the tip
  part,    ///< between the places where the tool touches the part
  scallop  ///< so that a ball leaves ridges of one height: the geometric mean of the two
};

enum class FrontSide : std::uint8_t { inward, outward, both };

/// The line that fronts start from, in plan.
struct FrontStart {
  Region closed = {};                ///< loops, as an area that holds their inside
  std::vector<Polyline2> open = {};  ///< fronts go off to both of their sides
  FrontSide side = FrontSide::both;  ///< of the loops
};

struct FrontOptions {
  double stepover_mm = 0.5;  ///< REQUIRES: above 0
  FrontMeasure measure = FrontMeasure::tip;
  /// No place shall be farther from all lines than this share of the stepover. Where fronts meet, and in
  /// sharp hollow corners, that takes lines of their own: outlines of what lies farther than half a stepover.
  /// 0: there are none. REQUIRES: 0, or at least 0.55
  double farthest = 0.6;
  /// Hollow corners of all lines but the first are rounded, as far as that takes no place farther from them
  /// than `farthest` (0.6, if that is 0) and than the sharp ones reached by half a stepover.
  bool round_corners = true;
};

/// A line; fronts advance to its right.
struct FrontPass {
  Polyline2 line;  ///< in plan; of a closed one the first point is not repeated
  bool closed = false;
  std::int32_t step = 0;                ///< 0: the start itself
  bool middle = false;                  ///< the outline of a place that no other line comes near
  std::vector<std::int32_t> from = {};  ///< passes, by index, that it comes from: none at the start
};

struct FrontPasses {
  std::vector<FrontPass> passes;                   ///< step by step
  std::int64_t touches = 0;                        ///< it asked for
  double highest_jump_mm = 0;                      ///< of an upright wall that a front went over
  Vec3 jump_at{0, 0, 0};                           ///< at its foot or its upper edge
  std::int64_t rays = 0, bisected = 0, jumps = 0;  ///< ways from line to line; those over walls are jumps
};

/// All fronts from a start until the area, for the tool's axis, is done; what of them lies in it. Places
/// where the tool meets nothing are borders, unless the start itself lies in such a place: then they are
/// level ground, so that lines from beside the part come to it.
///
/// Between neighbouring lines, away from corners and ends, the distance in space is the stepover within 1 %,
/// steepness being no matter up to 89.5 degrees; upright walls are jumps without width and get no lines.
/// Errors do not add up. The chord counts, not the way along the surface: they differ by (s / R)^2 / 24 on a
/// radius R. By part or scallop: distances between touches are taken over 1.5 mm or three stepovers, since
/// facets may be wider than a step, and even out along the line over 2 mm.
///
/// Runs on all cores; the result does not depend on their number. Throws Error if an option breaks what it
/// asks for.
[[nodiscard]] FrontPasses fronts_from(const TipSurface& surface, const Region& area, const FrontStart& start,
                                      const FrontOptions& options, const Progress& progress = {});

/// One unbroken line along a run of closed lines, each the only one that comes from the one before: the first
/// whole, then as many turns as there are others. The first turn leaves the line and is a stepover off where
/// it ends, every further turn is the turn before, advanced. Where what is ahead gets too narrow for that it
/// ends early. It begins and ends where the last line is straightest, and at the places of the lines before
/// from which that is reached. `right`: travelled as the lines run (fronts on their right), else against
/// that. REQUIRES: at least one line, all closed
struct FrontSpiral {
  Polyline2 line;                   ///< empty: there is none
  std::vector<std::size_t> joints;  ///< points of it where a turn ends and the next begins
  std::int32_t turns = 0;           ///< that there are
  std::int64_t breaks = 0;          ///< joints that the union swallowed: the line goes on straight from there
};
[[nodiscard]] FrontSpiral front_spiral(const TipSurface& surface, const std::vector<FrontPass>& lines,
                                       bool right, const FrontOptions& options);

}  // namespace yardpass
