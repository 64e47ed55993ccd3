/// How much of the cutter met material in an operation, from its program and the stock.
#pragma once

#include <array>
#include <cstdint>

#include "yardpass/geom/vec.h"

namespace yardpass {

/// Over all moves at feed but for entries: the way down after a rapid, and what follows along the same line
/// in plan (the last turn of a helix, a ramp back to its start). See EngagementMeter for how an angle is
/// measured.
struct Engagement {
  double length_mm = 0;                    ///< measured
  std::array<double, 180> mm_by_degree{};  ///< length met at 0 to 1 degree, 1 to 2, ...
  double takes_nothing_mm = 0;             ///< over what is cleared
  double greatest_deg = 0;                 ///< anywhere
  std::int32_t greatest_line = 0;
  Vec3 greatest_at{0, 0, 0};
  double above_limit_mm = 0;  ///< length above the tool's limit, if it has one
  double cell_mm = 0;         ///< of the stock it was measured on

  /// Shares of the length at 0 to 10 degrees, 10 to 20, ...
  [[nodiscard]] std::array<double, 18> shares_by_ten() const;
  /// On this share of the length the angle is not greater, of what takes material; within a degree.
  [[nodiscard]] double angle_on(double share) const;
};

}  // namespace yardpass
