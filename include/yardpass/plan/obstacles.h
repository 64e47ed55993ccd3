/// What is in the way of the cutter: its own shank and holder, and what is kept away from.
#pragma once

#include <string>
#include <vector>

#include "yardpass/contact/tool_surface.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/in_the_way.h"

namespace yardpass {

struct Obstacles {
  /// A thing that is kept away from: a group of triangles of the part (see ContactPart).
  struct Guard {
    std::size_t group = 0;
    std::string name;
    InTheWay rule = InTheWay::refuse;
  };
  std::vector<Guard> guards = {};
  InTheWay shank = InTheWay::over, holder = InTheWay::over;  ///< the neck counts with the shank
  bool only_longest = false;  ///< of the pieces that skipping leaves of a cut; else all

  [[nodiscard]] bool all_over() const;
};

/// `shank_in_the_way`, `holder_in_the_way`, `rejoin`.
void keys_of(Obstacles& obstacles, Keys& keys);

/// Leaves out of the cuts where something in the way carries the tool instead of the cutter on the part, as
/// its rule says, and notes the share of the length. Where the tool stands more than `tolerance_mm` above
/// whatever it would touch below nothing is in its way. The ends of pieces are found within 1e-4 mm along the
/// cut; what is in the way for less than a quarter of a millimetre (or a tenth of the diameter) may be
/// missed: there the tool rides over it, and still touches nothing. Throws Error with the place where a rule
/// refuses. Runs on all cores; the result does not depend on their number.
void heed(const Obstacles& obstacles, const ToolSurface& surface, double tolerance_mm, CutPlan& plan);

}  // namespace yardpass
