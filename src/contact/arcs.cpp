#include "yardpass/contact/arcs.h"

namespace yardpass {

Clearance clearance(const TipSurface& surface, const Arc& arc, double sagitta_mm, double up_to) {
  return clearance_by_thicker(surface.with_more_allowance(sagitta_mm), arc, sagitta_mm, up_to);
}

Clearance clearance_by_thicker(const TipSurface& thicker, const Arc& arc, double sagitta_mm, double up_to) {
  const std::vector<Vec3> points = chord_points(arc, sagitta_mm);
  const auto chords = static_cast<double>(points.size() - 1);
  Clearance best;
  best.room = up_to;
  for (std::size_t i = 0; i + 1 < points.size(); ++i) {
    const Clearance room = thicker.clearance(points[i], points[i + 1], best.room);
    if (room.triangle >= 0 && room.room < best.room) {
      best = room;
      best.share = (static_cast<double>(i) + room.share) / chords;
      best.tip = arc.at(best.share);
    }
  }
  return best;
}

}  // namespace yardpass
