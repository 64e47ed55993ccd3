/// Pencil: along the corners that a round-ended tool touches on two sides at once.
#pragma once

#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/site.h"

namespace yardpass {

/// Of several passes beside each other.
enum class PencilOrder : std::uint8_t {
  outside_in,  ///< the corner itself last: each pass takes little
  inside_out   ///< the corner itself first
};

struct PencilOptions {
  double threshold_mm = 0.02;  ///< what the tool leaves in a corner must be more; REQUIRES: above 0
  double shortest_mm = 6;      ///< corners that are shorter are left out
  int beside = 0;              ///< so many passes on each side of the corner; REQUIRES: at least 0
  double stepover_mm = 0.2;    ///< between them, in space; REQUIRES: above 0
  PencilOrder order = PencilOrder::outside_in;
};

/// `threshold`, `shortest`, `beside`, `stepover`, `order`.
void keys_of(PencilOptions& options, const Tool& tool, Keys& keys);
[[nodiscard]] Usual usual_of(const PencilOptions& options, const Tool& tool);

/// Passes along the valleys of the site's area, see plan/valleys.h, and beside them: fronts that start from
/// them, see plan/fronts.h. Where the site asks for a touch, one of the two sides is enough. A group is the
/// passes of corners that are near each other and as far from them. Runs on all cores; the result does not
/// depend on their number. Throws Error if an option breaks what it asks for, or the tool has no round end.
[[nodiscard]] CutPlan cuts_of(const PencilOptions& options, const Site& site, const Progress& progress = {});

}  // namespace yardpass
