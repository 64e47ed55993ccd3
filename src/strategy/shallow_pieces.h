// Where two levels of a waterline are too far apart.
#pragma once

#include <vector>

#include "strategy/level_steps.h"
#include "yardpass/plan/contours.h"

namespace yardpass::detail {

/// Two levels are too far apart for the surface between them if it asks for so many steps.
inline constexpr double kWide = 1.04;

/// The pieces of a contour along which the step between its neighbours is too wide for the surface, each
/// longer by the spacing at both ends.
class ShallowPieces {
 public:
  ShallowPieces(const WantedStep& wanted, double gap) : wanted_(wanted), gap_(gap) {}
  [[nodiscard]] std::vector<Contour> of(const Contour& contour) const;

 private:
  using Marks = std::vector<std::uint8_t>;
  [[nodiscard]] bool too_wide_at(const Vec2& p) const;
  /// Marks reach a spacing farther, both ways.
  [[nodiscard]] Marks grown(const std::vector<Vec2>& places, const Marks& marks, bool closed) const;

  const WantedStep& wanted_;
  double gap_;
};

}  // namespace yardpass::detail
