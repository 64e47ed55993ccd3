#include <algorithm>
#include <cmath>

#include "plan/distance_map.h"
#include "yardpass/geom/polyline.h"
#include "yardpass/plan/bounded_walk.h"

namespace yardpass {

namespace {

constexpr double kBand = 4;  // cells on each side of an edge in which distances are right

/// Signed distance to the outline of a region, negative inside, within a band; clamped beyond.
std::vector<float> distance_field(const LevelRaster& raster, const Region& region) {
  const double cell = raster.cell_mm, band = kBand * cell;
  std::vector<float> field(raster.material.size(), static_cast<float>(band));
  for (const Polyline2& loop : region.loops)
    for (std::size_t i = 0; i < loop.size(); ++i) {
      const Vec2 &a = loop[i], &b = loop[(i + 1) % loop.size()];
      // Long edges in pieces, so that the boxes around them stay small.
      const int parts = static_cast<int>((b - a).norm() / (8 * band)) + 1;
      for (int part = 0; part < parts; ++part) {
        const Vec2 from = a + (b - a) * (static_cast<double>(part) / parts),
                   to = a + (b - a) * ((part + 1.0) / parts);
        const Vec2 low = (from.cwiseMin(to) - raster.origin) / cell,
                   high = (from.cwiseMax(to) - raster.origin) / cell;
        const int left = std::max(0, static_cast<int>(low.x() - kBand)),
                  right = std::min(raster.columns - 1, static_cast<int>(high.x() + kBand) + 1),
                  bottom = std::max(0, static_cast<int>(low.y() - kBand)),
                  top = std::min(raster.rows - 1, static_cast<int>(high.y() + kBand) + 1);
        for (int row = bottom; row <= top; ++row)
          for (int column = left; column <= right; ++column) {
            float& value = field[raster.index(column, row)];
            value =
                std::min(value, static_cast<float>(distance_to_segment(raster.place(column, row), from, to)));
          }
      }
    }
  const double left = raster.origin.x() - cell, width = (raster.columns + 1) * cell;
  for (int row = 0; row < raster.rows; ++row) {
    const double y = raster.origin.y() + row * cell;
    for (const Interval& part : inside(region, {left, y}, {left + width, y})) {
      const int first = std::max(0, static_cast<int>(std::ceil(part.from * width / cell)) - 1),
                last = std::min(raster.columns - 1, static_cast<int>(std::floor(part.to * width / cell)) - 1);
      for (int column = first; column <= last; ++column) field[raster.index(column, row)] *= -1;
    }
  }
  return field;
}

/// Signed distance to the edge of what stands, positive within it, by the cells' marks.
std::vector<float> standing_field(const LevelRaster& raster, const detail::Mask& stands) {
  detail::Mask free(stands.size());
  for (std::size_t i = 0; i < stands.size(); ++i) free[i] = !stands[i];
  const std::vector<float> to_free = detail::squared_distances(raster.columns, raster.rows, free, false),
                           to_standing =
                               detail::squared_distances(raster.columns, raster.rows, stands, false);
  std::vector<float> field(stands.size());
  const auto clamped = [](float square) { return std::min(std::sqrt(square), 1000.0F); };
  for (std::size_t i = 0; i < field.size(); ++i) {
    // Between two neighbours of which one is marked lies the edge.
    const float value = stands[i] ? clamped(to_free[i]) - 0.5F : 0.5F - clamped(to_standing[i]);
    field[i] = value * static_cast<float>(raster.cell_mm);
  }
  return field;
}

double inside_of(const Box2& box, const Vec2& p) {
  return std::min((p - box.min()).minCoeff(), (box.max() - p).minCoeff());
}

}  // namespace

LevelRaster level_raster(const Region& axis_area, const LevelMaterial& material, double radius_mm,
                         double cell_mm, double margin_mm, std::size_t most_cells) {
  LevelRaster raster;
  const Box2 area = axis_area.box();
  double margin = 1.1 * radius_mm + 5 * cell_mm;
  const Vec2 size = area.sizes() + Vec2::Constant(2 * margin);
  const double most = std::sqrt(size.x() * size.y() / static_cast<double>(most_cells));
  raster.cell_mm = std::max(cell_mm, most);
  margin = 1.1 * radius_mm + 5 * raster.cell_mm;
  // Centred, so that a mirrored area has mirrored cells.
  const auto count = [&](double length) {
    return static_cast<int>(std::ceil((length + 2 * margin) / raster.cell_mm)) + 1;
  };
  raster.columns = count(area.sizes().x()), raster.rows = count(area.sizes().y());
  raster.origin = area.center() - 0.5 * raster.cell_mm * Vec2(raster.columns - 1, raster.rows - 1);
  const std::size_t cells = static_cast<std::size_t>(raster.columns) * static_cast<std::size_t>(raster.rows);
  raster.material.resize(cells);
  raster.wanted.assign(cells, 0);
  raster.blocked = distance_field(raster, axis_area);
  for (float& value : raster.blocked) value += static_cast<float>(margin_mm);
  // What it never reaches is no material: else the wall itself would count.
  const std::vector<float> beyond =
      distance_field(raster, offset(axis_area, radius_mm - margin_mm, 0.1 * margin_mm));
  std::vector<float> standing;
  detail::Mask stands(cells, 0);
  for (int row = 0; row < raster.rows; ++row)
    for (int column = 0; column < raster.columns; ++column) {
      const std::size_t i = raster.index(column, row);
      const Vec2 p = raster.place(column, row);
      stands[i] = material.stands(p);
      raster.wanted[i] = stands[i] && material.wanted(p);
    }
  if (!material.all_stands) standing = standing_field(raster, stands);
  for (int row = 0; row < raster.rows; ++row)
    for (int column = 0; column < raster.columns; ++column) {
      const std::size_t i = raster.index(column, row);
      float value =
          std::min(-beyond[i], static_cast<float>(inside_of(material.block, raster.place(column, row))));
      if (!standing.empty()) value = std::min(value, standing[i]);
      raster.material[i] = value;
    }
  return raster;
}

}  // namespace yardpass
