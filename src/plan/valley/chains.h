// Places of valleys joined to lines.
#pragma once

#include <vector>

#include "plan/cell_outline.h"
#include "plan/valley/kink.h"

namespace yardpass::detail {

struct ValleyChain {
  std::vector<ValleyPoint> points;
  bool closed = false;
};

/// The valleys of a grid of soundings, cell by cell, within about a cell of their ends. On all cores.
[[nodiscard]] std::vector<ValleyChain> chains_of_grid(const KinkFinder& finder, const CellGrid& grid,
                                                      const std::vector<Sounding>& soundings);

/// Follows a chain on beyond both of its ends, up to a distance, as long as the valley goes on.
void follow_on(const KinkFinder& finder, double reach, ValleyChain& chain);

/// Ends that meet within a distance, or meet another chain, are brought to one place; where two and no more
/// meet, the chains become one.
[[nodiscard]] std::vector<ValleyChain> met(std::vector<ValleyChain> chains, double reach);

/// More points where chords leave the valley by more than a tolerance, fewer where they do not.
void refine(const KinkFinder& finder, double tolerance, ValleyChain& chain);

}  // namespace yardpass::detail
