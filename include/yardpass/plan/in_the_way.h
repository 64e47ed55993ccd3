/// What is done where something keeps the cutter off the part.
#pragma once

#include <cstdint>
#include <utility>

namespace yardpass {

enum class InTheWay : std::uint8_t {
  refuse,  ///< the operation stops and says where
  skip,    ///< that bit of the cut is left out
  over,    ///< the tool rides over it, as over the part; material stays below
};

/// As job files say it.
inline constexpr std::pair<InTheWay, const char*> kInTheWayWords[] = {
    {InTheWay::refuse, "refuse"}, {InTheWay::skip, "skip"}, {InTheWay::over, "over"}};

}  // namespace yardpass
