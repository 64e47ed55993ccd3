// Whether cells between blocked corners are blocked all over.
#pragma once

#include <array>

#include "plan/contour/level_trace.h"

namespace yardpass::detail {

struct Corner {
  Vec2 place{0, 0};
  HeightAt at = {};
};
using Corners4 = std::array<Corner, 4>;  // anticlockwise

/// Whether a place is free at a height: the part stands lower, by more than rounding. So a level at the very
/// height of a face of the part is blocked all over it.
[[nodiscard]] inline bool is_free(const HeightAt& at, double z) { return at.z < z - 1e-8; }

/// The greatest height up to which one triangle, of those touched at the corners, blocks the whole cell: over
/// a triangle the surface is concave, so what it blocks at the corners it blocks between them.
[[nodiscard]] double blocked_up_to(const TipSurface& surface, const Corners4& cell);

/// Looks for gaps in the cells of one level.
class GapSearch {
 public:
  /// Cells are quartered down to `least_side`, those that a contour crosses down to `crossed_side`; no more
  /// than `most_touches` are asked for, what is not proven by then stays so.
  GapSearch(const TipSurface& surface, double z, double least_side, double crossed_side,
            std::int64_t most_touches)
      : surface_(surface), z_(z), least_(least_side), crossed_(crossed_side), touches_left_(most_touches) {}
  void search(const Corners4& cell);

  std::vector<Seed> seeds;
  std::vector<Vec2> unproven;  ///< middles of least cells

 private:
  void blocked(const Corners4& cell);
  [[nodiscard]] std::optional<Vec2> out_of_all(const Vec2& blocked) const;
  [[nodiscard]] std::array<Corners4, 4> quarters(const Corners4& cell);
  const TipSurface& surface_;
  double z_, least_, crossed_;
  std::int64_t touches_left_;
};

}  // namespace yardpass::detail
