// Moves along arcs taken apart into what the carving loop knows.
#pragma once

#include "stock/carve_tile.h"

namespace yardpass::detail {

/// Level arcs become arcs of at most a quarter turn, other arcs chords within 1e-4 mm.
void add_pieces(const SweptMove& move, std::vector<ArcPiece>& pieces);

}  // namespace yardpass::detail
