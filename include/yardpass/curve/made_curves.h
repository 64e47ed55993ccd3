/// Curves made from numbers, and copies of curves. Lengths in mm, at Z 0 unless said otherwise. Pure
/// functions: safe from many threads. All throw Error if a number breaks what is asked for.
#pragma once

#include <vector>

#include "yardpass/curve/curve.h"

namespace yardpass {

/// Closed, counter-clockwise, chords within 0.001 mm.
[[nodiscard]] Curve circle_curve(const Vec2& centre, double radius_mm);
/// Between two opposite corners, counter-clockwise; its own corners may be rounded.
[[nodiscard]] Curve rectangle_curve(const Vec2& a, const Vec2& b, double corner_radius_mm = 0);

/// Circles about a centre: from one radius to another (outwards or inwards), a step apart; the last radius is
/// among them if it is within a thousandth of the step.
struct RingsFrom {
  Vec2 centre{0, 0};
  double from_mm = 1, to_mm = 10;  ///< radii; REQUIRES: above 0
  double step_mm = 1;              ///< REQUIRES: above 0
};
[[nodiscard]] std::vector<Curve> rings(const RingsFrom& from);

/// Straight lines away from a centre, from one radius to another, evenly spread counter-clockwise.
struct RaysFrom {
  Vec2 centre{0, 0};
  double from_mm = 1, to_mm = 10;  ///< REQUIRES: not negative, different
  int count = 12;                  ///< REQUIRES: at least 1
  double first_deg = 0;            ///< direction of the first one, from X
  double sweep_deg = 360;          ///< over which they are spread; below 360 the last one lies at its end
};
[[nodiscard]] std::vector<Curve> rays(const RaysFrom& from);

/// One line round a centre, each turn a step farther out or in than the one before (Archimedes' spiral),
/// chords within 0.001 mm.
struct SpiralFrom {
  Vec2 centre{0, 0};
  double from_mm = 0, to_mm = 10;  ///< radii; REQUIRES: not negative, different
  double step_mm = 1;              ///< REQUIRES: above 0
  bool clockwise = false;
};
[[nodiscard]] Curve spiral(const SpiralFrom& from);

/// The area of closed curves (odd depth is inside) grown by a step (negative: shrunk), again and again: the
/// borders of all steps, at the height of the first curve. Shrinking ends early where nothing is left.
/// Throws Error if a curve is open.
[[nodiscard]] std::vector<Curve> offsets(const std::vector<Curve>& closed, double step_mm, int count);

/// The curves themselves, then all of them again and again: shifted by `step` each time; row by row; turned
/// round a centre by equal angles over the whole circle.
[[nodiscard]] std::vector<Curve> in_row(const std::vector<Curve>& curves, const Vec2& step, int count);
[[nodiscard]] std::vector<Curve> in_grid(const std::vector<Curve>& curves, const Vec2& step, int columns,
                                         int rows);
[[nodiscard]] std::vector<Curve> in_ring(const std::vector<Curve>& curves, const Vec2& centre, int count);

}  // namespace yardpass
