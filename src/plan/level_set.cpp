// Level sets by marching over the squares of a grid. Source: W. E. Lorensen and H. E. Cline, "Marching
// cubes", 1987, in two dimensions; crossings are found by bisection on the surface itself, since at walls it
// jumps.
#include "yardpass/plan/level_set.h"

#include <cmath>
#include <unordered_map>

#include "geom/parallel_for.h"

namespace yardpass {

LevelGrid::LevelGrid(const TipSurface& surface, const Box2& box, double spacing_mm, const Progress& progress)
    : surface_(surface),
      // A little off the box, and off round numbers: walls often run along them.
      origin_(box.min() - Vec2(1.37, 1.41) * spacing_mm),
      spacing_((require(spacing_mm > 0, "spacing_mm", "must be above 0"), spacing_mm)),
      columns_(static_cast<int>(std::ceil(box.sizes().x() / spacing_mm)) + 4),
      rows_(static_cast<int>(std::ceil(box.sizes().y() / spacing_mm)) + 4),
      heights_(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_)) {
  std::vector<Vec2> places;
  places.reserve(heights_.size());
  for (int j = 0; j < rows_; ++j)
    for (int i = 0; i < columns_; ++i) places.push_back(node(i, j));
  heights_ = heights(surface_, places, progress);
}

bool LevelGrid::is_free(int i, int j, double z) const {
  // The outermost nodes close all outlines.
  return i > 0 && j > 0 && i < columns_ - 1 && j < rows_ - 1 && at(i, j) <= z;
}

double LevelGrid::lowest(const Region& area) const {
  double lowest = std::numeric_limits<double>::infinity();
  for (int j = 0; j < rows_; ++j)
    for (int i = 0; i < columns_; ++i)
      if (at(i, j) != kNothingBelow && at(i, j) < lowest && area.contains(node(i, j))) lowest = at(i, j);
  return lowest == std::numeric_limits<double>::infinity() ? kNothingBelow : lowest;
}

Region LevelGrid::at_or_below(double z) const {
  // Edges of the grid: 2 n is the one from node n to the right, 2 n + 1 the one upwards.
  const auto edge_id = [&](int i, int j, int up) {
    return 2 * (static_cast<std::int64_t>(j) * columns_ + i) + up;
  };
  struct Crossing {
    std::int64_t edge;
    Vec2 free, blocked;
  };
  std::vector<Crossing> crossings;
  for (int j = 0; j < rows_; ++j) {
    for (int i = 0; i < columns_; ++i) {
      for (int up = 0; up < 2; ++up) {
        const int i2 = i + 1 - up, j2 = j + up;
        if (i2 >= columns_ || j2 >= rows_) continue;
        const bool here = is_free(i, j, z), there = is_free(i2, j2, z);
        if (here == there) continue;
        crossings.push_back(
            {edge_id(i, j, up), here ? node(i, j) : node(i2, j2), here ? node(i2, j2) : node(i, j)});
      }
    }
  }
  detail::parallel_for(crossings.size(), {}, [&](std::size_t k) {
    Crossing& c = crossings[k];
    while ((c.blocked - c.free).squaredNorm() > 1e-10) {
      const Vec2 middle = 0.5 * (c.free + c.blocked);
      (surface_.height(middle) <= z ? c.free : c.blocked) = middle;
    }
  });
  std::unordered_map<std::int64_t, Vec2> place;
  for (const Crossing& c : crossings) place.emplace(c.edge, c.free);

  // In each square, pieces of outline from edge to edge with the free side on the left.
  std::unordered_map<std::int64_t, std::int64_t> next;
  for (int j = 0; j + 1 < rows_; ++j) {
    for (int i = 0; i + 1 < columns_; ++i) {
      const bool f[] = {is_free(i, j, z), is_free(i + 1, j, z), is_free(i + 1, j + 1, z),
                        is_free(i, j + 1, z)};
      const std::int64_t e[] = {edge_id(i, j, 0), edge_id(i + 1, j, 1), edge_id(i, j + 1, 0),
                                edge_id(i, j, 1)};
      // Going round the square: free to blocked over an edge is where a piece begins, the next blocked to
      // free backwards is where it ends. Two free corners across a blocked diagonal stay apart: the cautious
      // reading.
      for (int k = 0; k < 4; ++k) {
        if (f[k] && !f[(k + 1) % 4]) {
          int back = k;
          while (f[back]) back = (back + 3) % 4;
          next.emplace(e[k], e[back]);
        }
      }
    }
  }
  Region region;
  for (const Crossing& c : crossings) {
    Polyline2 loop;
    for (auto it = next.find(c.edge); it != next.end(); it = next.find(c.edge)) {
      std::int64_t edge = c.edge;
      while (it != next.end()) {
        loop.push_back(place.at(edge));
        edge = it->second;
        next.erase(it);
        it = next.find(edge);
      }
      break;
    }
    if (loop.size() >= 3) region.loops.push_back(std::move(loop));
  }
  return region;
}

}  // namespace yardpass
