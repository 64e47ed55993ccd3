#include "yardpass/plan/defaults.h"

#include <algorithm>
#include <cmath>

namespace yardpass {

RoughingDefaults roughing_defaults(const Tool& tool) {
  const double d = tool.diameter_mm;
  RoughingDefaults result;
  result.stepdown_mm = {0.25 * d, "a quarter of the tool's diameter"};
  if (tool.flute_length_mm > 0 && tool.flute_length_mm < result.stepdown_mm.value)
    result.stepdown_mm = {tool.flute_length_mm, "the flute length"};
  result.stepover_mm = {0.45 * d, "0.45 of the tool's diameter, so that no peg stays"};
  result.allowance_mm = {std::max(0.1, 0.03 * d), "0.03 of the tool's diameter, at least 0.1 mm"};
  result.tolerance_mm = {std::clamp(result.allowance_mm.value / 6, 0.01, 0.1), "a sixth of the allowance"};
  result.ramp_angle_deg = {3, "3 degrees, which cutters take in steel"};
  if (tool.steepest_entry_deg < 3)
    result.ramp_angle_deg = {tool.steepest_entry_deg, "the tool's steepest entry"};
  return result;
}

ParallelDefaults parallel_defaults(const Tool& tool, double scallop_mm) {
  ParallelDefaults result;
  const double corner = tool.shape == Shape::ball ? 0.5 * tool.diameter_mm : tool.corner_radius_mm;
  const double flat_width =
      tool.shape == Shape::chamfer ? tool.tip_diameter_mm : tool.diameter_mm - 2 * corner;
  result.scallop_mm = {scallop_mm > 0 ? scallop_mm : 0.01, "0.01 mm"};
  if (flat_width > 0.2 * tool.diameter_mm) {
    result.stepover_mm = {0.5 * flat_width,
                          "half the flat width of the tip, so that nothing stays at slanted boundaries"};
  } else if (corner > 0) {
    const double c = std::min(result.scallop_mm.value, corner);
    result.stepover_mm = {
        2 * std::sqrt(c * (2 * corner - c)),
        scallop_mm > 0 ? "from the scallop height asked for" : "leaves scallops of 0.01 mm on flat ground"};
  } else {
    result.stepover_mm = {0.05 * tool.diameter_mm, "0.05 of the diameter, for a pointed tip"};
  }
  result.allowance_mm = {0, "finish to size"};
  result.tolerance_mm = {0.01, "0.01 mm"};
  result.angle_deg = {0, "along X"};
  return result;
}

double scallop_height(const Tool& tool, double stepover_mm) {
  const double corner = tool.shape == Shape::ball ? tool.diameter_mm / 2 : tool.corner_radius_mm;
  const double flat =
      tool.shape == Shape::flat ? tool.diameter_mm / 2 : std::max(0.0, tool.diameter_mm / 2 - corner);
  const double half = stepover_mm / 2 - flat;  // of what the round corners have to span
  if (half <= 0) return 0;
  return half < corner ? corner - std::sqrt((corner - half) * (corner + half)) : corner;
}

}  // namespace yardpass
