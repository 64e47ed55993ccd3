#include <algorithm>
#include <cmath>

#include "yardpass/stock/stock.h"

namespace yardpass {

Mesh mesh_of(const Stock& stock, std::size_t most_triangles) {
  const double cells = static_cast<double>(stock.columns()) * stock.rows();
  const int step =
      std::max(1, static_cast<int>(std::ceil(std::sqrt(2 * cells / static_cast<double>(most_triangles)))));
  const int across = (stock.columns() + step - 1) / step, up = (stock.rows() + step - 1) / step;
  const Vec2 low = plan(stock.block().min()), high = plan(stock.block().max());

  Mesh mesh;
  // One point a square, at its middle; the outermost ones are drawn out to the block's sides.
  const auto place = [&](int i, int count, double from, double to) {
    if (i == 0) return from;
    if (i == count - 1) return to;
    return std::min(to, from + (i + 0.5) * step * stock.cell_mm());
  };
  const int wide = std::max(across, 2), tall = std::max(up, 2);
  for (int j = 0; j < tall; ++j) {
    for (int i = 0; i < wide; ++i) {
      const int first_column = std::min(i, across - 1) * step, first_row = std::min(j, up - 1) * step;
      double top = stock.bottom_z();
      for (int row = first_row; row < std::min(first_row + step, stock.rows()); ++row)
        for (int column = first_column; column < std::min(first_column + step, stock.columns()); ++column)
          top = std::max(top, stock.height(column, row));
      mesh.points.emplace_back(place(i, wide, low.x(), high.x()), place(j, tall, low.y(), high.y()), top);
    }
  }
  const auto top_point = [&](int i, int j) { return static_cast<std::int32_t>(j * wide + i); };
  for (int j = 0; j + 1 < tall; ++j) {
    for (int i = 0; i + 1 < wide; ++i) {
      mesh.triangles.push_back({top_point(i, j), top_point(i + 1, j), top_point(i + 1, j + 1)});
      mesh.triangles.push_back({top_point(i, j), top_point(i + 1, j + 1), top_point(i, j + 1)});
    }
  }
  // The rim, counter-clockwise from above, then the sides below it and a bottom around one middle point.
  std::vector<std::int32_t> rim;
  for (int i = 0; i < wide - 1; ++i) rim.push_back(top_point(i, 0));
  for (int j = 0; j < tall - 1; ++j) rim.push_back(top_point(wide - 1, j));
  for (int i = wide - 1; i > 0; --i) rim.push_back(top_point(i, tall - 1));
  for (int j = tall - 1; j > 0; --j) rim.push_back(top_point(0, j));
  const auto first_low = static_cast<std::int32_t>(mesh.points.size());
  const auto count = static_cast<std::int32_t>(rim.size());
  for (const auto top : rim)
    mesh.points.push_back(with_z(plan(mesh.points[static_cast<std::size_t>(top)]), stock.bottom_z()));
  const auto middle = static_cast<std::int32_t>(mesh.points.size());
  mesh.points.push_back(with_z(0.5 * (low + high), stock.bottom_z()));
  for (std::int32_t k = 0; k < count; ++k) {
    const std::int32_t next = (k + 1) % count;
    const std::int32_t top = rim[static_cast<std::size_t>(k)], next_top = rim[static_cast<std::size_t>(next)];
    mesh.triangles.push_back({top, first_low + k, next_top});
    mesh.triangles.push_back({next_top, first_low + k, first_low + next});
    mesh.triangles.push_back({middle, first_low + next, first_low + k});
  }
  return mesh;
}

}  // namespace yardpass
