#include "plan/walk/front.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yardpass::detail {

Front::Front(LevelRaster raster, double radius)
    : raster_(std::move(raster)),
      radius_(radius),
      cells_(radius / raster_.cell_mm),
      seen_above_(static_cast<float>(0.1 * raster_.cell_mm)),
      uncleared_above_(static_cast<float>(0.4 * raster_.cell_mm)) {
  for (int k = 0; k <= kArcs; ++k) {
    const double angle = std::numbers::pi * (static_cast<double>(k) / kArcs - 0.5);
    cosines_[static_cast<std::size_t>(k)] = cells_ * std::cos(angle);
    sines_[static_cast<std::size_t>(k)] = cells_ * std::sin(angle);
  }
}

/// Between four cells; x and y in cells, within the raster.
float Front::sample(const std::vector<float>& field, double x, double y) const {
  const int i = static_cast<int>(x), j = static_cast<int>(y);
  const auto fx = static_cast<float>(x - i), fy = static_cast<float>(y - j);
  const float* at = field.data() + raster_.index(i, j);
  const float* above = at + raster_.columns;
  const float low = at[0] + fx * (at[1] - at[0]), high = above[0] + fx * (above[1] - above[0]);
  return low + fy * (high - low);
}

double Front::engaged(const Vec2& p, const Vec2& heading) const {
  const double x = (p.x() - raster_.origin.x()) / raster_.cell_mm,
               y = (p.y() - raster_.origin.y()) / raster_.cell_mm;
  float sum = 0, before = 0;
  for (std::size_t k = 0; k <= kArcs; ++k) {
    const float d = sample(raster_.material, x + heading.x() * cosines_[k] - heading.y() * sines_[k],
                           y + heading.y() * cosines_[k] + heading.x() * sines_[k]) -
                    seen_above_;
    if (k > 0) {
      if (d > 0 && before > 0)
        sum += 1;
      else if (d > 0 || before > 0)
        sum += std::max(d, before) / std::abs(d - before);
    }
    before = d;
  }
  return static_cast<double>(sum) * std::numbers::pi / kArcs;
}

bool Front::blocked(const Vec2& p) const {
  const double x = (p.x() - raster_.origin.x()) / raster_.cell_mm,
               y = (p.y() - raster_.origin.y()) / raster_.cell_mm;
  if (x < 0 || y < 0 || x >= raster_.columns - 1 || y >= raster_.rows - 1) return true;
  return sample(raster_.blocked, x, y) > 0;
}

bool Front::cleared(const Vec2& p, bool of_all) const {
  const double x = (p.x() - raster_.origin.x()) / raster_.cell_mm,
               y = (p.y() - raster_.origin.y()) / raster_.cell_mm, r = cells_ - 0.25;
  const int low = std::max(0, static_cast<int>(std::ceil(y - r))),
            high = std::min(raster_.rows - 1, static_cast<int>(y + r));
  // From the rim to the middle: there something stands most often.
  const auto row_clear = [&](int row) {
    const double half = std::sqrt(std::max(0.0, r * r - (row - y) * (row - y)));
    const int first = std::max(0, static_cast<int>(std::ceil(x - half))),
              last = std::min(raster_.columns - 1, static_cast<int>(x + half));
    const std::size_t start = raster_.index(0, row);
    for (int column = first; column <= last; ++column) {
      const std::size_t cell = start + static_cast<std::size_t>(column);
      if (raster_.material[cell] > uncleared_above_ && (of_all || raster_.wanted[cell])) return false;
    }
    return true;
  };
  for (int row = low; row <= high; ++row)
    if (!row_clear(row)) return false;
  return true;
}

bool Front::clear_line(const Vec2& a, const Vec2& b) const {
  const int parts = static_cast<int>((b - a).norm() / (0.25 * radius_)) + 1;
  for (int k = 0; k <= parts; ++k) {
    const Vec2 p = a + (b - a) * (static_cast<double>(k) / parts);
    if (blocked(p) || !cleared(p, true)) return false;
  }
  return true;
}

Front::Taken Front::clear(const Vec2& a, const Vec2& b, bool whole) {
  int taken = 0, wanted = 0;
  const double cell = raster_.cell_mm;
  const Vec2 from = (a - raster_.origin) / cell, to = (b - raster_.origin) / cell, way = to - from;
  const double length = way.norm(), outer = cells_ + 3,
               inner = whole ? 0 : std::max(0.0, cells_ - 3 - length);
  const Vec2 ahead = length > 0 ? Vec2(way / length) : Vec2(0, 0);
  const auto dx = static_cast<float>(way.x()), dy = static_cast<float>(way.y());
  const float inverse = length > 0 ? 1 / (dx * dx + dy * dy) : 0, radius = static_cast<float>(cells_),
              mm = static_cast<float>(cell);
  const int low = std::max(0, static_cast<int>(std::ceil(std::min(from.y(), to.y()) - outer))),
            high = std::min(raster_.rows - 1, static_cast<int>(std::max(from.y(), to.y()) + outer));
  for (int row = low; row <= high; ++row) {
    const double up = row - to.y(), reach = outer + length;
    if (std::abs(up) > reach) continue;
    const double half = std::sqrt(reach * reach - up * up);
    double first = to.x() - half, last = to.x() + half;
    if (!whole && length > 0) {
      // Not behind the tool.
      const double behind = -2 - length - up * ahead.y();
      if (ahead.x() > 1e-6)
        first = std::max(first, to.x() + behind / ahead.x());
      else if (ahead.x() < -1e-6)
        last = std::min(last, to.x() + behind / ahead.x());
      else if (behind > 0)
        continue;
    }
    const double hole = std::abs(up) < inner ? std::sqrt(inner * inner - up * up) : -1;
    const float y = static_cast<float>(row - from.y());
    float* cells = raster_.material.data() + raster_.index(0, row);
    const std::uint8_t* wanted_cells = raster_.wanted.data() + raster_.index(0, row);
    const auto lower = [&](double x0, double x1) {
      const int begin = std::max(0, static_cast<int>(std::ceil(x0))),
                end = std::min(raster_.columns - 1, static_cast<int>(std::floor(x1)));
      const auto shift = static_cast<float>(from.x());
      for (int column = begin; column <= end; ++column) {
        const float x = static_cast<float>(column) - shift;
        const float t = std::min(1.F, std::max(0.F, (x * dx + y * dy) * inverse));
        const float ex = x - t * dx, ey = y - t * dy;
        const float now = (std::sqrt(ex * ex + ey * ey) - radius) * mm, before = cells[column];
        if (before > seen_above_ && now <= seen_above_) ++taken, wanted += wanted_cells[column];
        cells[column] = std::min(before, now);
      }
    };
    if (hole < 0) {
      lower(first, last);
    } else {
      lower(first, std::min(last, to.x() - hole));
      lower(std::max(first, to.x() + hole), last);
    }
  }
  return {taken * cell * cell, wanted * cell * cell};
}

}  // namespace yardpass::detail
