#include <algorithm>
#include <cmath>

#include "geom/parallel_for.h"
#include "yardpass/plan/rails.h"

namespace yardpass {

namespace {

constexpr double kMostApart = 25;  // contacts for tips
constexpr double kAcross = 2;  // mm across the rails, over which it is evened out: facets make contacts jump
constexpr std::size_t kMostBins = 4000;

/// A value that is known at the middles of equal shares.
double at_share(const std::vector<double>& bins, double share) {
  const double place = share * static_cast<double>(bins.size()) - 0.5;
  if (place <= 0) return bins.front();
  const auto i = static_cast<std::size_t>(place);
  if (i + 1 >= bins.size()) return bins.back();
  const double f = place - static_cast<double>(i);
  return (1 - f) * bins[i] + f * bins[i + 1];
}

}  // namespace

/// Where contacts move faster than the tip, ridges of a ball hold if it goes slower by the root of that.
void DividedRails::lengthen_in_hollows() {
  std::vector<Rail*> rails;
  double longest = 0;
  for (Rail& rail : rails_)
    if (rail.measured()) rails.push_back(&rail), longest = std::max(longest, rail.length());
  if (!(longest > 0)) return;
  const std::size_t bins =
      std::min(kMostBins, static_cast<std::size_t>(std::ceil(2 * longest / stepover_)) + 1);
  std::vector<std::vector<double>> ratios(rails.size()), even(rails.size());
  detail::parallel_for(rails.size(), [&](std::size_t j) {
    const Rail& rail = *rails[j];
    const auto contact_at = [&](double way) {
      const auto above = std::upper_bound(rail.marks.begin(), rail.marks.end(), way,
                                          [](double value, const Mark& mark) { return value < mark.way; });
      if (above == rail.marks.end()) return rail.marks.back().contact;
      if (above == rail.marks.begin()) return 0.0;
      const Mark &low = *(above - 1), &high = *above;
      return low.contact + (high.contact - low.contact) * (way - low.way) / (high.way - low.way);
    };
    ratios[j].assign(bins, 1);
    for (std::size_t b = 0; b < bins && rail.length() > 0; ++b) {
      const double middle = rail.length() * (static_cast<double>(b) + 0.5) / static_cast<double>(bins),
                   from = std::max(0.0, middle - 0.5 * stepover_),
                   to = std::min(rail.length(), middle + 0.5 * stepover_);
      ratios[j][b] = std::clamp((contact_at(to) - contact_at(from)) / (to - from), 1.0, kMostApart);
    }
  });
  const std::size_t n = rails.size();
  detail::parallel_for(n, [&](std::size_t j) {
    std::vector<double> sum(bins, 0);
    double weights = 0;
    const auto take = [&](std::size_t i, double off) {
      const double weight = std::exp(-2 * off * off / (kAcross * kAcross));
      weights += weight;
      for (std::size_t b = 0; b < bins; ++b) sum[b] += weight * ratios[i][b];
    };
    take(j, 0);
    for (const int way : {1, -1})
      for (std::size_t k = 1; k < n; ++k) {
        const bool wraps = way > 0 ? j + k >= n : k > j;
        if (wraps && !closed_) break;
        const std::size_t i = (j + (way > 0 ? k : n - k)) % n;
        const double off = std::abs(rails[i]->across - rails[j]->across), apart = wraps ? around_ - off : off;
        if (apart > kAcross || (closed_ && 2 * k > n)) break;
        take(i, apart);
      }
    for (double& value : sum) value /= weights;
    even[j] = std::move(sum);
  });
  detail::parallel_for(n, [&](std::size_t j) {
    Rail& rail = *rails[j];
    const double whole = rail.length();
    double before = 0, way = 0;
    for (Mark& mark : rail.marks) {
      const double step = mark.way - before, middle = before + 0.5 * step;
      before = mark.way;
      way += step * std::sqrt(at_share(even[j], whole > 0 ? middle / whole : 0));
      mark.way = way;
    }
  });
  count_steps();
}

}  // namespace yardpass
