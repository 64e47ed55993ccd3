#include "run/coarse_levels.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "geom/parallel_for.h"
#include "run/row_inside.h"

namespace yardpass::detail {

namespace {

constexpr double kNowhere = std::numeric_limits<double>::infinity();

/// Heights that many places share: flats of the tip surface.
std::vector<double> heights_of_many(std::vector<double> heights) {
  std::erase(heights, kNowhere);
  std::sort(heights.begin(), heights.end());
  std::vector<double> flats;
  for (std::size_t first = 0, end = 0; first < heights.size(); first = end) {
    for (end = first; end < heights.size() && heights[end] - heights[first] < 1e-6;) ++end;
    if (end - first > heights.size() / 100) flats.push_back(heights[first]);
  }
  return flats;
}

}  // namespace

CoarseLevels::CoarseLevels(const Stock& stock) {
  const Vec2 size = plan(stock.block()).sizes();
  constexpr double kCells = 16000;
  cell_ = std::max(stock.cell_mm(), std::sqrt(size.x() * size.y() / kCells));
  columns_ = std::max(1, static_cast<int>(size.x() / cell_)),
  rows_ = std::max(1, static_cast<int>(size.y() / cell_));
  low_ = plan(stock.block().min());
  for (int row = 0; row < rows_; ++row)
    for (int column = 0; column < columns_; ++column) {
      const Vec2 p = (at(column, row) - low_) / stock.cell_mm();
      left_.push_back(stock.height(std::min(stock.columns() - 1, static_cast<int>(p.x())),
                                   std::min(stock.rows() - 1, static_cast<int>(p.y()))));
    }
}

std::vector<double> CoarseLevels::over_disc(const std::vector<double>& values, double radius_mm,
                                            bool highest) const {
  const int reach = static_cast<int>(radius_mm / cell_);
  std::vector<double> result(values.size());
  parallel_for(static_cast<std::size_t>(rows_), {}, [&](std::size_t r) {
    const int row = static_cast<int>(r);
    for (int column = 0; column < columns_; ++column) {
      double best = highest ? -kNowhere : kNowhere;
      for (int dy = -reach; dy <= reach; ++dy) {
        const int y = row + dy;
        if (y < 0 || y >= rows_) continue;
        const int wide = static_cast<int>(std::sqrt(static_cast<double>(reach * reach - dy * dy)));
        for (int x = std::max(0, column - wide); x <= std::min(columns_ - 1, column + wide); ++x) {
          const double v = values[index(x, y)];
          best = highest ? std::max(best, v) : std::min(best, v);
        }
      }
      result[index(column, row)] = best;
    }
  });
  return result;
}

std::vector<double> CoarseLevels::tips(const TipSurface& surface, const Region& area, double bottom_z,
                                       bool over_part_only) const {
  std::vector<double> tip(left_.size(), kNowhere);
  parallel_for(static_cast<std::size_t>(rows_), {}, [&](std::size_t r) {
    const int row = static_cast<int>(r);
    for_each_inside(area, at(0, row), cell_, columns_, [&](int column) {
      const double z = surface.height(at(column, row));
      if (z == kNothingBelow && over_part_only) return;
      tip[index(column, row)] = std::max(bottom_z, z == kNothingBelow ? bottom_z : z);
    });
  });
  return tip;
}

/// How many of the four neighbours of a cell are told of as `good`; beside the grid `outside`.
template <typename Good>
int CoarseLevels::neighbours(int column, int row, bool outside, const Good& good) const {
  int count = 0;
  for (const auto& [dx, dy] : {std::pair(-1, 0), std::pair(1, 0), std::pair(0, -1), std::pair(0, 1)}) {
    const int x = column + dx, y = row + dy;
    const bool beside = x < 0 || y < 0 || x >= columns_ || y >= rows_;
    count += beside ? outside : good(index(x, y));
  }
  return count;
}

void CoarseLevels::measure(const std::vector<std::uint8_t>& there, double times, Cleared& cleared) const {
  for (int row = 0; row < rows_; ++row)
    for (int column = 0; column < columns_; ++column) {
      if (!there[index(column, row)]) continue;
      cleared.area_mm2 += times * cell_ * cell_;
      cleared.outline_mm += times * cell_ * std::numbers::pi / 4 *
                            neighbours(column, row, true, [&](std::size_t i) { return !there[i]; });
    }
}

CoarseLevels::Cleared CoarseLevels::clear_flats(const ToolSurface& surface, const Region& area,
                                                double bottom_z) {
  const double radius = 0.5 * surface.tool().diameter_mm;
  const std::vector<double> tip = tips(surface, area, bottom_z, true),
                            material = over_disc(left_, radius, true);
  std::vector<std::uint8_t> there(tip.size(), 0);
  std::vector<double> reached(tip.size(), kNowhere);
  for (int row = 0; row < rows_; ++row)
    for (int column = 0; column < columns_; ++column) {
      const std::size_t i = index(column, row);
      if (tip[i] == kNowhere || !(material[i] > tip[i] + 1e-6)) continue;
      const auto as_high = [&](std::size_t k) { return std::abs(tip[k] - tip[i]) < 1e-6; };
      if (neighbours(column, row, true, as_high) < 3) continue;
      there[i] = 1, reached[i] = tip[i];
    }
  Cleared cleared;
  measure(there, 1, cleared);
  lower(reached, radius);
  return cleared;
}

CoarseLevels::Cleared CoarseLevels::clear(const ToolSurface& surface, const Region& area, double stepdown_mm,
                                          std::optional<double> top_z, double bottom_z) {
  const double radius = 0.5 * surface.tool().diameter_mm;
  const std::vector<double> tip = tips(surface, area, bottom_z, false),
                            material = over_disc(left_, radius, true);
  double top = top_z.value_or(-kNowhere), low = kNowhere;
  for (std::size_t i = 0; i < tip.size(); ++i) {
    if (tip[i] == kNowhere) continue;
    if (!top_z) top = std::max(top, material[i]);
    low = std::min(low, tip[i]);
  }
  Cleared cleared;
  if (!(top > low)) return cleared;
  const double count = std::ceil((top - low) / stepdown_mm), looked = std::min(count, 200.0);
  std::vector<std::pair<double, double>> levels;  // height, and how many it stands for
  for (double k = 1; k <= looked; ++k)
    levels.emplace_back(std::max(low, top - (top - low) * (k / looked)), count / looked);
  const std::size_t regular = levels.size();
  for (const double z : heights_of_many(tip))
    if (z < top && z > low) levels.emplace_back(z, 1);
  std::vector<std::uint8_t> there(tip.size(), 0);
  std::vector<double> areas;
  for (const auto& [z, times] : levels) {
    for (std::size_t i = 0; i < tip.size(); ++i) there[i] = tip[i] <= z + 1e-9 && material[i] > z + 1e-6;
    const double before = cleared.area_mm2;
    measure(there, times, cleared);
    areas.push_back((cleared.area_mm2 - before) / times);
  }
  // Corners of the block beside a round part hold something at every height, and are no level.
  const double most = *std::max_element(areas.begin(), areas.end());
  for (std::size_t k = 0; k < regular; ++k)
    if (areas[k] > 0.02 * most) cleared.levels += levels[k].second;
  // Under every place of the tip the material is as low then as the next level above it.
  std::vector<double> reached(tip.size(), kNowhere);
  for (std::size_t i = 0; i < tip.size(); ++i)
    if (tip[i] != kNowhere)
      reached[i] = std::max(low, top - std::floor((top - tip[i]) / stepdown_mm + 1e-9) * stepdown_mm);
  lower(reached, radius);
  return cleared;
}

void CoarseLevels::lower(const std::vector<double>& reached, double radius_mm) {
  const std::vector<double> swept = over_disc(reached, radius_mm, false);
  for (std::size_t i = 0; i < left_.size(); ++i) left_[i] = std::min(left_[i], swept[i]);
}

}  // namespace yardpass::detail
