#include <algorithm>
#include <cmath>
#include <limits>

#include "yardpass/stock/stock.h"

namespace yardpass {

namespace {

/// Sides below a rim that runs counter-clockwise seen from above, and a bottom around one middle point.
void close_below(Mesh& mesh, const std::vector<std::int32_t>& rim, const Stock& stock) {
  const Vec2 low = plan(stock.block().min()), high = plan(stock.block().max());
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
}

/// Right triangles that halve until each is within the tolerance. Source: W. Evans, D. Kirkpatrick, G.
/// Townsend, "Right-triangulated irregular networks", 2001. Errors are summed over the halvings below a
/// triangle, so the bound holds for every cell centre.
class Halving {
 public:
  Halving(const Stock& stock, double tolerance) : stock_(stock), tolerance_(tolerance) {
    const int most = std::max(stock.columns(), stock.rows()) - 1;
    while (size_ < most) size_ *= 2;
    side_ = static_cast<std::size_t>(size_) + 1;
    error_.assign(side_ * side_, 0.0F);
    for (int step = 1; step < size_; step *= 2) {
      // Middles of the sides of squares two steps wide, then the squares' own.
      for (int y = 0; y <= size_; y += step)
        for (int x = (y / step) % 2 == 0 ? step : 0; x <= size_; x += 2 * step) side_middle(x, y, step);
      for (int y = step; y <= size_; y += 2 * step)
        for (int x = step; x <= size_; x += 2 * step) square_middle(x, y, step);
    }
    if (size_ > 1) square_middle(size_ / 2, size_ / 2, size_ / 2);
    number_.assign(stock.heights().size(), -1);
  }

  Mesh run() {
    split({0, 0}, {size_, size_}, {size_, 0});
    split({size_, size_}, {0, 0}, {0, size_});
    close_below(mesh_, widened(rim()), stock_);
    return std::move(mesh_);
  }

 private:
  struct Place {
    int x, y;
  };
  [[nodiscard]] bool is_outside(int x, int y) const { return x >= stock_.columns() || y >= stock_.rows(); }
  [[nodiscard]] float& error(int x, int y) {
    return error_[static_cast<std::size_t>(y) * side_ + static_cast<std::size_t>(x)];
  }
  [[nodiscard]] float below(int x, int y) {
    return x < 0 || y < 0 || x > size_ || y > size_ ? 0.0F : error(x, y);
  }
  /// Triangles over the stock's rim have to be halved down to it.
  [[nodiscard]] bool crosses_rim(int x, int y, int step) const {
    const int last_column = stock_.columns() - 1, last_row = stock_.rows() - 1;
    return (x - step < last_column && x + step > last_column) || (y - step < last_row && y + step > last_row);
  }
  /// Upwards, so that nothing is lost to single precision.
  [[nodiscard]] float local(int x, int y, Place a, Place b) const {
    if (is_outside(x, y) || is_outside(a.x, a.y) || is_outside(b.x, b.y)) return 0;
    const double off =
        std::abs(stock_.height(x, y) - (stock_.height(a.x, a.y) + stock_.height(b.x, b.y)) / 2);
    return static_cast<float>(off * (1 + 1e-6));
  }
  void set(int x, int y, int step, float own, float children) {
    error(x, y) = crosses_rim(x, y, step) ? std::numeric_limits<float>::infinity() : own + children;
  }
  void side_middle(int x, int y, int step) {
    const bool along_x = (x / step) % 2 == 1;
    const float own =
        along_x ? local(x, y, {x - step, y}, {x + step, y}) : local(x, y, {x, y - step}, {x, y + step});
    float children = 0;
    if (const int half = step / 2; half > 0)
      for (const int dx : {-half, half})
        for (const int dy : {-half, half}) children = std::max(children, below(x + dx, y + dy));
    set(x, y, step, own, children);
  }
  void square_middle(int x, int y, int step) {
    const bool rising = ((x - step) / (2 * step) + (y - step) / (2 * step)) % 2 == 0;
    const float own = rising ? local(x, y, {x - step, y - step}, {x + step, y + step})
                             : local(x, y, {x - step, y + step}, {x + step, y - step});
    const float children =
        std::max({below(x - step, y), below(x + step, y), below(x, y - step), below(x, y + step)});
    set(x, y, step, own, children);
  }

  /// A triangle with its right angle at c, counter-clockwise b a c.
  void split(Place a, Place b, Place c) {
    if (is_outside(std::min({a.x, b.x, c.x}) + 1, 0) || is_outside(0, std::min({a.y, b.y, c.y}) + 1)) return;
    const Place middle{(a.x + b.x) / 2, (a.y + b.y) / 2};
    const bool is_least = std::abs(a.x - c.x) + std::abs(a.y - c.y) <= 1;
    if (!is_least && static_cast<double>(error(middle.x, middle.y)) > tolerance_) {
      split(c, a, middle);
      split(b, c, middle);
      return;
    }
    mesh_.triangles.push_back({corner(a), corner(c), corner(b)});
  }
  std::int32_t corner(Place p) {
    std::int32_t& number = number_[stock_.index(p.x, p.y)];
    if (number < 0) {
      number = static_cast<std::int32_t>(mesh_.points.size());
      mesh_.points.push_back(with_z(stock_.centre(p.x, p.y), stock_.height(p.x, p.y)));
    }
    return number;
  }
  [[nodiscard]] std::vector<std::int32_t> rim() const {
    std::vector<std::int32_t> result;
    const int last_column = stock_.columns() - 1, last_row = stock_.rows() - 1;
    const auto add = [&](int x, int y) {
      const std::int32_t number = number_[stock_.index(x, y)];
      if (number >= 0) result.push_back(number);
    };
    for (int x = 0; x < last_column; ++x) add(x, 0);
    for (int y = 0; y < last_row; ++y) add(last_column, y);
    for (int x = last_column; x > 0; --x) add(x, last_row);
    for (int y = last_row; y > 0; --y) add(0, y);
    return result;
  }

  /// The half cell between the outermost centres and the block's sides, level outwards; returns the outer
  /// rim.
  std::vector<std::int32_t> widened(const std::vector<std::int32_t>& inner) {
    const Vec2 first = stock_.centre(0, 0), last = stock_.centre(stock_.columns() - 1, stock_.rows() - 1);
    const Box3& block = stock_.block();
    std::vector<std::int32_t> outer;
    for (const std::int32_t number : inner) {
      Vec3 p = mesh_.points[static_cast<std::size_t>(number)];
      if (p.x() == first.x()) p.x() = block.min().x();
      if (p.y() == first.y()) p.y() = block.min().y();
      if (p.x() == last.x()) p.x() = block.max().x();
      if (p.y() == last.y()) p.y() = block.max().y();
      outer.push_back(static_cast<std::int32_t>(mesh_.points.size()));
      mesh_.points.push_back(p);
    }
    for (std::size_t k = 0; k < inner.size(); ++k) {
      const std::size_t next = (k + 1) % inner.size();
      mesh_.triangles.push_back({inner[k], outer[k], outer[next]});
      mesh_.triangles.push_back({inner[k], outer[next], inner[next]});
    }
    return outer;
  }

  const Stock& stock_;
  double tolerance_;
  int size_ = 1;  // cells on a side of the square, a power of two
  std::size_t side_ = 2;
  std::vector<float> error_;
  std::vector<std::int32_t> number_;  // of the mesh corner at a cell; -1: none
  Mesh mesh_;
};

}  // namespace

Mesh decimated_mesh(const Stock& stock, double tolerance_mm) {
  if (stock.columns() < 2 || stock.rows() < 2) return mesh_of(stock);
  return Halving(stock, tolerance_mm).run();
}

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
  // The rim, counter-clockwise from above.
  std::vector<std::int32_t> rim;
  for (int i = 0; i < wide - 1; ++i) rim.push_back(top_point(i, 0));
  for (int j = 0; j < tall - 1; ++j) rim.push_back(top_point(wide - 1, j));
  for (int i = wide - 1; i > 0; --i) rim.push_back(top_point(i, tall - 1));
  for (int j = tall - 1; j > 0; --j) rim.push_back(top_point(0, j));
  close_below(mesh, rim, stock);
  return mesh;
}

}  // namespace yardpass
