#include "yardpass/strategy/parallel.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "geom/parallel_for.h"
#include "strategy/frame.h"
#include "yardpass/contact/lift.h"
#include "yardpass/plan/spacing.h"

namespace yardpass {

namespace {

// Passes keep so far inside the outermost lines of the area: a pass exactly on an edge would be neither in
// nor out.
constexpr double kInset = 1e-4;

struct Pass {
  Polyline2 line;
  std::int32_t row;  // from 1
};

std::vector<Pass> straight_passes(const Region& area, const ParallelOptions& options) {
  const detail::Frame frame = detail::frame_of(options.angle_deg);
  double low = 1e300, high = -1e300, left = 1e300, right = -1e300;
  for (const auto& loop : area.loops) {
    for (const Vec2& p : loop) {
      low = std::min(low, p.dot(frame.across)), high = std::max(high, p.dot(frame.across));
      left = std::min(left, p.dot(frame.along)), right = std::max(right, p.dot(frame.along));
    }
  }
  low += kInset, high -= kInset;
  std::vector<Pass> passes;
  if (!(high >= low)) return passes;
  const double steps = std::max(1.0, std::ceil((high - low) / options.stepover_mm - 1e-9));
  const std::size_t rows = static_cast<std::size_t>(steps) + 1;
  for (std::size_t row = 0; row < rows; ++row) {
    const double at = low + (high - low) * (static_cast<double>(row) / steps);
    Vec2 from = frame.along * (left - 1) + frame.across * at,
         to = frame.along * (right + 1) + frame.across * at;
    if (options.direction == PassDirection::zigzag && row % 2 == 1) std::swap(from, to);
    for (const Interval& part : inside(area, from, to)) {
      if ((part.to - part.from) * (to - from).norm() < 10 * kInset) continue;
      passes.push_back({{from + part.from * (to - from), from + part.to * (to - from)},
                        static_cast<std::int32_t>(row) + 1});
    }
  }
  return passes;
}

}  // namespace

void keys_of(ParallelOptions& options, const Tool& tool, Keys& keys) {
  constexpr double usual_scallop = 0.01;
  double scallop = usual_scallop;
  const auto scallop_key = [&](const Derived& usual) {
    keys.number("scallop_height", scallop, usual,
                {.says = "height of the ridges on flat ground, instead of the stepover",
                 .usual = "0.01",
                 .low = 0,
                 .high = 100,
                 .above_low = true,
                 .instead_of = "stepover"});
  };
  const auto stepover_key = [&] {
    keys.number(
        "stepover", options.stepover_mm, stepover_for(tool, scallop, keys.says("scallop_height")),
        {.says = "between the passes, in plan; they are spread evenly, so they lie this far apart or a "
                 "little less",
         .usual =
             "from the scallop height; with flat ends half the flat width, with points 0.05 of the diameter",
         .low = 0,
         .high = 1e4,
         .above_low = true,
         .of_tool = true});
  };
  if (keys.says("stepover")) {
    stepover_key();
    scallop_key({scallop_height(tool, options.stepover_mm), "by the stepover"});
  } else {
    scallop_key({usual_scallop, "0.01 mm"});
    stepover_key();
  }
  keys.idle_if(!spaced_by_scallop(tool), "scallop_height",
               "the stepover of this cutter does not follow from a height of ridges");
  keys.number("angle", options.angle_deg, {0, "along X"},
              {.says = "of the passes, counter-clockwise from X",
               .usual = "0",
               .unit = Unit::degrees,
               .low = -360,
               .high = 360});
  constexpr std::pair<PassDirection, const char*> directions[] = {{PassDirection::zigzag, "zigzag"},
                                                                  {PassDirection::one_way, "one-way"},
                                                                  {PassDirection::up_hill, "up-hill"},
                                                                  {PassDirection::down_hill, "down-hill"}};
  keys.choice(
      "direction", options.direction, directions, PassDirection::zigzag, "less air",
      {.says =
           "every second pass runs back, all run the same way, or each piece of them only up or only down",
       .usual = "`\"zigzag\"`"});
  constexpr std::pair<FirstPass, const char*> sides[] = {{FirstPass::near_side, "near"},
                                                         {FirstPass::far_side, "far"},
                                                         {FirstPass::low_side, "low"},
                                                         {FirstPass::high_side, "high"}};
  keys.choice(
      "first_pass", options.first, sides, FirstPass::near_side, "as the angle counts",
      {.says = "at the side from which the angle counts (passes along X: low Y), at the far one, or where "
               "the surface is lower or higher",
       .usual = "`\"near\"`"});
}

Usual usual_of(const ParallelOptions& options, const Tool& tool) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spacing_mm = options.stepover_mm;
  if (leaves_scallops(tool)) usual.scallop_mm = scallop_height(tool, options.stepover_mm);
  return usual;
}

namespace {

/// How far a line goes on from a point, as an index: to its highest place before it falls by more than the
/// tolerance. Not `up`: the same downwards.
std::size_t end_of_rise(const Polyline3& line, std::size_t first, bool up, double tolerance) {
  std::size_t best = first;
  for (std::size_t i = first + 1; i < line.size(); ++i) {
    const double gain = up ? line[i].z() - line[best].z() : line[best].z() - line[i].z();
    if (gain >= 0) best = i;
    if (gain < -tolerance) return best;
  }
  return line.size() - 1;
}

/// Pieces that only rise (or fall) along their way, within the tolerance, in the order of the line.
std::vector<Polyline3> one_way_in_height(const Polyline3& line, bool up, double tolerance) {
  std::vector<Polyline3> pieces;
  for (std::size_t at = 0; at + 1 < line.size();) {
    const std::size_t rise = end_of_rise(line, at, true, tolerance),
                      fall = end_of_rise(line, at, false, tolerance);
    // At least a piece, whichever way it goes.
    const std::size_t end = std::max({rise, fall, at + 1});
    Polyline3 piece(line.begin() + static_cast<std::ptrdiff_t>(at),
                    line.begin() + static_cast<std::ptrdiff_t>(end) + 1);
    if ((rise >= fall) != up) std::reverse(piece.begin(), piece.end());
    pieces.push_back(std::move(piece));
    at = end;
  }
  return pieces;
}

double mean_height(const std::vector<Pass>& passes, const std::vector<std::vector<Polyline3>>& lifted,
                   std::int32_t row) {
  double sum = 0;
  std::int64_t count = 0;
  for (std::size_t i = 0; i < passes.size(); ++i)
    for (const Polyline3& line : lifted[i])
      for (const Vec3& p : line)
        if (passes[i].row == row) sum += p.z(), ++count;
  return count > 0 ? sum / static_cast<double>(count) : 0;
}

/// Whether the passes are to be cut in the other order.
bool from_far_side(FirstPass first, const std::vector<Pass>& passes,
                   const std::vector<std::vector<Polyline3>>& lifted) {
  if (passes.empty() || first == FirstPass::near_side) return false;
  if (first == FirstPass::far_side) return true;
  const double near = mean_height(passes, lifted, passes.front().row),
               far = mean_height(passes, lifted, passes.back().row);
  return first == FirstPass::low_side ? far < near : far > near;
}

}  // namespace

CutPlan cuts_of(const ParallelOptions& options, const Site& site, const Progress& progress) {
  require(options.stepover_mm > 0, "stepover_mm", "must be above 0");
  const std::vector<Pass> passes = straight_passes(site.area, options);
  std::vector<std::vector<Polyline3>> lifted(passes.size());
  detail::parallel_for(passes.size(), progress, [&](std::size_t i) {
    lifted[i] = lift(site.surface, passes[i].line, {.tolerance_mm = site.tolerance_mm});
  });
  const bool far = from_far_side(options.first, passes, lifted);
  const bool up = options.direction == PassDirection::up_hill,
             down = options.direction == PassDirection::down_hill;
  const std::int32_t last_row = passes.empty() ? 0 : passes.back().row;
  std::vector<Cut> cuts;
  const auto add = [&](Polyline3 points, std::int32_t row) {
    cuts.push_back({.points = std::move(points), .pass = far ? last_row + 1 - row : row});
  };
  std::vector<std::size_t> order(passes.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  if (far)
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return passes[a].row > passes[b].row; });
  for (const std::size_t i : order) {
    for (const Polyline3& line : lifted[i])
      for (Polyline3& piece : between_heights(line, site.bottom_z, site.top_z)) {
        if (!up && !down)
          add(std::move(piece), passes[i].row);
        else
          for (Polyline3& part : one_way_in_height(piece, up, site.tolerance_mm))
            add(std::move(part), passes[i].row);
      }
  }
  return plan_of(std::move(cuts));
}

}  // namespace yardpass
