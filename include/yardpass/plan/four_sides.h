/// Four sides for passes that flow from one to the other, and curves in between. In plan, in millimetres.
/// Pure functions: safe from many threads.
#pragma once

#include <array>
#include <vector>

#include "yardpass/curve/close_loop.h"
#include "yardpass/plan/rails.h"

namespace yardpass {

/// Curves by what they are for. Their own directions do not matter.
struct NamedSides {
  Curve first, last;           ///< the first pass and the last
  Curve start, end;            ///< where passes start and end
  std::vector<Curve> between;  ///< passes on their way, in any order
};

/// Sides that meet at their ends, all curves cut to what lies between them.
struct FourSides {
  std::vector<Polyline2> guides;  ///< first pass, those between, last pass; all run from `start` to `end`
  Polyline2 start, end;           ///< from the first pass to the last
  std::vector<Junction> junctions = {};  ///< of first (0), last (1), start (2) and end (3)
};

/// Brings sides together as `close_loop` does, and each curve between to both ends: cut off where it crosses
/// them, run on straight to them within `reach_mm` otherwise. Throws LoopError, with curves and places for a
/// picture, if sides do not meet within the reach, cross each other, if the first and the last pass do not
/// lie opposite each other, or if curves between do not lead from end to end, or cross a side or each other.
[[nodiscard]] FourSides bring_together(const NamedSides& sides, double reach_mm);

/// One between each two neighbouring guides. REQUIRES: two guides at least, as `bring_together` gives them.
[[nodiscard]] std::vector<Rails> rails_of(const FourSides& sides, double longest_mm);

/// The border of an area cut at four places: the two longer of opposite sides become first and last pass, the
/// first being the one that lies lower in Y (or X); passes start towards lower X (or Y).
[[nodiscard]] NamedSides sides_of(const Polyline2& loop, const std::array<Vec2, 4>& corners);

/// The four clearest corners of a loop: where it turns most within a thirtieth of its length, by at least 35
/// degrees and clearly more than anywhere else. Throws Error that names the turns if there are no such four.
[[nodiscard]] std::array<Vec2, 4> clearest_corners(const Polyline2& loop);

/// Where a line turns by more than `least_deg` within `within_mm`: the sharpest place of each such stretch.
struct Kink {
  Vec2 at{0, 0};
  double turn_deg = 0;
};
[[nodiscard]] std::vector<Kink> kinks_of(const Polyline2& line, bool closed, double within_mm,
                                         double least_deg);

}  // namespace yardpass
