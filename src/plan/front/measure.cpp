#include "plan/front/measure.h"

#include <algorithm>
#include <cmath>

#include "geom/parallel_for.h"

namespace yardpass::detail {

namespace {

constexpr double kBase = 0.4;  // mm, over which contacts are compared; or so many stepovers:
constexpr double kBaseSteps = 1;
constexpr double kWindow = 2;     // mm along the front, over which it is evened out
constexpr double kApart = 0.25;   // mm between places that are asked
constexpr double kCrease = 0.2;   // the two sides differ by more
constexpr double kMostApart = 8;  // contacts for tips, where the ground is hardly hollower than the ball
constexpr double kLeast = 0.35, kMost = 2;  // of the stepover

/// How far apart contacts are for tip positions a millimetre apart, across a front; 0: not known.
double contacts_per_tip(const Ground& ground, const FrontPoint& here, const Vec3& along, double base,
                        FrontCounts& counts) {
  const auto beside = [&](const Vec3& way) {
    ++counts.touches;
    return ground.at(plan(here.tip) + plan(way) * base, here.triangle);
  };
  const Vec3 across = along.cross(here.normal);
  const FrontPoint right = beside(across), left = beside(-across);
  if (!right.touched || !left.touched) return 0;
  const FrontPoint ahead = beside(along), behind = beside(-along);
  // Across the line of contacts, which may run askew under that of the tips.
  Vec3 line = ahead.touched && behind.touched ? Vec3(ahead.contact - behind.contact) : Vec3(0, 0, 0);
  if (line.norm() > 1e-9) line.normalize();
  const auto apart = [&](const FrontPoint& a, const FrontPoint& b) {
    const Vec3 way = a.contact - b.contact;
    return (way - way.dot(line) * line).norm() / std::max(1e-9, (a.tip - b.tip).norm());
  };
  const double to_right = apart(right, here), to_left = apart(left, here);
  // On a crease only the side counts that the front advances into: its right.
  if (std::abs(to_right - to_left) > kCrease * std::max(to_right, to_left))
    return std::clamp(to_right, 0.1, kMostApart);
  return std::clamp(apart(right, left), 0.1, kMostApart);
}

struct Sample {
  double at, ratio, weight;
};

}  // namespace

std::vector<double> steps_of(const Ground& ground, const FrontChain& chain, const FrontOptions& options,
                             FrontCounts& counts) {
  if (options.measure == FrontMeasure::tip) return {};
  const FrontLoop& points = chain.points;
  const std::size_t n = points.size();
  std::vector<double> way(n + 1, 0);
  for (std::size_t i = 0; i < n; ++i)
    way[i + 1] = way[i] + (i + 1 < n || chain.closed ? (points[(i + 1) % n].tip - points[i].tip).norm() : 0);
  const double total = way[n], base = std::max(kBase, kBaseSteps * options.stepover_mm);
  std::vector<std::size_t> asked;
  for (std::size_t i = 0; i < n; ++i)
    if (points[i].live && (asked.empty() || way[i] - way[asked.back()] >= kApart)) asked.push_back(i);
  std::vector<Sample> samples(asked.size());
  std::vector<FrontCounts> took(asked.size());
  parallel_for(asked.size(), [&](std::size_t k) {
    const std::size_t i = asked[k];
    const FrontPoint &a = points[i > 0          ? i - 1
                                 : chain.closed ? n - 1
                                                : 0],
                     &p = points[i],
                     &b = points[i + 1 < n      ? i + 1
                                 : chain.closed ? 0
                                                : n - 1];
    Vec3 along = b.tip - a.tip;
    if (!a.touched) along = b.tip - p.tip;
    if (!b.touched) along = p.tip - a.tip;
    along -= along.dot(p.normal) * p.normal;
    const double apart = k + 1 < asked.size() ? way[asked[k + 1]] - way[i] : kApart;
    samples[k] = {way[i], 0, std::min(apart, 4 * kApart)};
    if (along.norm() > 1e-9)
      samples[k].ratio = contacts_per_tip(ground, p, along.normalized(), base, took[k]);
  });
  for (const FrontCounts& one : took) counts.add(one);
  std::erase_if(samples, [](const Sample& s) { return !(s.ratio > 0); });
  std::vector<double> steps(n, options.stepover_mm);
  parallel_for(n, [&](std::size_t i) {
    if (!points[i].live || samples.empty()) return;
    double weights = 0, sum = 0;
    const auto take = [&](double shift) {
      const double from = way[i] + shift - kWindow;
      auto it = std::lower_bound(samples.begin(), samples.end(), from,
                                 [](const Sample& s, double at) { return s.at < at; });
      for (; it != samples.end() && it->at <= from + 2 * kWindow; ++it) {
        const double off = (it->at - way[i] - shift) / kWindow,
                     weight = std::exp(-2 * off * off) * it->weight;
        weights += weight, sum += weight * it->ratio;
      }
    };
    take(0);
    if (chain.closed && total > 2 * kWindow) take(total), take(-total);
    if (!(weights > 0)) return;
    const double ratio = sum / weights;
    const double share = options.measure == FrontMeasure::part ? 1 / ratio : 1 / std::sqrt(ratio);
    steps[i] = options.stepover_mm * std::clamp(share, kLeast, kMost);
  });
  return steps;
}

}  // namespace yardpass::detail
