#include "yardpass/plan/cut_area.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <limits>

#include "plan/cell_outline.h"
#include "plan/distance_map.h"
#include "stock/cells_inside.h"
#include "yardpass/geom/error.h"
#include "yardpass/plan/roomy_place.h"

namespace yardpass {

namespace {

using detail::Mask;

std::vector<float> distances(const Stock& stock, const Mask& marked) {
  return detail::squared_distances(stock.columns(), stock.rows(), marked);
}

Mask within(const std::vector<float>& squares, double cells, bool nearer) {
  Mask mask(squares.size());
  const auto limit = static_cast<float>(cells * cells);
  for (std::size_t i = 0; i < squares.size(); ++i) mask[i] = (squares[i] <= limit) == nearer;
  return mask;
}

double area_of(const Stock& stock, const Mask& mask) {
  return static_cast<double>(std::count(mask.begin(), mask.end(), 1)) * stock.cell_mm() * stock.cell_mm();
}

/// Of the marked cells, between two heights.
double volume_of(const Stock& stock, const Mask& mask, double z, double upper_z) {
  const auto heights = stock.heights();
  double sum = 0;
  for (std::size_t i = 0; i < mask.size(); ++i)
    if (mask[i]) sum += std::max(0.0, std::min(heights[i], upper_z) - z);
  return sum * stock.cell_mm() * stock.cell_mm();
}

}  // namespace

namespace {

/// Higher than the cutter leaves it at a distance from its axis, or between passes; distances between cells
/// are right to less than a cell.
bool stands_above(const Stock& stock, double height, double z, double far, const CutAreaOptions& options) {
  return height > z + options.tolerance_mm +
                      std::max(options.ridge_mm, options.cutter.height(far + 0.75 * stock.cell_mm()));
}

/// The cells above the level that the cutter lowers from where its axis may be.
Mask reached_cells(const Stock& stock, double z, const Region& free, const CutAreaOptions& options) {
  const auto heights = stock.heights();
  const double cell = stock.cell_mm(), reach = options.cutter.radius() - options.tolerance_mm;
  Mask axis(heights.size(), 0), reached(heights.size(), 0);
  detail::for_cells_inside(stock, free, [&](int column, int row) { axis[stock.index(column, row)] = 1; });
  const std::vector<float> squares = distances(stock, axis);
  const double clear = z + options.tolerance_mm;
  for (std::size_t i = 0; i < reached.size(); ++i) {
    if (!(heights[i] > clear)) continue;
    const double far = cell * std::sqrt(static_cast<double>(squares[i]));
    if (far > reach) continue;
    reached[i] = stands_above(stock, heights[i], z, far, options);
  }
  // From beside the block it reaches in too.
  const Box2 block(plan(stock.block().min()), plan(stock.block().max()));
  if (block.contains(free.box())) return reached;
  const Region beside = subtract(offset(free, reach), offset(free, 0.5 * cell));
  const double at_rim = clear + options.cutter.height(options.cutter.radius());
  detail::for_cells_inside(stock, beside, [&](int column, int row) {
    const std::size_t i = stock.index(column, row);
    if (heights[i] > at_rim) reached[i] = 1;
  });
  return reached;
}

/// Without pieces that only come near to what is to be cut.
Region pieces_that_reach(const Stock& stock, double z, const Mask& kept, const Region& axis,
                         const CutAreaOptions& options) {
  Region result;
  for (Region& piece : pieces(axis)) {
    bool reaches = false;
    const auto visit = [&](int column, int row) {
      if (reaches || !kept[stock.index(column, row)]) return;
      const double far = std::max(0.0, -room_at(piece, stock.centre(column, row)));
      reaches = stands_above(stock, stock.height(column, row), z, far, options);
    };
    detail::for_cells_inside(stock, offset(piece, options.cutter.radius() - options.tolerance_mm), visit);
    if (reaches) std::move(piece.loops.begin(), piece.loops.end(), std::back_inserter(result.loops));
  }
  return result;
}

}  // namespace

CutArea cut_area(const Stock& stock, double z, const Region& free, const CutAreaOptions& options) {
  const double radius = options.cutter.radius(), cell = stock.cell_mm();
  require(radius > 0, "cutter", "must have a width");
  require(options.thinnest_mm >= 0, "thinnest_mm", "must be at least 0");
  CutArea result;
  if (free.empty()) return result;
  const auto heights = stock.heights();
  const auto stands = [&](double h) { return h > z + options.tolerance_mm; };
  if (std::none_of(heights.begin(), heights.end(), stands)) return result;
  Mask reached = reached_cells(stock, z, free, options);
  // Where all of the block stands nothing is thin.
  if (std::all_of(heights.begin(), heights.end(), stands)) {
    result.to_cut_mm2 = area_of(stock, reached);
    result.to_cut_mm3 = volume_of(stock, reached, z, options.upper_z);
    if (result.to_cut_mm2 > 0) result.axis = free;
    result.cells = std::move(reached);
    return result;
  }
  Mask rest(reached.size());
  for (std::size_t i = 0; i < rest.size(); ++i) rest[i] = !reached[i];
  const Mask thick = within(distances(stock, rest), 0.5 * options.thinnest_mm / cell, false);
  Mask kept = within(distances(stock, thick), radius / cell, true);
  for (std::size_t i = 0; i < kept.size(); ++i) kept[i] &= reached[i];
  result.to_cut_mm2 = area_of(stock, kept);
  result.to_cut_mm3 = volume_of(stock, kept, z, options.upper_z);
  for (std::size_t i = 0; i < kept.size(); ++i) reached[i] &= !kept[i];
  result.left_out_mm2 = area_of(stock, reached);
  result.left_out_mm3 = volume_of(stock, reached, z, options.upper_z);
  if (!(result.to_cut_mm2 > 0)) return result;
  const Region near = intersect(
      free, offset(detail::outline_of_cells(stock, kept), radius + std::max(1.5 * cell, options.around_mm)));
  result.axis = pieces_that_reach(stock, z, kept, near, options);
  result.cells = std::move(kept);
  return result;
}

MaterialUnder material_under(const Stock& stock, const Region& area, double z, double upper_z) {
  MaterialUnder result;
  Mask under(stock.heights().size(), 0);
  detail::for_cells_inside(stock, area, [&](int column, int row) {
    under[stock.index(column, row)] = stock.height(column, row) > z;
  });
  result.area_mm2 = area_of(stock, under);
  result.volume_mm3 = volume_of(stock, under, z, upper_z);
  return result;
}

}  // namespace yardpass
