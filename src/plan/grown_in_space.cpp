#include "plan/grown_in_space.h"

#include <cmath>
#include <queue>
#include <span>

#include "yardpass/contact/tip_surface.h"

namespace yardpass::detail {

std::vector<double> distances_over(const CellGrid& grid, const Mask& marked,
                                   const std::vector<double>& heights, double most,
                                   const std::function<double(std::size_t, std::size_t)>& first) {
  constexpr double kFar = std::numeric_limits<double>::infinity();
  // Straight, aslant, and as a knight moves.
  constexpr int kWays[16][2] = {{1, 0}, {-1, 0}, {0, 1},  {0, -1},  {1, 1}, {1, -1}, {-1, 1}, {-1, -1},
                                {2, 1}, {2, -1}, {-2, 1}, {-2, -1}, {1, 2}, {1, -2}, {-1, 2}, {-1, -2}};
  std::vector<double> distance(marked.size(), kFar);
  using Entry = std::pair<double, std::size_t>;
  std::priority_queue<Entry, std::vector<Entry>, std::greater<>> queue;
  const auto reach = [&](std::size_t from, int ways, const auto& see) {
    const int column = static_cast<int>(from % static_cast<std::size_t>(grid.columns)),
              row = static_cast<int>(from / static_cast<std::size_t>(grid.columns));
    for (const auto& way : std::span(kWays, static_cast<std::size_t>(ways))) {
      const int c = column + way[0], r = row + way[1];
      if (c < 0 || r < 0 || c >= grid.columns || r >= grid.rows) continue;
      const std::size_t to = grid.index(c, r);
      if (marked[to] || !(heights[to] > kNothingBelow)) continue;
      see(to, std::hypot(grid.side * way[0], grid.side * way[1], heights[to] - heights[from]));
    }
  };
  for (std::size_t cell = 0; cell < marked.size(); ++cell) {
    if (!marked[cell]) continue;
    distance[cell] = 0;
    // Only straight: where the border lies is costly to ask.
    reach(cell, 4, [&](std::size_t to, double size) {
      if (size > 2 * most + 3 * grid.side) return;
      const double here = size * first(cell, to);
      if (here < distance[to]) distance[to] = here, queue.emplace(here, to);
    });
  }
  while (!queue.empty()) {
    const auto [here, cell] = queue.top();
    queue.pop();
    if (here > distance[cell] || here > most + 3 * grid.side) continue;
    reach(cell, 16, [&](std::size_t to, double size) {
      if (here + size < distance[to]) distance[to] = here + size, queue.emplace(here + size, to);
    });
  }
  return distance;
}

}  // namespace yardpass::detail
