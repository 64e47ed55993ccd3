#include "post/cycle.h"

#include <algorithm>

#include "yardpass/geom/error.h"

namespace yardpass::detail {

bool is_cycle(double code) {
  for (const double one : {73.0, 81.0, 82.0, 83.0, 85.0, 86.0, 89.0})
    if (code == one) return true;
  return false;
}

std::vector<CycleMove> hole(const Cycle& cycle, const Vec3& from, const Vec2& place) {
  if (!cycle.r) throw Error("a drilling cycle needs R, the height where its feed begins");
  if (!cycle.z) throw Error("a drilling cycle needs Z, its bottom");
  const double r = cycle.relative ? cycle.first_z + *cycle.r : *cycle.r;
  const double bottom = cycle.relative ? r + *cycle.z : *cycle.z;
  if (bottom > r) throw Error("the bottom of a drilling cycle lies above its R");
  std::vector<CycleMove> moves;
  // From below R straight up to it first, as the standard says.
  const double high = std::max(from.z(), r);
  moves.push_back({with_z(plan(from), high), true});
  moves.push_back({with_z(place, high), true});
  moves.push_back({with_z(place, r), true});
  moves.push_back({with_z(place, bottom), false});
  const bool out_at_feed = cycle.code == 85 || cycle.code == 89;
  moves.push_back({with_z(place, r), !out_at_feed});
  if (!cycle.back_to_r && cycle.first_z > r) moves.push_back({with_z(place, cycle.first_z), true});
  return moves;
}

}  // namespace yardpass::detail
