/// One closed loop from scattered pieces.
#pragma once

#include <vector>

#include "yardpass/curve/curve.h"
#include "yardpass/geom/error.h"

namespace yardpass {

/// How two neighbouring pieces were brought together, seen from above.
enum class Meeting {
  touching,  ///< the ends were at one place
  cut_back,  ///< they crossed: both end at the crossing
  extended,  ///< run on straight, they meet at a corner
  bridged    ///< a straight piece from end to end
};
[[nodiscard]] const char* name_of(Meeting meeting);

struct Junction {
  std::size_t from = 0, to = 0;  ///< numbers of the pieces, as given, from 0
  Meeting how = Meeting::touching;
  double changed_mm = 0;  ///< what was added or cut off, in plan: the longer of the two sides
  Vec3 at{0, 0, 0};       ///< the corner, or the middle of the bridge
};

struct ClosedLoop {
  Curve curve;                      ///< counter-clockwise seen from above
  std::vector<Junction> junctions;  ///< in its order
};

/// Thrown where no loop can be made; the places are for a picture.
class LoopError : public Error {
 public:
  LoopError(const std::string& what, std::vector<Curve> given, std::vector<Vec3> where)
      : Error(what), pieces(std::move(given)), places(std::move(where)) {}
  std::vector<Curve> pieces;
  std::vector<Vec3> places;
};

/// Puts pieces in order and brings their ends together as a person would draw it: where two neighbours cross,
/// what stands out is cut off; where they would meet if they ran on straight, they do; else a straight piece
/// bridges the gap. Heights stay: where the ends that meet differ in height, the loop steps up or down there.
/// Nothing is added or cut off that is longer than `gap_mm`. A single piece is closed on itself. Order: the
/// cheapest junction first (Kruskal 1956, with both ends of a piece used once). Throws LoopError that names
/// the pieces (by name, else by number from 1) and places: a gap that is too wide, a closed piece among
/// several, a loop that crosses itself.
[[nodiscard]] ClosedLoop close_loop(const std::vector<Curve>& pieces, double gap_mm);

}  // namespace yardpass
