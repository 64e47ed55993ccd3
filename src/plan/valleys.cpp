#include "yardpass/plan/valleys.h"

#include <algorithm>
#include <cmath>

#include "geom/bands.h"
#include "geom/parallel_for.h"
#include "plan/valley/chains.h"

namespace yardpass {

namespace {

constexpr double kMostCells = 1e7;

detail::CellGrid grid_over(const Box2& box, double asked) {
  const double cell = std::max(asked, std::sqrt(box.volume() / kMostCells));
  // Off the round numbers on which parts have their edges.
  return {box.min() - Vec2(1.63, 1.59) * cell, cell, static_cast<int>(box.sizes().x() / cell) + 5,
          static_cast<int>(box.sizes().y() / cell) + 5};
}

/// Pieces inside the area; a closed line that stays whole stays closed.
std::vector<Valley> clipped(const detail::ValleyChain& chain, const detail::Bands& inside) {
  Polyline2 whole;
  for (const detail::ValleyPoint& point : chain.points) whole.push_back(point.place);
  std::vector<Polyline2> pieces = chain.closed ? inside.inside_loop(whole) : inside.inside(whole);
  std::vector<Valley> valleys;
  for (Polyline2& piece : pieces) {
    Valley valley;
    valley.closed = chain.closed && piece.front() == piece.back();
    if (valley.closed) piece.pop_back();
    valley.line = std::move(piece);
    valleys.push_back(std::move(valley));
  }
  return valleys;
}

double length_in_space(const TipSurface& surface, const Valley& valley) {
  double length = 0;
  std::optional<Vec3> before;
  const std::size_t count = valley.line.size() + (valley.closed ? 1 : 0);
  for (std::size_t i = 0; i < count; ++i) {
    const Vec2& place = valley.line[i % valley.line.size()];
    const double height = surface.height(place);
    const Vec3 at = with_z(place, height > kNothingBelow ? height : before ? before->z() : 0);
    if (before) length += (at - *before).norm();
    before = at;
  }
  return length;
}

}  // namespace

double round_end_mm(const Profile& cutter) {
  const Profile::Piece& tip = cutter.pieces().front();
  return tip.arc > 0 && tip.centre_r == 0 ? tip.arc : 0;
}

Valleys valleys(const TipSurface& surface, const Region& area, const ValleyOptions& options,
                const Progress& progress) {
  const double round = round_end_mm(surface.cutter());
  if (!(round > 0))
    throw Error("valleys are followed by a cutter that ends in a round: a ball, or a taper with one");
  require(options.left_mm > 0, "left_mm", "must be above 0");
  require(options.tolerance_mm > 0, "tolerance_mm", "must be above 0");
  Valleys result;
  if (area.empty()) return result;
  const double asked = options.cell_mm > 0 ? options.cell_mm : round / 3;
  const detail::CellGrid grid = grid_over(area.box(), asked);
  const detail::KinkFinder finder(surface, options.left_mm);
  std::vector<detail::Sounding> soundings(static_cast<std::size_t>(grid.columns) *
                                          static_cast<std::size_t>(grid.rows));
  // Beyond the area a cell more, so that lines are found up to its border.
  const detail::Bands near(offset(area, 2 * grid.side)), inside(area);
  detail::parallel_for(grid.rows, part_of(progress, 0, 0.6), [&](int row) {
    std::int32_t triangle = -1;
    for (int column = 0; column < grid.columns; ++column) {
      const Vec2 place = grid.middle(column, row);
      if (!near.contains(place)) continue;
      detail::Sounding& here = soundings[grid.index(column, row)];
      here = finder.sound(place, triangle);
      triangle = here.triangle;
    }
  });
  std::vector<detail::ValleyChain> chains = detail::chains_of_grid(finder, grid, soundings);
  detail::parallel_for(chains.size(), part_of(progress, 0.6, 0.8),
                       [&](std::size_t i) { detail::follow_on(finder, 2 * grid.side, chains[i]); });
  chains = detail::met(std::move(chains), 0.5 * grid.side);
  std::erase_if(chains, [](const detail::ValleyChain& chain) { return chain.points.size() < 2; });
  std::vector<std::vector<Valley>> found(chains.size());
  detail::parallel_for(chains.size(), part_of(progress, 0.8, 1), [&](std::size_t i) {
    detail::refine(finder, options.tolerance_mm, chains[i]);
    double left = 0;
    for (const detail::ValleyPoint& point : chains[i].points) left = std::max(left, point.left_mm);
    found[i] = clipped(chains[i], inside);
    for (Valley& valley : found[i]) {
      valley.length_mm = length_in_space(surface, valley);
      valley.left_mm = left;
      valley.line = valley.closed
                        ? simplify_loop(std::span<const Vec2>(valley.line), 0.25 * options.tolerance_mm)
                        : simplify(std::span<const Vec2>(valley.line), 0.25 * options.tolerance_mm);
    }
  });
  for (std::vector<Valley>& of_chain : found)
    for (Valley& valley : of_chain) {
      if (valley.length_mm < options.shortest_mm || valley.line.size() < 2) {
        ++result.too_short;
        result.too_short_mm += valley.length_mm;
      } else {
        result.lines.push_back(std::move(valley));
      }
    }
  result.touches = finder.touches();
  return result;
}

}  // namespace yardpass
