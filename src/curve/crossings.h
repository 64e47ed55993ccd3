// Where straight pieces cross in plan.
#pragma once

#include <optional>

#include "yardpass/geom/vec.h"

namespace yardpass::detail {

struct PlanCrossing {
  double s, t;  ///< shares along the first and the second piece
};

/// Where the lines through a-b and c-d meet; nothing if they are parallel (turn below 1e-9).
inline std::optional<PlanCrossing> line_crossing(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
  const Vec2 u = b - a, v = d - c, w = c - a;
  const double turn = u.x() * v.y() - u.y() * v.x();
  if (!(std::abs(turn) > 1e-9 * u.norm() * v.norm())) return std::nullopt;
  return PlanCrossing{(w.x() * v.y() - w.y() * v.x()) / turn, (w.x() * u.y() - w.y() * u.x()) / turn};
}

}  // namespace yardpass::detail
