/// How much material cuts meet.
#pragma once

#include "yardpass/plan/cuts.h"
#include "yardpass/stock/stock.h"

namespace yardpass {

/// Thickness of the material along cuts, in space (see Stock::thickness_met), before the first of them is
/// carried out: what neighbouring passes take away is not taken off.
struct MaterialMet {
  double half_mm = 0, most_mm = 0, greatest_mm = 0;  ///< on 50, 95, 100 % of the length
  Vec3 at = Vec3::Zero();                            ///< of the greatest
  double share_at_size = 0;                          ///< of the length: no more than the tolerance is left
};

/// At places evenly spread along all cuts, about as many as asked for but no nearer than a cell. All zero
/// without cuts. Runs on all cores; the result does not depend on their number.
[[nodiscard]] MaterialMet material_met(const CutPlan& plan, const Stock& before, const Profile& cutter,
                                       double tolerance_mm, std::size_t places = 8000);

}  // namespace yardpass
