#include "yardpass/contact/arcs.h"

#include <algorithm>
#include <cmath>

#include "yardpass/geom/error.h"

namespace yardpass {

Vec3 Arc::at(double share) const {
  const Vec2 from = plan(start) - centre;
  const double angle = share * turn_rad, c = std::cos(angle), s = std::sin(angle);
  return {centre.x() + c * from.x() - s * from.y(), centre.y() + s * from.x() + c * from.y(),
          start.z() + share * (end_z - start.z())};
}

Clearance clearance(const TipSurface& surface, const Arc& arc, double sagitta_mm, double up_to) {
  if (!(sagitta_mm > 0)) throw Error("the sagitta of an arc must be above 0");
  const double radius = (plan(arc.start) - arc.centre).norm(), turn = std::abs(arc.turn_rad);
  // A chord over the angle 2 h has the sagitta radius (1 - cos h).
  const double half = sagitta_mm < radius ? std::acos(1 - sagitta_mm / radius) : 1.5;
  const auto chords = static_cast<int>(std::max(1.0, std::ceil(turn / (2 * half))));
  const TipSurface thicker =
      surface.with_more_allowance(radius * (1 - std::cos(0.5 * turn / chords)) + 1e-12);
  Clearance best;
  best.room = up_to;
  Vec3 from = arc.start;
  for (int i = 0; i < chords; ++i) {
    const Vec3 to = arc.at(static_cast<double>(i + 1) / chords);
    const Clearance room = thicker.clearance(from, to, best.room);
    if (room.triangle >= 0 && room.room < best.room) {
      best = room;
      best.share = (i + room.share) / chords;
      best.tip = arc.at(best.share);
    }
    from = to;
  }
  return best;
}

}  // namespace yardpass
