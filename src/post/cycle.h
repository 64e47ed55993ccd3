// Drilling cycles taken apart into moves.
#pragma once

#include <optional>
#include <vector>

#include "post/parse_block.h"
#include "yardpass/geom/vec.h"

namespace yardpass::detail {

/// What a cycle keeps from block to block, in millimetres.
struct Cycle {
  int code = 0;                ///< 81; 0: none
  std::optional<double> r, z;  ///< as said: with G91 from the first height, and from R
  bool relative = false;       ///< said with G91
  double first_z = 0;          ///< the height where the cycle began
  bool back_to_r = false;      ///< G99; else to the first height
};

bool is_cycle(double code);

/// One hole: where the tip goes, at rapid or at feed.
struct CycleMove {
  Vec3 to;
  bool rapid = false;
};
/// From a place over the hole. Throws Error, without the line, where the cycle cannot be run.
std::vector<CycleMove> hole(const Cycle& cycle, const Vec3& from, const Vec2& place);

}  // namespace yardpass::detail
