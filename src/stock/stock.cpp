#include "yardpass/stock/stock.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace yardpass {

Stock::Stock(const Box3& block, double cell_mm) : block_(block), cell_(cell_mm), columns_(0), rows_(0) {
  if (!(cell_mm > 0)) throw Error("the cell size of the stock must be above 0");
  if (block.isEmpty() || !(block.sizes().minCoeff() > 0)) throw Error("the stock has no size");
  // As many as have their centres in the block: a centre beside it would be material that is not there.
  const double across = std::ceil(block.sizes().x() / cell_mm - 0.5 - 1e-9),
               up = std::ceil(block.sizes().y() / cell_mm - 0.5 - 1e-9);
  if (across * up > 2e9)
    throw Error("a stock of this size needs a larger cell than " + std::to_string(cell_mm) + " mm");
  columns_ = std::max(1, static_cast<int>(across));
  rows_ = std::max(1, static_cast<int>(up));
  heights_.assign(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_), block.max().z());
}

double Stock::volume_mm3() const {
  double sum = 0;
  for (int row = 0; row < rows_; ++row) {
    double row_sum = 0;
    for (int column = 0; column < columns_; ++column) row_sum += height(column, row) - bottom_z();
    sum += row_sum;
  }
  return sum * cell_ * cell_;
}

Stock::CellRange Stock::cells_between(const Vec2& low, const Vec2& high) const {
  const auto first = [&](double value, double origin, int count) {
    return static_cast<int>(
        std::clamp(std::ceil((value - origin) / cell_ - 0.5 - 1e-9), 0.0, static_cast<double>(count)));
  };
  const auto last = [&](double value, double origin, int count) {
    return static_cast<int>(
        std::clamp(std::floor((value - origin) / cell_ - 0.5 + 1e-9) + 1, 0.0, static_cast<double>(count)));
  };
  return {first(low.x(), block_.min().x(), columns_), last(high.x(), block_.min().x(), columns_),
          first(low.y(), block_.min().y(), rows_), last(high.y(), block_.min().y(), rows_)};
}

double Stock::free_height(const Profile& cutter, const Vec2& place) const {
  const double radius = cutter.radius();
  const CellRange range = cells_between(place.array() - radius, place.array() + radius);
  double highest = -std::numeric_limits<double>::infinity();
  for (int row = range.first_row; row < range.last_row; ++row) {
    for (int column = range.first_column; column < range.last_column; ++column) {
      const double far = (centre(column, row) - place).norm();
      if (far <= radius) highest = std::max(highest, height(column, row) - cutter.height(far));
    }
  }
  for (const HiddenSquare& square : hidden_) {
    const double near = box_of(square).exteriorDistance(place);
    if (near <= radius) highest = std::max(highest, square.top_z - cutter.height(near));
  }
  return highest;
}

double Stock::thickness_met(const Profile& cutter, const Vec3& tip) const {
  const Vec2 place = plan(tip);
  const double radius = cutter.radius();
  const CellRange range = cells_between(place.array() - radius, place.array() + radius);
  double thickest = 0;
  for (int row = range.first_row; row < range.last_row; ++row)
    for (int column = range.first_column; column < range.last_column; ++column) {
      const double above = height(column, row) - tip.z();
      if (above <= thickest) continue;  // no place is deeper inside than it lies above the tip
      const double far = (centre(column, row) - place).norm();
      if (far < radius - thickest) thickest = std::max(thickest, depth_inside(cutter, far, above));
    }
  return thickest;
}

std::optional<std::size_t> Stock::cell_at(const Vec2& place) const {
  const Vec2 at = (place - plan(block_.min())) / cell_;
  if (!(at.x() >= 0 && at.y() >= 0 && at.x() < columns_ && at.y() < rows_)) return std::nullopt;
  return index(static_cast<int>(at.x()), static_cast<int>(at.y()));
}

Stock::CellRange Stock::centres_of(const HiddenSquare& square) const {
  return {std::max(square.column, 0), std::min(square.column + 2, columns_), std::max(square.row, 0),
          std::min(square.row + 2, rows_)};
}

Box2 Stock::box_of(const HiddenSquare& square) const {
  return Box2(centre(square.column, square.row), centre(square.column + 1, square.row + 1))
      .intersection(Box2(plan(block_.min()), plan(block_.max())));
}

}  // namespace yardpass
