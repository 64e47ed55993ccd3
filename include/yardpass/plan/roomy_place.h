/// Where in an area a disc fits: for ways down that go round.
#pragma once

#include <optional>

#include "yardpass/geom/region.h"

namespace yardpass {

/// Distance from p to the nearest place of the outline; negative outside.
[[nodiscard]] double room_at(const Region& area, const Vec2& p);

struct RoomyPlace {
  Vec2 at{0, 0};
  double room_mm = 0;  ///< as room_at() tells
};

/// A place of the area with room of at least `wanted_mm`, well inside of all such places; where there is
/// none, the one with the greatest room, within 1e-5 mm. Nothing for an empty area.
[[nodiscard]] std::optional<RoomyPlace> roomy_place(const Region& area, double wanted_mm);

}  // namespace yardpass
