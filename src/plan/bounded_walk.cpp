#include "yardpass/plan/bounded_walk.h"

#include <algorithm>
#include <cmath>

#include "plan/walk/walker.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

constexpr double kLeastTurn = 0.3, kStep = 0.05, kNode = 0.25;  // of the radius, in the first round
constexpr int kRounds = 3;

/// Cells from, to but not including.
struct CellBox {
  int left, bottom, right, top;
  void extend(int column, int row) {
    left = std::min(left, column), right = std::max(right, column + 1);
    bottom = std::min(bottom, row), top = std::max(top, row + 1);
  }
  [[nodiscard]] CellBox grown(int by, const LevelRaster& raster) const {
    return {std::max(0, left - by), std::max(0, bottom - by), std::min(raster.columns, right + by),
            std::min(raster.rows, top + by)};
  }
  [[nodiscard]] bool meets(const CellBox& other) const {
    return left < other.right && other.left < right && bottom < other.top && other.bottom < top;
  }
};

struct Cluster {
  CellBox box;
  std::int64_t cells = 0;
  Vec2 at{0, 0};
};

/// What is left to be cut and can be reached, cell by cell where they touch.
std::vector<Cluster> clusters_of(const detail::Front& front) {
  const LevelRaster& raster = front.raster();
  std::vector<std::uint8_t> seen(raster.material.size(), 0);
  std::vector<Cluster> result;
  std::vector<std::pair<int, int>> open;
  for (int row = 0; row < raster.rows; ++row)
    for (int column = 0; column < raster.columns; ++column) {
      const std::size_t first = raster.index(column, row);
      if (seen[first] || !front.uncleared(first)) continue;
      Cluster cluster{{column, row, column + 1, row + 1}, 0, raster.place(column, row)};
      seen[first] = 1;
      open.emplace_back(column, row);
      while (!open.empty()) {
        const auto [i, j] = open.back();
        open.pop_back();
        ++cluster.cells;
        cluster.box.extend(i, j);
        for (int y = std::max(0, j - 1); y <= std::min(raster.rows - 1, j + 1); ++y)
          for (int x = std::max(0, i - 1); x <= std::min(raster.columns - 1, i + 1); ++x)
            if (const std::size_t next = raster.index(x, y); !seen[next] && front.uncleared(next)) {
              seen[next] = 1;
              open.emplace_back(x, y);
            }
      }
      result.push_back(cluster);
    }
  return result;
}

/// Boxes around what is left, with room to walk; those that meet are one.
std::vector<CellBox> boxes_around(const std::vector<Cluster>& clusters, const LevelRaster& raster, int room) {
  std::vector<CellBox> boxes;
  for (const Cluster& cluster : clusters) {
    CellBox box = cluster.box.grown(room, raster);
    for (bool again = true; again;) {
      again = false;
      for (std::size_t k = 0; k < boxes.size(); ++k)
        if (boxes[k].meets(box)) {
          box = {std::min(box.left, boxes[k].left), std::min(box.bottom, boxes[k].bottom),
                 std::max(box.right, boxes[k].right), std::max(box.top, boxes[k].top)};
          boxes.erase(boxes.begin() + static_cast<std::ptrdiff_t>(k));
          again = true;
          break;
        }
    }
    boxes.push_back(box);
  }
  return boxes;
}

/// A part of the raster, blocked along its edges so far that all of the tool stays within it.
LevelRaster cut_out(const LevelRaster& raster, const CellBox& box, double radius) {
  LevelRaster part;
  part.origin = raster.place(box.left, box.bottom);
  part.cell_mm = raster.cell_mm;
  part.columns = box.right - box.left, part.rows = box.top - box.bottom;
  for (int row = box.bottom; row < box.top; ++row) {
    const auto first = static_cast<std::ptrdiff_t>(raster.index(box.left, row)), last = first + part.columns;
    part.material.insert(part.material.end(), raster.material.begin() + first,
                         raster.material.begin() + last);
    part.blocked.insert(part.blocked.end(), raster.blocked.begin() + first, raster.blocked.begin() + last);
    part.wanted.insert(part.wanted.end(), raster.wanted.begin() + first, raster.wanted.begin() + last);
  }
  const int edge = static_cast<int>(radius / raster.cell_mm) + 5;
  for (int row = 0; row < part.rows; ++row)
    for (int column = 0; column < part.columns; ++column)
      if (std::min({column, row, part.columns - 1 - column, part.rows - 1 - row}) < edge)
        part.blocked[part.index(column, row)] = static_cast<float>(radius);
  return part;
}

void put_back(const LevelRaster& part, const CellBox& box, LevelRaster& raster) {
  for (int row = 0; row < part.rows; ++row)
    std::copy_n(
        part.material.begin() + static_cast<std::ptrdiff_t>(part.index(0, row)), part.columns,
        raster.material.begin() + static_cast<std::ptrdiff_t>(raster.index(box.left, box.bottom + row)));
}

}  // namespace

BoundedWalk walk_bounded(LevelRaster raster, const BoundedWalkOptions& options, const WaysDown& down) {
  require(options.radius_mm > 0, "radius_mm", "must be above 0");
  require(options.engagement_deg >= 10 && options.engagement_deg <= 180, "engagement_deg",
          "must be between 10 and 180");
  BoundedWalk result;
  const double radius = options.radius_mm;
  detail::Front front(std::move(raster), radius);
  Vec2 at = options.start;
  const auto round_of = [&](int round) {
    const double share = std::pow(0.5, round);
    return detail::RoundOptions{share * kLeastTurn * radius, share * kStep * radius, share * kNode * radius,
                                round + 1 == kRounds};
  };
  std::vector<Cluster> left = clusters_of(front);
  if (!left.empty()) at = detail::Walker(front, options, round_of(0), down, result).run(at);
  const int room = static_cast<int>(3 * radius / front.raster().cell_mm);
  for (int round = 1; round < kRounds && !left.empty(); ++round) {
    left = clusters_of(front);
    for (const CellBox& box : boxes_around(left, front.raster(), room)) {
      detail::Front part(cut_out(front.raster(), box, radius), radius);
      at = detail::Walker(part, options, round_of(round), down, result).run(at);
      put_back(part.raster(), box, front.raster());
    }
  }
  const double cell = front.raster().cell_mm;
  for (const Cluster& cluster : clusters_of(front))
    result.remains.push_back({cluster.at, static_cast<double>(cluster.cells) * cell * cell});
  return result;
}

}  // namespace yardpass
