// The part's upper side at every cell centre, triangle by triangle instead of cell by cell.
#pragma once

#include "yardpass/contact/contact_part.h"
#include "yardpass/stock/stock.h"

namespace yardpass::detail {

/// Draws a part into the cells of a stock, a band of rows at a time. The part and the stock must outlive it.
class PartRaster {
 public:
  PartRaster(const Stock& stock, const ContactPart& part);
  /// Heights of rows [first, last), kNothingBelow where there is no part. Triangles count with their edges,
  /// to 1e-9 mm. Runs on all cores; the result does not depend on their number.
  [[nodiscard]] std::vector<double> rows(int first, int last) const;

 private:
  void draw(std::int32_t triangle, int first, int last, double* heights) const;

  const Stock& stock_;
  const ContactPart& part_;
  static constexpr int kSlice = 16;                  // rows
  std::vector<std::vector<std::int32_t>> in_slice_;  // triangles that reach into each slice
};

}  // namespace yardpass::detail
