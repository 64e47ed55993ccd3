/// In which order the areas of a stack of levels are cut.
#pragma once

#include <cstdint>
#include <vector>

#include "yardpass/geom/region.h"

namespace yardpass {

/// An area of a level, as it is to be cut.
struct LevelPiece {
  Region area;                  ///< for the tool's axis
  double rank = 0;              ///< what ranks higher is cut first: the height of its level, for one
  Vec2 begin{0, 0}, end{0, 0};  ///< where its cuts begin and end
};

/// Of each piece, those of higher rank that must be cut before it: the tool, anywhere in the piece, would
/// meet what they remove. Told without those that follow from others. The pieces stand highest rank first.
[[nodiscard]] std::vector<std::vector<std::int32_t>> pieces_before(const std::vector<LevelPiece>& pieces,
                                                                   double tool_radius_mm);

enum class LevelOrder : std::uint8_t {
  by_area,  ///< each area down to its bottom before the next
  by_level  ///< all areas of a level before the next level
};

/// The order in which pieces are cut, as their indices: none before one that must come before it. By area,
/// what a piece has opened comes straight after it, the nearest first.
[[nodiscard]] std::vector<std::int32_t> order_of(const std::vector<LevelPiece>& pieces,
                                                 const std::vector<std::vector<std::int32_t>>& before,
                                                 LevelOrder order);

}  // namespace yardpass
