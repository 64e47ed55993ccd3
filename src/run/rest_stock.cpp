#include "run/rest_stock.h"

#include <algorithm>
#include <cmath>

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
  for (const PlannedOperation& operation : earlier) {
    std::vector<SweptMove> moves;
    Vec3 at = operation.path.start;
    for (const Move& move : operation.path.moves) {
      if (move.kind != MoveKind::rapid) moves.push_back({at, move.to});
      at = move.to;
    }
    if (moves.empty()) continue;
    const Profile cutter = profile_of(operation.path.tool);
    carve(stock, std::span<const Profile>(&cutter, 1), moves);
  }
  return stock;
}

}  // namespace yardpass::detail
