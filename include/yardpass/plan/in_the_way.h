/// What is done where something keeps the cutter off the part.
#pragma once

#include <cstdint>

namespace yardpass {

enum class InTheWay : std::uint8_t {
  refuse,  ///< the operation stops and says where
  skip,    ///< that bit of the cut is left out
  over,    ///< the tool rides over it, as over the part; material stays below
};

}  // namespace yardpass
