// Where the points come from that blocks are fitted to.
#pragma once

#include "link/fit_arcs.h"
#include "yardpass/contact/tube.h"
#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

/// The points of a line of cuts: where it rests on the part by touches in the middle of the tolerance, under
/// its line in plan; level pieces and all others as they are.
class PointSource {
 public:
  PointSource(const Tube& tube) : tube_(tube) {}

  [[nodiscard]] std::vector<SmoothPoint> points(const Polyline3& line) const;
  /// One more between two that the surface can be touched between; nothing if they are too near.
  [[nodiscard]] std::optional<SmoothPoint> between(const SmoothPoint& a, const SmoothPoint& b) const;
  /// The end of a cut that runs there along a direction, off the part into the middle of the tolerance; as it
  /// is if it does not rest on the part.
  [[nodiscard]] Vec3 raised(const Vec3& end, const Vec3& along) const;

 private:
  struct Place {
    SmoothPoint point;
    bool on_top = false;  // under it the surface can be touched, near to it
    double middle_z = 0;  // of the touch
  };
  [[nodiscard]] static Vec3 raised(const Place& place, const Vec3& along);
  [[nodiscard]] Place place_of(const Vec3& tip) const;
  [[nodiscard]] std::optional<SmoothPoint> touch(const Vec2& place) const;
  void touch_along(const SmoothPoint& from, const SmoothPoint& to, std::vector<SmoothPoint>& out) const;

  const Tube& tube_;
  mutable std::int32_t near_ = -1;
};

}  // namespace yardpass::detail
