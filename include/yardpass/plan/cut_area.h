/// What of a level there is to cut, by the material that earlier operations left.
#pragma once

#include <limits>

#include "yardpass/geom/region.h"
#include "yardpass/stock/stock.h"

namespace yardpass {

struct CutAreaOptions {
  Profile cutter = Profile::needle();  ///< REQUIRES: a width
  double ridge_mm = 0;  ///< what stands so little above the level, between passes, counts as cut
  /// Material thinner than this, sideways, is left; REQUIRES: at least 0
  double thinnest_mm = 0.3;
  /// What the areas for the tool's axis keep from what is blocked: so much is out of its reach. And what
  /// stands above the level by no more counts as cut.
  double tolerance_mm = 0.01;
  /// Areas for the axis reach so far beyond the tool's radius around what is to be cut; at least one and a
  /// half cells.
  double around_mm = 0;
  /// The level above, which is cut first: volumes are counted up to there.
  double upper_z = std::numeric_limits<double>::infinity();
};

struct CutArea {
  Region axis;  ///< where the tool's axis should go: part of what is free, all of it if all is to be cut
  /// Cells of the stock that are to be cut, marked 1, as Stock::index numbers them.
  std::vector<std::uint8_t> cells = {};
  double left_out_mm2 = 0;  ///< in plan, of cells that it could reach but that are thinner than asked
  double to_cut_mm2 = 0;    ///< of those that are to be cut
  double left_out_mm3 = 0, to_cut_mm3 = 0;
};

/// `free`: where the tool's axis may be at height z. To be cut are the cells of the stock that stand above z
/// and that the tool reaches from there (what its corners leave is not counted); what of it is thinner than
/// asked is left out, by opening: what does not survive the loss of half of that on all sides, but for what
/// lies within the tool's radius of a survivor, which goes along anyhow. Levels do not wait for each other:
/// what is cut above z leaves the cells above z. Distances are exact between cell centres. Source: P.
/// Felzenszwalb and D. Huttenlocher, "Distance transforms of sampled functions", 2012. Runs on all cores; the
/// result does not depend on their number.
[[nodiscard]] CutArea cut_area(const Stock& stock, double z, const Region& free,
                               const CutAreaOptions& options);

/// What stands of a stock above height z, counted up to `upper_z`, within an area.
struct MaterialUnder {
  double area_mm2 = 0, volume_mm3 = 0;
};
[[nodiscard]] MaterialUnder material_under(const Stock& stock, const Region& area, double z,
                                           double upper_z = std::numeric_limits<double>::infinity());

}  // namespace yardpass
