// Distances to marked cells of a grid.
#pragma once

#include <cstdint>
#include <vector>

namespace yardpass::detail {

using Mask = std::vector<std::uint8_t>;

/// Of each cell, the square of its distance to the nearest marked one, in cells; 1e20 if none is marked.
/// Exact. Source: P. Felzenszwalb and D. Huttenlocher, "Distance transforms of sampled functions", 2012.
/// `parallel`: on all cores.
[[nodiscard]] std::vector<float> squared_distances(int columns, int rows, const Mask& marked,
                                                   bool parallel = true);

}  // namespace yardpass::detail
