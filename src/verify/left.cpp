#include "yardpass/verify/left.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "geom/parallel_for.h"
#include "stock/cells_inside.h"
#include "verify/part_raster.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass {

namespace {

/// Rows are done in bands of about a million cells, so that little besides the result is held in memory.
int rows_of_band(const Stock& stock) { return std::max(1, 1'000'000 / stock.columns()); }

}  // namespace

std::vector<double> part_heights(const Stock& stock, const std::shared_ptr<const ContactPart>& part) {
  return detail::PartRaster(stock, *part).rows(0, stock.rows());
}

const LeftMap& RunningLeft::update(const Stock& stock, const Progress& progress) {
  const std::size_t cells = stock.heights().size();
  if (heights_.empty()) {
    map_ = {stock.columns(), stock.rows(), {}, at_most_};
    map_.left_mm.resize(cells);
    heights_.assign(cells, std::numeric_limits<double>::quiet_NaN());  // unlike any height
  }
  const detail::PartRaster raster(stock, part_);
  const auto columns = static_cast<std::size_t>(stock.columns());
  const int band = rows_of_band(stock);
  for (int row = 0; row < stock.rows(); row += band) {
    const int row_end = std::min(row + band, stock.rows());
    const std::size_t first = stock.index(0, row),
                      last = first + static_cast<std::size_t>(row_end - row) * columns;
    std::vector<std::size_t> changed;
    for (std::size_t i = first; i < last; ++i) {
      if (stock.heights()[i] == heights_[i]) continue;
      heights_[i] = stock.heights()[i];
      changed.push_back(i);
    }
    if (changed.empty()) continue;
    const std::vector<double> uppers = raster.rows(row, row_end);
    constexpr std::size_t chunk = 1024;
    const auto all = static_cast<double>(cells);
    const Progress here =
        part_of(progress, static_cast<double>(first) / all, static_cast<double>(last) / all);
    detail::parallel_for((changed.size() + chunk - 1) / chunk, here, [&](std::size_t c) {
      for (std::size_t k = c * chunk; k < std::min(changed.size(), (c + 1) * chunk); ++k) {
        const std::size_t i = changed[k];
        const double upper = uppers[i - first], top = stock.heights()[i];
        float& value = map_.left_mm[i];
        if (upper == kNothingBelow) {
          value = std::numeric_limits<float>::quiet_NaN();
          continue;
        }
        const double distance = part_.distance(
            with_z(stock.centre(static_cast<int>(i % columns), static_cast<int>(i / columns)), top),
            std::min(at_most_, std::abs(top - upper)));
        value = static_cast<float>(top < upper ? -distance : distance);
      }
    });
  }
  return map_;
}

LeftMap left_map(const Stock& stock, const ContactPart& part, double at_most_mm, const Progress& progress) {
  RunningLeft running(part, at_most_mm);
  running.update(stock, progress);
  return running.take();
}

void count_peaks(LeftMap& map, const Stock& stock, const std::shared_ptr<const ContactPart>& part,
                 std::span<const Vec3> peaks) {
  const TipSurface upper_side(part, Profile::needle());
  for (const Vec3& peak : peaks) {
    if (peak.z() < upper_side.height(plan(peak))) continue;
    const std::optional<std::size_t> cell = stock.cell_at(plan(peak));
    if (!cell) continue;
    float& value = map.left_mm[*cell];
    const double above = peak.z() - stock.heights()[*cell];
    if (std::isnan(value)) continue;  // no part there
    const double most =
        std::min(map.at_most_mm, std::abs(static_cast<double>(value)) + above + stock.cell_mm());
    value = std::max(value, static_cast<float>(part->distance(peak, most)));
  }
}

LeftStatistics statistics(const LeftMap& map, const Stock& stock, const Region& area) {
  LeftStatistics result;
  for (const double limit : {0.01, 0.02, 0.05, 0.1, 0.5}) result.within.push_back({limit, 0});
  std::vector<float> values;
  double sum = 0;
  std::size_t greatest = 0;
  float least = std::numeric_limits<float>::infinity(), most = -least;
  detail::for_cells_inside(stock, area, [&](int column, int row) {
    const std::size_t cell = stock.index(column, row);
    const float value = map.left_mm[cell];
    if (std::isnan(value)) return;
    values.push_back(value);
    sum += static_cast<double>(value);
    least = std::min(least, value);
    if (value > most) most = value, greatest = cell;
    for (auto& within : result.within) within.share += static_cast<double>(value) <= within.limit_mm;
  });
  if (values.empty()) return result;
  const auto count = static_cast<double>(values.size());
  for (auto& within : result.within) within.share /= count;
  const auto percentile = [&](double share) {
    const auto place = values.begin() + static_cast<std::ptrdiff_t>(share * (count - 1));
    std::nth_element(values.begin(), place, values.end());
    return static_cast<double>(*place);
  };
  result.area_mm2 = count * stock.cell_mm() * stock.cell_mm();
  result.least_mm = static_cast<double>(least);
  result.mean_mm = sum / count;
  result.median_mm = percentile(0.5);
  result.p95_mm = percentile(0.95);
  result.p99_mm = percentile(0.99);
  result.greatest_mm = static_cast<double>(most);
  const auto columns = static_cast<std::size_t>(map.columns);
  const int column = static_cast<int>(greatest % columns), row = static_cast<int>(greatest / columns);
  result.greatest_at = with_z(stock.centre(column, row), stock.height(column, row));
  return result;
}

}  // namespace yardpass
