/// How passes that blend between curves follow each other: of morph and flowline.
#pragma once

#include <cstdint>

namespace yardpass {

enum class RailPattern : std::uint8_t {
  zigzag,   ///< to and fro; closed passes all the same way
  one_way,  ///< all the same way
  spiral    ///< closed passes as one unbroken line, from the first, whole, to the last, whole
};

/// Which way the first pass runs, and in one way and spiral all others.
enum class RailDirection : std::uint8_t {
  forward,      ///< from the start to the end; of curves without named ends the way the first curve runs
  backward,     ///< the other way
  climb,        ///< what is still to be cut lies on the right
  conventional  ///< it lies on the left
};

/// Which of the two outer curves is cut first.
enum class RailBegin : std::uint8_t { first, last };

struct RailOptions {
  double stepover_mm = 0.5;  ///< the widest, in space; REQUIRES: above 0
  RailPattern pattern = RailPattern::zigzag;
  RailDirection direction = RailDirection::climb;
  RailBegin begin = RailBegin::first;
};

}  // namespace yardpass
