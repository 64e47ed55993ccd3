#include "yardpass/contact/tube.h"

#include "yardpass/contact/arcs.h"

namespace yardpass {

namespace {

double checked(double tolerance, double sagitta) {
  require(sagitta > 0 && tolerance > 2 * sagitta, "tolerance_mm",
          "must be above twice the sagitta, and that above 0");
  return tolerance;
}

}  // namespace

Tube::Tube(const TipSurface& surface, double tolerance_mm, double sagitta_mm)
    : tolerance_(checked(tolerance_mm, sagitta_mm)),
      sagitta_(sagitta_mm),
      lower_(surface),
      middle_(surface.with_more_allowance(tolerance_mm / 2)),
      upper_(surface.with_more_allowance(tolerance_mm)),
      lower_for_arcs_(surface.with_more_allowance(sagitta_mm)),
      upper_for_arcs_(surface.with_more_allowance(tolerance_mm - sagitta_mm)) {}

Clearance Tube::room(const Vec3& a, const Vec3& b, double up_to) const {
  return lower_.clearance(a, b, up_to);
}

Clearance Tube::room(const Arc& arc, double up_to) const {
  return clearance_by_thicker(lower_for_arcs_, arc, sagitta_, up_to);
}

Cover Tube::cover(const Vec3& a, const Vec3& b, std::int32_t near_triangle) const {
  return covered(upper_, a, b, near_triangle);
}

Cover Tube::cover(const Arc& arc, std::int32_t near_triangle) const {
  const std::vector<Vec3> points = chord_points(arc, sagitta_);
  Cover whole{true, 1, near_triangle};
  for (std::size_t i = 0; i + 1 < points.size(); ++i) {
    const Cover chord = covered(upper_for_arcs_, points[i], points[i + 1], whole.triangle);
    whole.triangle = chord.triangle;
    if (chord.whole) continue;
    whole.whole = false;
    whole.share = (static_cast<double>(i) + chord.share) / static_cast<double>(points.size() - 1);
    break;
  }
  return whole;
}

}  // namespace yardpass
