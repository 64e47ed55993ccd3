// Cells of a grid that are near marked ones, by the way over a surface.
#pragma once

#include <functional>

#include "plan/cell_outline.h"

namespace yardpass::detail {

/// The distance of each cell from the marked ones, over the heights of the cells' middles, up to `most`;
/// infinite beyond, and where there is no height. `first(in, out)`: how far the border of what is marked is
/// from the middle of an unmarked cell beside a marked one, as a share of the way between them. Ways run in
/// sixteen directions, so distances are up to 2.8 % too long.
[[nodiscard]] std::vector<double> distances_over(
    const CellGrid& grid, const Mask& marked, const std::vector<double>& heights, double most,
    const std::function<double(std::size_t, std::size_t)>& first);

}  // namespace yardpass::detail
