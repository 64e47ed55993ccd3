// A smooth link over what lies between two cuts.
#pragma once

#include <functional>
#include <optional>

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

struct HopEnds {
  Vec3 from, from_along;  // where the one cut ends, and its direction there, of length 1
  Vec3 to, to_along;      // where the next begins
};

/// The least room of a straight move of the tip, negative where it is not free.
using RoomOf = std::function<double(const Vec3& a, const Vec3& b)>;

/// A curve that goes on along the one cut and comes in along the next, raised in between until it is free by
/// `room`, its highest place no more than `most_rise_mm` above both ends; nothing if that is not enough. Its
/// corners turn by a few degrees. `room` is asked for its chords.
std::optional<Polyline3> hop_over(const HopEnds& ends, const RoomOf& room, double most_rise_mm);

}  // namespace yardpass::detail
