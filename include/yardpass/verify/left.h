/// How much material is left on the part.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "yardpass/contact/contact_part.h"
#include "yardpass/geom/region.h"
#include "yardpass/stock/stock.h"

namespace yardpass {

/// Excess of material over the part at each cell centre, measured as the distance in space from the top of
/// the stock to the nearest point of the part, so a wall does not look thick for being steep. Negative where
/// the stock is below the part's upper side, by the same distance. Not a number where there is no part above
/// or below the cell.
struct LeftMap {
  int columns = 0, rows = 0;
  std::vector<float> left_mm;  ///< as Stock::index
  double at_most_mm = 0;       ///< greater distances are told as this
};
[[nodiscard]] LeftMap left_map(const Stock& stock, const ContactPart& part, double at_most_mm,
                               const Progress& progress = {});

/// Counts places between the centres where more is left (Judgement::peaks): the cell gets the greater value.
/// Places below the part's upper side are none.
void count_peaks(LeftMap& map, const Stock& stock, const std::shared_ptr<const ContactPart>& part,
                 std::span<const Vec3> peaks);

/// The same of a stock that is carved further between the calls: only cells that have changed are measured
/// again. All calls with stocks of the same cells. Not for use from several threads at once.
class RunningLeft {
 public:
  RunningLeft(const ContactPart& part, double at_most_mm) : part_(part), at_most_(at_most_mm) {}
  /// Brings the map up to date; the reference is valid until the next call.
  const LeftMap& update(const Stock& stock, const Progress& progress = {});
  /// The map of the last call.
  [[nodiscard]] LeftMap take() { return std::move(map_); }

 private:
  const ContactPart& part_;
  double at_most_;
  LeftMap map_;
  std::vector<double> heights_;  // of the stock that the map is of
};

/// Height of the part's upper side at each cell centre of the stock, kNothingBelow where there is none.
[[nodiscard]] std::vector<double> part_heights(const Stock& stock,
                                               const std::shared_ptr<const ContactPart>& part);

struct LeftStatistics {
  double area_mm2 = 0;  ///< in plan, of the cells counted
  double least_mm = 0, mean_mm = 0, median_mm = 0, p95_mm = 0, p99_mm = 0, greatest_mm = 0;
  Vec3 greatest_at = Vec3::Zero();
  /// Share of the area with no more than so much.
  struct Within {
    double limit_mm;
    double share;
  };
  std::vector<Within> within;
};
/// Over the cells whose centre lies in the area; all zero if there is none.
[[nodiscard]] LeftStatistics statistics(const LeftMap& map, const Stock& stock, const Region& area);

}  // namespace yardpass
