#include "report/cut_scale.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace yardpass::detail {

namespace {

constexpr double kSameLevel = 5e-3;
constexpr std::size_t kMostLevels = 60;  // more are no wider than a line

/// The heights of cuts, if nearly all of their length is level and at a few heights.
std::vector<double> levels_of(const std::vector<Stroke>& strokes) {
  std::map<long, std::pair<double, double>> at;  // length, and of it times the height
  double level = 0, all = 0;
  for (const Stroke& stroke : strokes) {
    if (stroke.kind != MoveKind::cut) continue;
    const double length = (stroke.to - stroke.from).norm();
    all += length;
    if (std::abs(stroke.to.z() - stroke.from.z()) > 1e-6) continue;
    level += length;
    auto& [sum, moment] = at[std::lround(stroke.to.z() / kSameLevel)];
    sum += length, moment += length * stroke.to.z();
  }
  if (level < 0.9 * all) return {};
  // Short ones are ways from loop to loop, a little higher.
  std::vector<double> levels;
  for (const auto& [key, here] : at)
    if (here.first > 0.1 * level / static_cast<double>(at.size())) levels.push_back(here.second / here.first);
  return levels.size() > 1 && levels.size() <= kMostLevels ? levels : std::vector<double>{};
}

}  // namespace

double CutScale::share(const Stroke& stroke) const {
  const double value = by_height ? 0.5 * (stroke.from.z() + stroke.to.z()) : stroke.pass;
  return (value - low) / std::max(1e-9, high - low);
}

bool CutScale::lighter(const Stroke& stroke) const {
  if (levels.empty()) return false;
  const double z = 0.5 * (stroke.from.z() + stroke.to.z());
  // Of the level below it, or of its own.
  return (std::upper_bound(levels.begin(), levels.end(), z + kSameLevel) - levels.begin()) % 2 == 0;
}

CutScale scale_of_cuts(const std::vector<Stroke>& strokes) {
  CutScale heights{true, 1e300, -1e300}, passes{false, 1e300, -1e300};
  for (const Stroke& stroke : strokes) {
    if (stroke.kind != MoveKind::cut) continue;
    for (const double z : {stroke.from.z(), stroke.to.z()})
      heights.low = std::min(heights.low, z), heights.high = std::max(heights.high, z);
    passes.low = std::min<double>(passes.low, stroke.pass),
    passes.high = std::max<double>(passes.high, stroke.pass);
  }
  if (heights.low > heights.high) return {};
  heights.levels = levels_of(strokes);
  return heights.high - heights.low < 0.01 && passes.high > passes.low ? passes : heights;
}

}  // namespace yardpass::detail
