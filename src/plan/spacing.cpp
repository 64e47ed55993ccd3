#include "yardpass/plan/spacing.h"

#include <algorithm>
#include <cmath>

namespace yardpass {

namespace {

double corner_of(const Tool& tool) {
  const bool ball = tool.shape == Shape::ball || tool.shape == Shape::lollipop;
  return ball ? tool.diameter_mm / 2 : tool.corner_radius_mm;
}

double flat_width_of(const Tool& tool) {
  return tool.shape == Shape::chamfer ? tool.tip_diameter_mm : tool.diameter_mm - 2 * corner_of(tool);
}

}  // namespace

double tip_radius(const Tool& tool) { return corner_of(tool); }

bool spaced_by_scallop(const Tool& tool) {
  return flat_width_of(tool) <= 0.2 * tool.diameter_mm && corner_of(tool) > 0;
}

Derived stepover_for(const Tool& tool, double scallop_mm, bool asked) {
  if (!spaced_by_scallop(tool)) {
    const double flat = flat_width_of(tool);
    if (flat > 0.2 * tool.diameter_mm)
      return {0.5 * flat, "half the flat width of the tip, so that nothing stays at slanted boundaries"};
    return {0.05 * tool.diameter_mm, "0.05 of the diameter, for a pointed tip"};
  }
  const double corner = corner_of(tool), c = std::min(scallop_mm, corner);
  return {2 * std::sqrt(c * (2 * corner - c)),
          asked ? "from the scallop height asked for" : "leaves scallops of 0.01 mm on flat ground"};
}

bool leaves_scallops(const Tool& tool) {
  return tool.shape != Shape::chamfer && tool.shape != Shape::profile;
}

double scallop_height(const Tool& tool, double stepover_mm) {
  const double corner = corner_of(tool);
  const double flat =
      tool.shape == Shape::flat ? tool.diameter_mm / 2 : std::max(0.0, tool.diameter_mm / 2 - corner);
  const double half = stepover_mm / 2 - flat;  // of what the round corners have to span
  if (half <= 0) return 0;
  return half < corner ? corner - std::sqrt((corner - half) * (corner + half)) : corner;
}

}  // namespace yardpass
