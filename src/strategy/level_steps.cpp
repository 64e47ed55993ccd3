#include "strategy/level_steps.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "geom/bands.h"
#include "geom/parallel_for.h"
#include "yardpass/contact/slope.h"
#include "yardpass/plan/spacing.h"
#include "yardpass/strategy/flats.h"

namespace yardpass::detail {

namespace {
constexpr double kSteepRise = 2.75;  // rise over run: 70 degrees
}

WantedStep::WantedStep(const WaterlineOptions& options, const ToolSurface& surface)
    : surface_(surface),
      scallop_(options.scallop_mm),
      least_rise_(std::tan(options.least_slope_deg * std::numbers::pi / 180)),
      radius_(leaves_scallops(surface.tool()) ? tip_radius(surface.tool()) : 0) {
  const double sharp = 0.25 * surface.tool().diameter_mm;
  spacing_ = radius_ > 0 ? std::sqrt(8 * radius_ * std::min(scallop_, 0.5 * radius_)) : sharp;
  widest_ = spacing_;
}

/// How far a triangle reaches along the fall line [mm].
double WantedStep::extent(std::int32_t triangle, const Vec2& downhill, double rise) const {
  const Mesh& mesh = surface_.part().mesh();
  const Vec3 fall = with_z(downhill, -rise).normalized();
  double low = std::numeric_limits<double>::infinity(), high = -low;
  for (int k = 0; k < 3; ++k) {
    const double at = fall.dot(mesh.corner(static_cast<std::size_t>(triangle), k));
    low = std::min(low, at), high = std::max(high, at);
  }
  return high - low;
}

/// 1 + k R: how much farther the tip goes down the slope than the point of touch, between places farther
/// apart than facets reach. On the two sides of a corner it is told differently, and where the touch jumps it
/// says nothing: then the lesser way of the touch counts.
double WantedStep::bend_ratio(const Vec2& place, const Touch& touch, const Vec2& downhill,
                              double rise) const {
  constexpr double kLeast = 0.1, kMost = 2, kAlike = 2.5;
  const double reach = std::clamp(extent(touch.triangle, downhill, rise), radius_ / 12, radius_ / 2);
  const double step = reach / std::hypot(1, rise);
  const Vec3 tip = with_z(place, touch.height);
  double tips[2] = {0, 0}, touches[2] = {0, 0};
  for (int side = 0; side < 2; ++side) {
    const Vec2 beside = place + (side ? -step : step) * downhill;
    const auto other = surface_.touch(beside, touch.triangle);
    if (!other) continue;
    const double way = (with_z(beside, other->height) - tip).norm();
    if (way > 3 * reach) continue;  // over a wall
    tips[side] = way;
    touches[side] = std::max((other->point - touch.point).norm(), 1e-9);
  }
  if (tips[0] + tips[1] == 0) return 1;
  const double one = tips[0] > 0 ? tips[0] / touches[0] : 0, two = tips[1] > 0 ? tips[1] / touches[1] : 0;
  const bool alike = one > 0 && two > 0 && std::max(one, two) < kAlike * std::min(one, two);
  return std::clamp(alike ? std::min(one, two) : std::max(one, two), kLeast, kMost);
}

std::optional<WantedStep::At> WantedStep::at(const Vec2& place, std::int32_t near) const {
  const auto touch = surface_.touch(place, near);
  if (!touch) return std::nullopt;
  const Vec2 slope = slope_at(surface_, place, *touch);
  const double rise = slope.norm();
  if (!(rise >= least_rise_)) return std::nullopt;
  const double cosine = 1 / std::hypot(1, rise), sine = rise * cosine;
  const Vec2 downhill = -slope / rise;
  double step = widest_;
  if (radius_ > 0)
    step = sine * spacing_ * std::sqrt(bend_ratio(place, *touch, downhill, rise));
  else
    step = std::min(widest_, scallop_ / std::max(cosine, 1e-9));
  return At{touch->height, step, rise, downhill};
}

StepTable::StepTable(const WantedStep& wanted, const Site& site, double low, double high,
                     const Progress& progress)
    : low_(low),
      high_(high),
      widest_(wanted.widest()),
      bin_(std::max({wanted.widest() / 50, (high - low) / 20000, 1e-4})) {
  samples_.resize(static_cast<std::size_t>(std::ceil((high - low) / bin_)) + 1);
  fill(wanted, site, progress);
  choose();
}

std::size_t StepTable::bin_of(double z) const {
  const double at = std::clamp((z - low_) / bin_, 0.0, static_cast<double>(samples_.size() - 1));
  return static_cast<std::size_t>(at);
}

void StepTable::fill(const WantedStep& wanted, const Site& site, const Progress& progress) {
  constexpr double kMostSamples = 120'000;
  const Box2 box = site.area.box();
  const double side = std::max(site.surface.cutter().radius() / 8,
                               std::sqrt(box.sizes().x() * box.sizes().y() / kMostSamples));
  const auto columns = static_cast<std::size_t>(box.sizes().x() / side) + 1,
             rows = static_cast<std::size_t>(box.sizes().y() / side) + 1;
  const Bands inside(site.area);
  std::vector<Place> places(columns * rows);
  // Not in rows: walls often run along them, and all would stand on few heights.
  const auto scatter = [](std::size_t number) {
    std::uint64_t z = (static_cast<std::uint64_t>(number) + 1) * 0x9e3779b97f4a7c15ull;
    z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ull;
    return static_cast<double>((z ^ (z >> 27)) >> 11) * 0x1p-53;
  };
  parallel_for(rows, progress, [&](std::size_t row) {
    for (std::size_t column = 0; column < columns; ++column) {
      const std::size_t k = row * columns + column;
      const Vec2 p = box.min() + side * Vec2(static_cast<double>(column) + scatter(2 * k),
                                             static_cast<double>(row) + scatter(2 * k + 1));
      places[k] = {inside.contains(p), p};
      if (places[k].wanted) look(wanted, places[k]);
    }
  });
  // Steep parts have next to no area in plan: they are sought between neighbours of very different height.
  std::vector<std::vector<Steep>> steep(rows);
  parallel_for(rows, [&](std::size_t row) {
    for (std::size_t column = 0; column < columns; ++column) {
      const Place& place = places[row * columns + column];
      if (column + 1 < columns) between(wanted, place, places[row * columns + column + 1], 0, steep[row]);
      if (row + 1 < rows) between(wanted, place, places[(row + 1) * columns + column], 0, steep[row]);
    }
  });
  const auto add = [&](double z, double step, double weight) {
    if (z >= low_ && z <= high_) samples_[bin_of(z)].push_back({step, weight});
  };
  for (const Place& place : places)
    if (place.at && place.at->rise < kSteepRise)
      add(place.at->z, place.at->step_mm, side * side * place.at->rise);
  for (const auto& of_row : steep)
    for (const Steep& piece : of_row) {
      // An edge of the grid meets a contour at any angle.
      constexpr double kSlanted = 0.8;
      const auto from = bin_of(piece.low), to = bin_of(piece.high);
      for (std::size_t bin = from; bin <= to; ++bin)
        samples_[bin].push_back(
            {piece.step, kSlanted * side * (piece.high - piece.low) / static_cast<double>(to - from + 1)});
    }
}

void StepTable::between(const WantedStep& wanted, const Place& a, const Place& b, int depth,
                        std::vector<Steep>& found) const {
  constexpr int kDeepest = 9;
  if (!a.wanted || !b.wanted) return;
  const double high = std::min(std::max(a.z, b.z), high_), low = std::max(std::min(a.z, b.z), low_);
  const double apart = (b.place - a.place).norm();
  if (!(high > low) || (depth == 0 && high - low < kSteepRise * apart)) return;
  if (high - low < 0.5 * widest_ || depth == kDeepest) {
    double step = widest_;
    for (const Place* end : {&a, &b})
      if (depth < kDeepest && end->at) step = std::min(step, end->at->step_mm);
    found.push_back({low, high, step});
    return;
  }
  Place middle{true, 0.5 * (a.place + b.place)};
  look(wanted, middle);
  between(wanted, a, middle, depth + 1, found);
  between(wanted, middle, b, depth + 1, found);
}

void StepTable::look(const WantedStep& wanted, Place& place) {
  place.at = wanted.at(place.place);
  place.z = place.at ? place.at->z : wanted.height(place.place);
}

/// For each height the step for which all passes together are shortest: a small one is small for all of the
/// contour, a wide one needs pieces in between where the surface wants less, twice as many each time.
void StepTable::choose() {
  constexpr double kLittle = 0.02, kForEnds = 1.15;
  steps_.assign(samples_.size(), widest_);
  for (std::size_t bin = 0; bin < samples_.size(); ++bin) {
    // A few bins together, so that chance counts less.
    std::vector<Sample> all;
    for (std::size_t k = bin > 2 ? bin - 2 : 0; k <= std::min(bin + 2, samples_.size() - 1); ++k)
      all.insert(all.end(), samples_[k].begin(), samples_[k].end());
    if (all.empty()) continue;
    std::sort(all.begin(), all.end(), [](const Sample& a, const Sample& b) { return a.step < b.step; });
    double best = std::numeric_limits<double>::infinity();
    for (const double share : {kLittle, 0.1, 0.25, 0.5, 0.75, 0.9, 1.0}) {
      const auto index = static_cast<std::size_t>(share * static_cast<double>(all.size() - 1));
      const double step = std::min(widest_, all[index].step);
      double cost = 0;
      for (const Sample& sample : all) {
        const double halvings = std::ceil(std::log2(step / sample.step) - 0.05);
        cost += sample.weight / step * (halvings > 0 ? kForEnds * std::exp2(halvings) : 1);
      }
      if (cost < best) best = cost, steps_[bin] = step;
    }
  }
}

/// The surface between two levels is as wide as all the steps between them allow together.
double StepTable::below(double z) const {
  double left = 1, at = z;
  for (std::size_t bin = bin_of(z);; --bin) {
    const double floor =
        bin == 0 ? -std::numeric_limits<double>::infinity() : low_ + bin_ * static_cast<double>(bin);
    const double share = (at - floor) / steps_[bin];
    if (share >= left || bin == 0) return at - left * steps_[bin];
    left -= share;
    at = floor;
  }
}

double StepTable::passes_wanted(double low, double high) const {
  constexpr std::size_t kChance = 2;  // samples
  double sum = 0;
  for (std::size_t bin = bin_of(low); bin <= bin_of(high); ++bin) {
    const double floor = low_ + bin_ * static_cast<double>(bin);
    double least = steps_[bin];
    std::vector<Sample> all = samples_[bin];
    if (!all.empty()) {
      const auto few = all.begin() + static_cast<std::ptrdiff_t>(std::min(kChance, all.size() / 4));
      std::nth_element(all.begin(), few, all.end(),
                       [](const Sample& a, const Sample& b) { return a.step < b.step; });
      least = std::min(least, few->step);
    }
    sum += std::max(0.0, std::min(high, floor + bin_) - std::max(low, floor)) / least;
  }
  return sum;
}

namespace {

/// Just above the level faces within the area, highest first.
std::vector<double> flat_tips(const Site& site) {
  std::vector<double> tips;
  const double least = 0.05 * std::pow(site.surface.tool().diameter_mm, 2),
               radius = site.surface.cutter().radius();
  const Region reach = offset(site.area, radius, 0.01);
  for (const LevelFace& flat : flats_of(site.surface))
    if (flat.outline.area_mm2() >= least && !intersect(flat.outline, reach).empty())
      tips.push_back(flat.tip_z);
  return tips;
}

void spread(const WaterlineOptions& options, const StepTable* table, double from, double to,
            std::vector<double>& levels) {
  if (!table) {
    const int count = std::max(1, static_cast<int>(std::ceil((from - to) / *options.stepdown_mm - 1e-9)));
    for (int k = 1; k <= count; ++k) levels.push_back(k == count ? to : from + (to - from) * k / count);
    return;
  }
  std::vector<double> found{from};
  while (found.back() > to) found.push_back(std::max(to, table->below(found.back())));
  // No level much nearer to the last one than it need be.
  const std::size_t n = found.size();
  if (n > 2 && found[n - 2] - found[n - 1] < 0.4 * (found[n - 3] - found[n - 2]))
    found[n - 2] = 0.5 * (found[n - 3] + found[n - 1]);
  levels.insert(levels.end(), found.begin() + 1, found.end());
}

}  // namespace

LevelHeights level_heights(const WaterlineOptions& options, const Site& site, const StepTable* table,
                           double top, bool with_top, double bottom) {
  const double tolerance = site.tolerance_mm, above = 1.5 * tolerance, near = std::max(2 * tolerance, 0.02);
  const std::vector<double> flats = flat_tips(site);
  std::vector<double> stops;
  for (const double flat : flats)
    if (flat + above < top - tolerance && flat + above > bottom &&
        (stops.empty() || stops.back() - (flat + above) > near))
      stops.push_back(flat + above);
  if (stops.empty() || stops.back() - bottom > near) stops.push_back(bottom);
  LevelHeights result;
  if (with_top) result.z.push_back(top);
  double from = top;
  for (const double stop : stops) {
    spread(options, table, from, stop, result.z);
    from = stop;
  }
  // Where the part is level at a height or a little above it there is no contour.
  for (double& z : result.z)
    for (const double flat : flats)
      if (z < flat + above - 1e-9 && z > flat - near) z = flat + above;
  std::sort(result.z.begin(), result.z.end(), std::greater<>());
  result.z.erase(std::unique(result.z.begin(), result.z.end(),
                             [&](double a, double b) { return a - b < 0.5 * tolerance; }),
                 result.z.end());
  for (const double z : result.z)
    result.above_flats += std::any_of(flats.begin(), flats.end(),
                                      [&](double flat) { return std::abs(z - flat - above) < 1e-9; });
  return result;
}

}  // namespace yardpass::detail
