// What the colours of cuts tell.
#pragma once

#include <vector>

#include "report/strokes.h"

namespace yardpass::detail {

/// The height of cuts, or where all lie at one, which pass they belong to.
struct CutScale {
  bool by_height = true;
  double low = 0, high = 1;
  std::vector<double> levels{};  ///< where cuts lie at a few heights alone
  /// From 0, the lowest, to 1.
  [[nodiscard]] double share(const Stroke& stroke) const;
  /// Every other level is lighter, so that neighbours are told apart.
  [[nodiscard]] bool lighter(const Stroke& stroke) const;
};
[[nodiscard]] CutScale scale_of_cuts(const std::vector<Stroke>& strokes);

}  // namespace yardpass::detail
