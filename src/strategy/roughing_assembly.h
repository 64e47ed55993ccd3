// The areas of all levels as groups in their order.
#pragma once

#include "strategy/area_cutter.h"

namespace yardpass::detail {

/// What one level gives.
struct LevelCuts {
  std::vector<AreaCuts> areas;
  std::vector<Vec3> necks;
  double left_thin_mm3 = 0;
  std::vector<std::uint8_t> cells;  // of the stock, that it lowers
};

class Assembly {
 public:
  /// The levels in the order in which they are cut. Holds a reference to the site.
  Assembly(std::vector<LevelCuts> levels, const Site& site, double thinnest);

  [[nodiscard]] CutPlan plan(LevelOrder order);

  [[nodiscard]] const AreaCounts& counts() const { return counts_; }
  [[nodiscard]] const std::vector<RefusedArea>& refused() const { return refused_; }
  [[nodiscard]] const std::vector<Vec3>& necks() const { return necks_; }
  [[nodiscard]] double left_thin_mm3() const { return left_thin_mm3_; }
  [[nodiscard]] double left_in_corners_mm3() const { return left_in_corners_mm3_; }

 private:
  void refuse_below(const std::vector<std::vector<std::int32_t>>& before);
  void measure_refused();
  [[nodiscard]] std::vector<std::int32_t> pass_numbers() const;

  const Site& site_;
  double thinnest_, radius_, left_thin_mm3_ = 0, left_in_corners_mm3_ = 0;
  std::vector<AreaCuts> areas_;
  std::vector<Vec3> necks_;
  AreaCounts counts_;
  std::vector<RefusedArea> refused_;
};

}  // namespace yardpass::detail
