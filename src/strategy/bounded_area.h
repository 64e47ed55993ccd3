// The cuts of one area of a level by bounded engagement.
#pragma once

#include "strategy/area_cutter.h"
#include "yardpass/plan/bounded_walk.h"

namespace yardpass::detail {

/// An area of a level with what there is to cut in it.
struct BoundedLevel {
  double z = 0, upper_z = 0;  ///< and of the level above
  /// By the stock's cells; empty: all of it is to be cut, and all of the stock stands.
  std::span<const std::uint8_t> to_cut = {};
  bool all_stands = false;  ///< see below
};

/// All of the stock stands above the level, and everywhere if nothing is known of it.
[[nodiscard]] bool all_stands(const Site& site, double z);

[[nodiscard]] AreaCuts cut_bounded(const Site& site, const RoughingOptions& options, Region piece,
                                   const BoundedLevel& level);

}  // namespace yardpass::detail
