#include "yardpass/plan/roughing.h"

#include <algorithm>
#include <cmath>

#include "yardpass/contact/lift.h"
#include "yardpass/plan/level_set.h"

namespace yardpass {

namespace {

std::vector<double> levels_between(const TipSurface& surface, const RoughingOptions& options, double lowest) {
  const double top = options.top_z, flat_radius = surface.cutter().radius();
  std::vector<double> levels;
  for (int k = 1; top - k * options.stepdown_mm > lowest + 1e-6; ++k)
    levels.push_back(top - k * options.stepdown_mm);
  for (const Flat& flat : flats(surface.part().mesh(), flat_radius * flat_radius)) {
    const double z = flat.z_mm + surface.floor_allowance_mm();
    if (z < top - 1e-6 && z > lowest - 1e-6) levels.push_back(z);
  }
  if (options.bottom_z > lowest - 1e-6 && options.bottom_z < top - 1e-6) levels.push_back(options.bottom_z);
  std::erase_if(levels, [&](double z) { return z < options.bottom_z; });
  std::sort(levels.rbegin(), levels.rend());
  levels.erase(std::unique(levels.begin(), levels.end(), [](double a, double b) { return a - b < 1e-3; }),
               levels.end());
  return levels;
}

class LevelRougher {
 public:
  LevelRougher(const TipSurface& surface, const RoughingOptions& options, RoughingPlan& plan)
      : surface_(surface), options_(options), plan_(plan) {}

  void area(const Region& region, double z) {
    for (const Region& piece : pieces(region)) {
      loops_.clear();
      rings(piece);
      if (options_.stepover_mm > surface_.cutter().radius()) pegs(piece);
      for (const Polyline2& loop : loops_) emit(loop, z);
    }
  }

 private:
  /// The loops of what is left after a stepover first, so that the cut widens from the inside.
  void rings(const Region& piece) {
    for (const Region& inner : pieces(offset(piece, -options_.stepover_mm))) rings(inner);
    for (const Polyline2& loop : piece.loops)
      loops_.push_back(simplify_loop(loop, 0.25 * options_.tolerance_mm));
  }

  /// What no loop comes near enough to: cut its outline too (it lies inside the area), again until nothing is
  /// left.
  void pegs(const Region& piece) {
    for (int round = 0; round < 4; ++round) {
      const double reach = surface_.cutter().radius() - 0.5 * options_.tolerance_mm;
      Region left = subtract(piece, around(loops_, true, reach));
      left = offset(offset(left, -0.005), 0.005);  // dust of the planar operations
      left = intersect(left, piece);
      if (left.empty()) return;
      for (const Polyline2& loop : left.loops) {
        if (signed_area(loop) > 0) ++plan_.pegs;
        loops_.push_back(simplify_loop(loop, 0.25 * options_.tolerance_mm));
      }
    }
  }

  /// Proven by lifting: where the area's outline was not exact enough, the loop goes up by what is missing.
  void emit(const Polyline2& loop, double z) {
    Polyline2 curve = loop;
    curve.push_back(loop.front());
    const double around_loop = length(std::span<const Vec2>(curve));
    if (around_loop < 0.05 * surface_.cutter().radius()) return;
    auto lines = lift(surface_, curve, {.tolerance_mm = options_.tolerance_mm, .floor_z = z});
    for (auto& line : lines) {
      const bool closed = lines.size() == 1 && plan(line.front()) == plan(line.back());
      if (closed && line.front().z() != line.back().z())
        line.back().z() = line.front().z() = std::max(line.front().z(), line.back().z());
      if (closed) line.pop_back();
      if (line.size() >= 2) plan_.cuts.push_back({std::move(line), closed, Entry::ramp});
    }
  }

  const TipSurface& surface_;
  const RoughingOptions& options_;
  RoughingPlan& plan_;
  std::vector<Polyline2> loops_;
};

}  // namespace

RoughingPlan plan_roughing(const TipSurface& surface, const Region& area, const RoughingOptions& options,
                           const Progress& progress) {
  RoughingPlan plan;
  if (area.empty()) return plan;
  const double radius = surface.cutter().radius();
  // Outlines are straight between grid lines. Round corners bulge over such chords by at most spacing^2 / (8
  // radius), and simplifying moves them by a quarter of the tolerance; a cutter thicker by the tolerance
  // leaves room for both.
  const double spacing = std::min(0.1 * radius, std::sqrt(2 * radius * options.tolerance_mm));
  const LevelGrid grid(surface.with_more_allowance(options.tolerance_mm), area.box(), spacing,
                       part_of(progress, 0, 0.6));
  double lowest = grid.lowest(area);
  if (lowest == kNothingBelow) lowest = surface.part().box().min().z();
  lowest = std::max(lowest, surface.part().box().min().z());
  lowest = std::max(lowest, options.bottom_z);
  const auto levels = levels_between(surface, options, lowest - options.tolerance_mm);
  for (std::size_t i = 0; i < levels.size(); ++i) {
    report(part_of(progress, 0.6, 1), static_cast<double>(i) / static_cast<double>(levels.size()));
    // The thicker cutter stands higher by as much; sideways its margin stays.
    const Region free = grid.at_or_below(levels[i] + options.tolerance_mm);
    const std::size_t before = plan.cuts.size();
    LevelRougher(surface, options, plan).area(intersect(free, area), levels[i]);
    if (plan.cuts.size() > before) plan.levels_z.push_back(levels[i]);
  }
  return plan;
}

}  // namespace yardpass
