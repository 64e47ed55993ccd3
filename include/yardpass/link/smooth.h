/// Smooth motion: cuts as few long arcs and lines instead of many short lines.
///
/// A toolpath may lie anywhere between the tip surface and its tolerance above it, normal to the part. Points
/// are taken in the middle of that room; from each an arc (or a line) goes on as far as one curvature keeps
/// it near all points in between, and each is then proven on both sides for all its points, as the program
/// will say it, decimals included: free of the part, and met everywhere by a tool thicker by the tolerance.
#pragma once

#include <array>

#include "yardpass/contact/tool_surface.h"
#include "yardpass/geom/posted.h"
#include "yardpass/geom/region.h"
#include "yardpass/path/toolpath.h"

namespace yardpass {

struct SmoothOptions {
  /// How far above the ideal path the result may lie, normal to the part [mm]: the tolerance that the path
  /// was planned with, or more; REQUIRES: above 0
  double tolerance_mm = 0.01;
  PostedForm posted = {};  ///< of the program
  /// Arcs in the planes XY, ZX, YZ (G17, G18, G19), as the control takes them.
  std::array<bool, 3> planes = {true, true, true};
  Region keep_out = {};                                        ///< cuts do not lead the axis over it
  double bottom_z = -std::numeric_limits<double>::infinity();  ///< nor the tip below this
  double steepest_deg = 85;  ///< no block of a cut runs down steeper than this
};

struct SmoothedPath {
  Toolpath path;
  std::int64_t kept_runs = 0;  ///< stretches of cuts that stayed as they were: no proof was found
};

/// Smooths the cuts of a toolpath; all else stays as it is, but that where a cut begins and ends is raised
/// into the middle of the tolerance. Where a cut rests on the part its points are taken anew, by touches
/// under the line that it has in plan; level cuts stay level; where it does not rest on the part (levels
/// that are cleared, passes that were raised) it stays within 0.42 of the tolerance of where it was. `exact`:
/// the surface with the allowance that the path was planned with, without reserve for rounding: blocks are
/// proven with their rounded ends. Runs on all cores; the result does not depend on their number. Throws
/// Error if an option breaks what it asks for.
///
/// Source of the fit: the arcs through two given points form a family of one number, the curvature, of which
/// each point between allows an interval; fitting arcs to points within a tolerance: D. S. Meek and D. J.
/// Walton, "Approximation of discrete data by G1 arc splines", 1992.
[[nodiscard]] SmoothedPath smooth(const Toolpath& path, const ToolSurface& exact,
                                  const SmoothOptions& options, const Progress& progress = {});

}  // namespace yardpass
