#include "run/ground_samples.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include "geom/parallel_for.h"
#include "run/row_inside.h"
#include "yardpass/contact/lift.h"

namespace yardpass::detail {

GroundSamples::GroundSamples(const TipSurface& surface, const Region& area, const Region* touched,
                             std::optional<double> floor_z, int wanted) {
  const Box2 box = area.box();
  if (area.empty() || box.isEmpty()) return;
  const double covered = std::max(area.area_mm2(), 1e-4 * box.sizes().x() * box.sizes().y());
  cell_ = std::sqrt(covered / wanted);
  columns_ = static_cast<int>(std::min(4e3, std::max(1.0, std::ceil(box.sizes().x() / cell_))));
  rows_ = static_cast<int>(std::min(4e3, std::max(1.0, std::ceil(box.sizes().y() / cell_))));
  cell_ = std::max(box.sizes().x() / columns_, box.sizes().y() / rows_);
  low_ = box.min();
  heights_.assign(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_),
                  std::numeric_limits<double>::quiet_NaN());
  parallel_for(static_cast<std::size_t>(rows_), {}, [&](std::size_t r) {
    const int row = static_cast<int>(r);
    for_each_inside(area, at(0, row), cell_, columns_, [&](int column) {
      const auto touch = surface.touch(at(column, row));
      if (touch && (!touched || touched->contains(plan(touch->point))))
        heights_[index(column, row)] = std::max(touch->height, floor_z.value_or(touch->height));
      else if (!touch && floor_z)
        heights_[index(column, row)] = *floor_z;
    });
  });
}

bool GroundSamples::inside(int column, int row) const {
  return column >= 0 && row >= 0 && column < columns_ && row < rows_ && !std::isnan(height(column, row));
}

Vec2 GroundSamples::slope(int column, int row) const {
  const double z = height(column, row);
  const auto rise = [&](int dx, int dy) {
    if (inside(column + dx, row + dy)) return (height(column + dx, row + dy) - z) / cell_;
    return inside(column - dx, row - dy) ? (z - height(column - dx, row - dy)) / cell_ : 0.0;
  };
  return {rise(1, 0), rise(0, 1)};
}

double GroundSamples::width_across(double angle_rad) const {
  const Vec2 across(-std::sin(angle_rad), std::cos(angle_rad));
  double low = 1e300, high = -1e300;
  for (int row = 0; row < rows_; ++row)
    for (int column = 0; column < columns_; ++column)
      if (inside(column, row)) {
        const double off = at(column, row).dot(across);
        low = std::min(low, off), high = std::max(high, off);
      }
  return high >= low ? high - low + cell_ : 0;
}

double GroundSamples::depth_mm() const {
  // Two sweeps of a chamfer distance: within a tenth of the truth.
  std::vector<double> depth(heights_.size(), 0);
  double deepest = 0;
  const auto relax = [&](int column, int row, int step) {
    if (!inside(column, row)) return;
    const auto value = [&](int dx, int dy) {
      const int x = column + dx, y = row + dy;
      return inside(x, y) ? depth[index(x, y)] : 0.0;
    };
    double& d = depth[index(column, row)];
    const double found = std::min(
        {value(-step, 0) + 1, value(0, -step) + 1, value(-step, -step) + 1.414, value(step, -step) + 1.414});
    d = step > 0 ? found : std::min(d, found);
    if (step < 0) deepest = std::max(deepest, d);
  };
  for (int row = 0; row < rows_; ++row)
    for (int column = 0; column < columns_; ++column) relax(column, row, 1);
  for (int row = rows_ - 1; row >= 0; --row)
    for (int column = columns_ - 1; column >= 0; --column) relax(column, row, -1);
  return deepest * cell_;
}

double points_per_mm(const TipSurface& surface, const GroundSamples& ground, double tolerance_mm,
                     std::optional<double> angle_rad, bool level_lines) {
  constexpr int kLines = 96;
  constexpr double kGolden = 0.61803398874989485;
  std::vector<std::pair<int, int>> places;
  for (int row = 0; row < ground.rows(); ++row)
    for (int column = 0; column < ground.columns(); ++column)
      if (ground.inside(column, row)) places.emplace_back(column, row);
  if (places.empty()) return 0;
  double points = 0, length_mm = 0;
  for (int i = 0; i < kLines; ++i) {
    const double share = i * kGolden - std::floor(i * kGolden);
    const auto [column, row] = places[static_cast<std::size_t>(share * static_cast<double>(places.size()))];
    Vec2 way(1, 0);
    if (angle_rad)
      way = Vec2(std::cos(*angle_rad), std::sin(*angle_rad));
    else if (const Vec2 slope = ground.slope(column, row); level_lines && slope.norm() > 1e-6)
      way = Vec2(-slope.y(), slope.x()).normalized();
    else
      way = Vec2(std::cos(2.4 * i), std::sin(2.4 * i));
    const double half = 10 * ground.cell_mm();
    const Vec2 middle = ground.at(column, row);
    // Cut where the area ends, so that no wall beside it is counted.
    double before = 0, behind = 0;
    const auto still = [&](double t) {
      const Vec2 p = middle + t * way - ground.at(0, 0);
      return ground.inside(static_cast<int>(std::lround(p.x() / ground.cell_mm())),
                           static_cast<int>(std::lround(p.y() / ground.cell_mm())));
    };
    while (before < half && still(-before - ground.cell_mm())) before += ground.cell_mm();
    while (behind < half && still(behind + ground.cell_mm())) behind += ground.cell_mm();
    if (before + behind < 3 * ground.cell_mm()) continue;
    const Vec2 line[] = {Vec2(middle - before * way), Vec2(middle + behind * way)};
    for (const Polyline3& piece : lift(surface, line, {.tolerance_mm = tolerance_mm})) {
      points += static_cast<double>(piece.size()) - 1;
      length_mm += length(std::span<const Vec3>(piece));
    }
  }
  return length_mm > 0 ? points / length_mm : 0;
}

}  // namespace yardpass::detail
