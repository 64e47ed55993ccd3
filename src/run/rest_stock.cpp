#include "run/rest_stock.h"

#include <algorithm>
#include <cmath>

#include "run/carve_path.h"
#include "yardpass/stock/finer.h"

namespace yardpass::detail {

std::optional<Stock> stock_for(const Tool& tool, const Stock& first, const Stock& now,
                               const std::vector<PlannedOperation>& earlier) {
  constexpr double kCellsOfRadius = 45, kMostCells = 1.2e7, kWorthIt = 0.7;
  const Box2 block(plan(first.block().min()), plan(first.block().max()));
  const double cell =
      std::max(profile_of(tool).radius() / kCellsOfRadius, std::sqrt(block.volume() / kMostCells));
  const bool carved = std::any_of(earlier.begin(), earlier.end(),
                                  [](const PlannedOperation& one) { return !one.path.moves.empty(); });
  if (!carved || cell > kWorthIt * now.cell_mm()) return std::nullopt;
  Stock stock = finer(first, block, cell);
  for (const PlannedOperation& operation : earlier) carve_path(stock, operation.path);
  return stock;
}

}  // namespace yardpass::detail
