#include "yardpass/verify/excess.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "geom/parallel_for.h"
#include "verify/cells_inside.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass {

namespace {

/// Rows are done in bands of about a million cells, so that little besides the result is held in memory.
int rows_of_band(const Stock& stock) { return std::max(1, 1'000'000 / stock.columns()); }

std::vector<double> heights_of_rows(const Stock& stock, const TipSurface& needle, int first, int last) {
  std::vector<Vec2> places;
  places.reserve(static_cast<std::size_t>(stock.columns()) * static_cast<std::size_t>(last - first));
  for (int row = first; row < last; ++row)
    for (int column = 0; column < stock.columns(); ++column) places.push_back(stock.centre(column, row));
  return heights(needle, places);
}

}  // namespace

std::vector<double> part_heights(const Stock& stock, const std::shared_ptr<const ContactPart>& part) {
  const TipSurface needle(part, Profile::needle());
  std::vector<double> result;
  result.reserve(stock.heights().size());
  const int band = rows_of_band(stock);
  for (int first = 0; first < stock.rows(); first += band) {
    const std::vector<double> rows =
        heights_of_rows(stock, needle, first, std::min(first + band, stock.rows()));
    result.insert(result.end(), rows.begin(), rows.end());
  }
  return result;
}

const ExcessMap& RunningExcess::update(const Stock& stock, const Progress& progress) {
  const std::size_t cells = stock.heights().size();
  if (heights_.empty()) {
    map_ = {stock.columns(), stock.rows(), {}, at_most_};
    map_.excess_mm.resize(cells);
    heights_.assign(cells, std::numeric_limits<double>::quiet_NaN());  // unlike any height
  }
  const std::shared_ptr<const ContactPart> unowned(std::shared_ptr<void>(), &part_);
  const TipSurface needle(unowned, Profile::needle());
  const auto columns = static_cast<std::size_t>(stock.columns());
  const std::size_t band = static_cast<std::size_t>(rows_of_band(stock)) * columns;
  for (std::size_t first = 0; first < cells; first += band) {
    std::vector<std::size_t> changed;
    std::vector<Vec2> places;
    for (std::size_t i = first; i < std::min(first + band, cells); ++i) {
      if (stock.heights()[i] == heights_[i]) continue;
      heights_[i] = stock.heights()[i];
      changed.push_back(i);
      places.push_back(stock.centre(static_cast<int>(i % columns), static_cast<int>(i / columns)));
    }
    const std::vector<double> uppers = heights(needle, places);
    constexpr std::size_t chunk = 1024;
    const auto all = static_cast<double>(cells);
    const Progress here = part_of(progress, static_cast<double>(first) / all,
                                  static_cast<double>(std::min(first + band, cells)) / all);
    detail::parallel_for((changed.size() + chunk - 1) / chunk, here, [&](std::size_t c) {
      for (std::size_t k = c * chunk; k < std::min(changed.size(), (c + 1) * chunk); ++k) {
        const double upper = uppers[k], top = stock.heights()[changed[k]];
        float& value = map_.excess_mm[changed[k]];
        if (upper == kNothingBelow) {
          value = std::numeric_limits<float>::quiet_NaN();
          continue;
        }
        const double distance =
            part_.distance(with_z(places[k], top), std::min(at_most_, std::abs(top - upper)));
        value = static_cast<float>(top < upper ? -distance : distance);
      }
    });
  }
  return map_;
}

ExcessMap excess_map(const Stock& stock, const ContactPart& part, double at_most_mm,
                     const Progress& progress) {
  RunningExcess running(part, at_most_mm);
  running.update(stock, progress);
  return running.take();
}

ExcessStatistics statistics(const ExcessMap& map, const Stock& stock, const Region& area) {
  ExcessStatistics result;
  for (const double limit : {0.01, 0.02, 0.05, 0.1, 0.5}) result.within.push_back({limit, 0});
  struct Sample {
    float value;
    std::size_t cell;
  };
  std::vector<Sample> samples;
  detail::for_cells_inside(stock, area, [&](int column, int row) {
    const float value = map.excess_mm[stock.index(column, row)];
    if (!std::isnan(value)) samples.push_back({value, stock.index(column, row)});
  });
  if (samples.empty()) return result;
  std::sort(samples.begin(), samples.end(), [](const Sample& a, const Sample& b) {
    return a.value != b.value ? a.value < b.value : a.cell < b.cell;
  });
  const auto count = static_cast<double>(samples.size());
  const auto percentile = [&](double share) {
    return samples[static_cast<std::size_t>(share * (count - 1))].value;
  };
  double sum = 0;
  for (const Sample& sample : samples) sum += static_cast<double>(sample.value);
  result.area_mm2 = count * stock.cell_mm() * stock.cell_mm();
  result.least_mm = samples.front().value;
  result.mean_mm = sum / count;
  result.median_mm = percentile(0.5);
  result.p95_mm = percentile(0.95);
  result.p99_mm = percentile(0.99);
  result.greatest_mm = samples.back().value;
  const int column = static_cast<int>(samples.back().cell % static_cast<std::size_t>(map.columns));
  const int row = static_cast<int>(samples.back().cell / static_cast<std::size_t>(map.columns));
  result.greatest_at = with_z(stock.centre(column, row), stock.height(column, row));
  for (auto& within : result.within) {
    const auto first_above =
        std::upper_bound(samples.begin(), samples.end(), within.limit_mm,
                         [](double limit, const Sample& s) { return limit < static_cast<double>(s.value); });
    within.share = static_cast<double>(first_above - samples.begin()) / count;
  }
  return result;
}

}  // namespace yardpass
