// The cuts of one area of a level by bounded engagement.
#pragma once

#include "strategy/area_cutter.h"
#include "yardpass/plan/bounded_walk.h"
#include "yardpass/plan/cut_area.h"

namespace yardpass::detail {

/// An area of a level with what there is to cut in it.
struct BoundedLevel {
  double z = 0, upper_z = 0;  ///< and of the level above
  /// By the stock's cells; empty: all of it is to be cut, and all of the stock stands.
  std::span<const std::uint8_t> to_cut = {};
};

[[nodiscard]] AreaCuts cut_bounded(const Site& site, const RoughingOptions& options, Region piece,
                                   const BoundedLevel& level);

/// Of the cutter where a step is cut: as wide as it is at the step's top.
[[nodiscard]] double radius_in_step(const Profile& cutter, double height_mm);

}  // namespace yardpass::detail
