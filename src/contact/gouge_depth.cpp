#include <cmath>

#include "yardpass/contact/tip_surface.h"

namespace yardpass {

namespace {

/// Is the cutter, thicker all round by `by` (thinner if negative), free of the part along the move of its
/// tip?
bool free_when(const TipSurface& surface, double by, const Vec3& a, const Vec3& b) {
  const auto changed = resized(surface.cutter(), by);
  if (!changed) return true;  // shrunk to nothing
  const Vec3 shift(0, 0, changed->tip_z_mm);
  const TipSurface other(surface.shared_part(), changed->profile);
  return other.clearance(a + shift, b + shift, 0.0).room >= 0;
}

/// How deep the middle of a cutter that has shrunk to nothing still lies in the part, where it lies deepest
/// below the part's upper side.
double middle_inside(const TipSurface& surface, double shrunk_by, const Vec3& a, const Vec3& b) {
  const Vec3 up(0, 0, shrunk_by);
  const TipSurface middle(surface.shared_part(), Profile::needle());
  const Clearance deepest = middle.clearance(a + up, b + up);
  return deepest.room < 0 ? surface.part().distance(deepest.tip, -deepest.room) : 0;
}

}  // namespace

double room_around(const TipSurface& surface, const Vec3& a, const Vec3& b, double up_to_mm) {
  if (free_when(surface, up_to_mm, a, b)) return up_to_mm;
  double low = 0, high = 0;  // free at low, not free at high
  if (free_when(surface, 0, a, b)) {
    high = up_to_mm;
  } else {
    double step = 1e-6;
    while (!free_when(surface, -step, a, b)) high = -step, step *= 4;
    low = -step;
  }
  while (high - low > 1e-9) {
    const double middle = 0.5 * (low + high);
    (free_when(surface, middle, a, b) ? low : high) = middle;
  }
  // Where only a cutter that is gone is free, its middle tells how much deeper it is.
  if (low < 0 && !resized(surface.cutter(), low)) low -= middle_inside(surface, -low, a, b);
  return low;
}

}  // namespace yardpass
