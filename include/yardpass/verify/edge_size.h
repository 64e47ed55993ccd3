/// How wide broken edges really became, square to each edge.
#pragma once

#include "yardpass/contact/contact_part.h"
#include "yardpass/geom/edge_section.h"
#include "yardpass/post/read_program.h"
#include "yardpass/stock/stock.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

/// What is off by no more counts as the size that was asked for [mm].
inline constexpr double kSizeHeld = 0.02;

/// Of one edge, or of all of them.
struct EdgeSize {
  std::int64_t edge = 0;    ///< its number; 0: all
  double measured_mm = 0;   ///< length that the sizes stand for
  double passed_by_mm = 0;  ///< no cut takes the edge away
  /// Material was missing before the operation cut, or too little was there: nothing can be said of its size.
  double missing_mm = 0;
  /// Sizes; 0 where nothing is measured.
  double median_mm = 0, least_mm = 0, greatest_mm = 0;
  Vec3 least_at = Vec3::Zero(), greatest_at = Vec3::Zero();  ///< on the edge
  std::int64_t least_edge = 0, greatest_edge = 0;
  double held_share = 0;  ///< of the measured length, within kSizeHeld of what was asked
  double ridge_mm = 0;    ///< of roundings: how high the most of what is left between passes stands
};

struct EdgeSizes {
  BreakMeasure measure = BreakMeasure::width;
  double asked_mm = 0;
  EdgeSize all;
  std::vector<EdgeSize> edges;  ///< one for each that was asked
};

/// Measures what the cutting moves of one operation leave, on columns of the material at whatever place is
/// asked for, thinner than any cell, each as high as the lowest cutter leaves it; the ends of the break by
/// bisection along both faces, to 1e-6 mm. Where a face bends, its places are those of the part.
///
/// `operation`: by number. `stock`: before the first move of the program; `done`: carried out on it before
/// the program. Moves after those of the operation do not count. Runs on all cores; the result does not
/// depend on their number. Throws Error if the program calls a tool that is not in the list.
[[nodiscard]] EdgeSizes measure_edges(const EdgesAsked& asked, const Program& program, std::int32_t operation,
                                      const std::vector<Tool>& tools, const ContactPart& part,
                                      const Stock& stock, const Program* done = nullptr,
                                      const Progress& progress = {});

}  // namespace yardpass
