// Chords of an arc that stand for it near a place.
#pragma once

#include <vector>

#include "yardpass/geom/arc.h"

namespace yardpass::detail {

/// Part of an arc as a straight line. Each place p of the line has a place q of the arc that lies beside it,
/// square to the line in plan, by no more than `beside_mm`, and above it by no more than `above_mm`.
struct ArcChord {
  Vec3 from, to;
  double beside_mm = 0, above_mm = 0;
};

/// Chords over all of the arc, each overlapping half of the next. Where it climbs too steeply for bounds to
/// be of use: its places alone, as chords without length.
std::vector<ArcChord> overlapping_chords(const Arc& arc);

}  // namespace yardpass::detail
