#include "yardpass/plan/parallel.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "geom/parallel_for.h"

namespace yardpass {

namespace {

// Passes keep so far inside the outermost lines of the area: a pass exactly on an edge would be neither in
// nor out.
constexpr double kInset = 1e-4;

struct Frame {
  Vec2 along, across;
};

Frame frame_of(double angle_deg) {
  // Exact for whole quarter turns: cos(90 degrees) is not 0 in floating point.
  const double quarter = angle_deg / 90;
  if (quarter == std::round(quarter)) {
    const Vec2 ways[] = {{1, 0}, {0, 1}, {-1, 0}, {0, -1}};
    const auto k = static_cast<int>(std::fmod(std::fmod(quarter, 4) + 4, 4));
    return {ways[k], ways[(k + 1) % 4]};
  }
  const double angle = angle_deg * std::numbers::pi / 180;
  return {{std::cos(angle), std::sin(angle)}, {-std::sin(angle), std::cos(angle)}};
}

std::vector<Polyline2> straight_passes(const Region& area, const ParallelOptions& options,
                                       std::size_t& rows) {
  const Frame frame = frame_of(options.angle_deg);
  double low = 1e300, high = -1e300, left = 1e300, right = -1e300;
  for (const auto& loop : area.loops) {
    for (const Vec2& p : loop) {
      low = std::min(low, p.dot(frame.across)), high = std::max(high, p.dot(frame.across));
      left = std::min(left, p.dot(frame.along)), right = std::max(right, p.dot(frame.along));
    }
  }
  low += kInset, high -= kInset;
  std::vector<Polyline2> passes;
  rows = 0;
  if (!(high >= low)) return passes;
  const double steps = std::max(1.0, std::ceil((high - low) / options.stepover_mm - 1e-9));
  rows = static_cast<std::size_t>(steps) + 1;
  for (std::size_t row = 0; row < rows; ++row) {
    const double at = low + (high - low) * (static_cast<double>(row) / steps);
    Vec2 from = frame.along * (left - 1) + frame.across * at,
         to = frame.along * (right + 1) + frame.across * at;
    if (options.zigzag && row % 2 == 1) std::swap(from, to);
    for (const Interval& part : inside(area, from, to)) {
      if ((part.to - part.from) * (to - from).norm() < 10 * kInset) continue;
      passes.push_back({from + part.from * (to - from), from + part.to * (to - from)});
    }
  }
  return passes;
}

}  // namespace

std::vector<Cut> plan_parallel(const TipSurface& surface, const Region& area, const ParallelOptions& options,
                               const Progress& progress) {
  std::size_t rows = 0;
  const std::vector<Polyline2> passes = straight_passes(area, options, rows);
  std::vector<std::vector<Polyline3>> lifted(passes.size());
  detail::parallel_for(passes.size(), progress, [&](std::size_t i) {
    lifted[i] = lift(surface, passes[i], {.tolerance_mm = options.tolerance_mm});
  });
  std::vector<Cut> cuts;
  for (const auto& pass : lifted)
    for (const auto& line : pass)
      for (auto& piece : between_heights(line, options.bottom_z, options.top_z))
        cuts.push_back({std::move(piece), false, Entry::straight});
  return cuts;
}

}  // namespace yardpass
