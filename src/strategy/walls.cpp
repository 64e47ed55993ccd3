#include "strategy/walls.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_map>

#include "geom/parallel_for.h"

namespace yardpass::detail {

namespace {

/// The passes of one level, by places along them.
class LevelIndex {
 public:
  LevelIndex(const std::vector<WallPass>& passes, double reach) : passes_(passes), side_(reach) {}
  void add(std::size_t pass) {
    const Contour& contour = passes_[pass].contour;
    const std::size_t count = contour.points.size();
    for (std::size_t i = 0; i + (contour.closed ? 0 : 1) < count; ++i) {
      const Vec2 &a = contour.points[i], &b = contour.points[(i + 1) % count];
      const int steps = std::max(1, static_cast<int>(std::ceil((b - a).norm() / (0.5 * side_))));
      for (int k = 0; k <= steps; ++k) {
        auto& cell = cells_[key(a + (b - a) * (1.0 * k / steps), 0, 0)];
        if (cell.empty() || cell.back().pass != pass || cell.back().chord != i) cell.push_back({pass, i});
      }
    }
  }
  /// The nearest one within reach.
  [[nodiscard]] std::optional<std::size_t> nearest(const Vec2& p) const {
    std::optional<std::size_t> best;
    double least = side_;
    for (int dx = -1; dx <= 1; ++dx)
      for (int dy = -1; dy <= 1; ++dy) {
        const auto cell = cells_.find(key(p, dx, dy));
        if (cell == cells_.end()) continue;
        for (const Entry& entry : cell->second) {
          const Polyline2& points = passes_[entry.pass].contour.points;
          const double off =
              distance_to_segment(p, points[entry.chord], points[(entry.chord + 1) % points.size()]);
          if (off < least || (off == least && (!best || entry.pass < *best))) least = off, best = entry.pass;
        }
      }
    return best;
  }

 private:
  struct Entry {
    std::size_t pass, chord;
  };
  [[nodiscard]] std::int64_t key(const Vec2& p, int dx, int dy) const {
    const auto x = static_cast<std::int64_t>(std::floor(p.x() / side_)) + dx,
               y = static_cast<std::int64_t>(std::floor(p.y() / side_)) + dy;
    return (x << 32) ^ (y & 0xffffffff);
  }
  const std::vector<WallPass>& passes_;
  double side_;
  std::unordered_map<std::int64_t, std::vector<Entry>> cells_;
};

/// Of the passes in the index, those that some of the places along a contour are nearest to, the one with
/// most of them first.
std::vector<std::size_t> beside(const Contour& contour, const LevelIndex& index) {
  constexpr std::size_t kPlaces = 48;
  std::map<std::size_t, int> votes;
  const std::size_t count = contour.points.size(), stride = std::max<std::size_t>(1, count / kPlaces);
  for (std::size_t i = 0; i < count; i += stride)
    if (const auto pass = index.nearest(contour.points[i])) ++votes[*pass];
  std::vector<std::pair<std::size_t, int>> sorted(votes.begin(), votes.end());
  std::stable_sort(sorted.begin(), sorted.end(),
                   [](const auto& a, const auto& b) { return a.second > b.second; });
  std::vector<std::size_t> result;
  for (const auto& [pass, number] : sorted) result.push_back(pass);
  return result;
}

}  // namespace

std::vector<Wall> walls_of(std::vector<WallPass>& passes, double reach_mm) {
  std::vector<std::vector<std::size_t>> levels;
  for (std::size_t i = 0; i < passes.size(); ++i) {
    const auto level = static_cast<std::size_t>(passes[i].level);
    if (levels.size() <= level) levels.resize(level + 1);
    levels[level].push_back(i);
  }
  std::vector<std::vector<std::size_t>> parents(passes.size());
  parallel_for(levels.size(), [&](std::size_t level) {
    const auto link = [&](const LevelIndex& index, bool between) {
      for (const std::size_t i : levels[level])
        if (passes[i].between == between) parents[i] = beside(passes[i].contour, index);
    };
    const auto index_of = [&](std::size_t of) {
      LevelIndex index(passes, reach_mm);
      for (const std::size_t i : levels[of])
        if (!passes[i].between) index.add(i);
      return index;
    };
    if (level > 0) link(index_of(level - 1), false);
    link(index_of(level), true);  // a piece goes with the level above it
  });
  std::vector<int> children(passes.size(), 0);
  for (std::size_t i = 0; i < passes.size(); ++i)
    if (!passes[i].between)
      for (const std::size_t parent : parents[i]) ++children[parent];
  std::vector<Wall> walls;
  const auto begin_wall = [&](std::size_t i) {
    passes[i].wall = static_cast<std::int32_t>(walls.size());
    walls.emplace_back();
    return walls.size() - 1;
  };
  for (std::size_t i = 0; i < passes.size(); ++i) {
    if (passes[i].between) continue;
    const std::vector<std::size_t>& above = parents[i];
    if (above.size() == 1 && children[above[0]] == 1 &&
        passes[above[0]].contour.closed == passes[i].contour.closed) {
      passes[i].wall = passes[above[0]].wall;
    } else {
      const std::size_t wall = begin_wall(i);
      for (const std::size_t parent : above) walls[wall].above.push_back(passes[parent].wall);
      std::sort(walls[wall].above.begin(), walls[wall].above.end());
      walls[wall].above.erase(std::unique(walls[wall].above.begin(), walls[wall].above.end()),
                              walls[wall].above.end());
    }
    walls[static_cast<std::size_t>(passes[i].wall)].passes.push_back(i);
  }
  for (std::size_t i = 0; i < passes.size(); ++i)
    if (passes[i].between) {
      const std::size_t wall =
          parents[i].empty() ? begin_wall(i) : static_cast<std::size_t>(passes[parents[i].front()].wall);
      passes[i].wall = static_cast<std::int32_t>(wall);
      walls[wall].pieces.push_back(i);
    }
  return walls;
}

}  // namespace yardpass::detail
