// Passes at levels, sorted into the walls that they run along.
#pragma once

#include <cstdint>
#include <vector>

#include "yardpass/plan/contours.h"

namespace yardpass::detail {

struct WallPass {
  double z;
  Contour contour;
  std::int32_t level;    // from 0, the highest
  bool between = false;  // a piece between two levels: after the upper of the two
  std::int32_t wall = -1;
};

/// A run of passes one below the other, each the only one below the one above it and the other way round.
struct Wall {
  std::vector<std::size_t> passes;  // from the top down
  std::vector<std::size_t> pieces;  // in between
  std::vector<std::int32_t> above;  // walls that it goes on from
};

/// Sorts passes that stand highest first. A pass belongs below the one of the level above that is nearest to
/// it, if that is within `reach_mm` in plan.
[[nodiscard]] std::vector<Wall> walls_of(std::vector<WallPass>& passes, double reach_mm);

}  // namespace yardpass::detail
