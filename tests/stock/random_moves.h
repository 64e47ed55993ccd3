// Moves for tests of carving.
#pragma once

#include "support/rng.h"
#include "yardpass/stock/stock.h"

namespace yardpass::testing {

/// One after the other, of cutters 0 to 2, over a block of 20 x 15: sloped, level and upright.
inline std::vector<SweptMove> random_moves(Rng& rng, int count) {
  std::vector<SweptMove> moves;
  Vec3 at(rng.uniform(0, 20), rng.uniform(0, 15), rng.uniform(-2, 6));
  for (int i = 0; i < count; ++i) {
    Vec3 to = at + Vec3(rng.uniform(-6, 6), rng.uniform(-6, 6), rng.uniform(-3, 3));
    if (rng.pick(3) == 0) to.z() = at.z();
    if (rng.pick(8) == 0) to.head<2>() = at.head<2>();
    to = to.cwiseMax(Vec3(-3, -3, -2)).cwiseMin(Vec3(23, 18, 6));
    moves.push_back({at, to, rng.pick(3), true});
    at = to;
  }
  return moves;
}

}  // namespace yardpass::testing
