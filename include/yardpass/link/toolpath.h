/// The whole way of a tool through an operation, air moves included.
#pragma once

#include <cstdint>
#include <vector>

#include "yardpass/geom/vec.h"

namespace yardpass {

enum class MoveKind : std::uint8_t {
  rapid,   ///< as fast as the machine can, through air
  plunge,  ///< at feed, straight down
  ramp,    ///< at feed, down along a cut
  cut,
  link,  ///< at feed, from one cut to the next
};
[[nodiscard]] const char* name_of(MoveKind kind);

struct Move {
  Vec3 to;
  MoveKind kind = MoveKind::cut;
  double feed_mm_min = 0;  ///< 0 for rapids
};

/// Begins and ends on the clearance plane.
struct Toolpath {
  Vec3 start = Vec3::Zero();
  std::vector<Move> moves;
};

struct PathLengths {
  double cut_mm = 0, ramp_mm = 0, plunge_mm = 0, link_mm = 0, rapid_mm = 0;
  std::int64_t retracts = 0;  ///< rises to the clearance plane, the last one included
};
[[nodiscard]] PathLengths measure(const Toolpath& path);

}  // namespace yardpass
