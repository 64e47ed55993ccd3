// One block through points, as long as it stays near all of them.
#pragma once

#include <array>
#include <optional>
#include <span>

#include "yardpass/geom/posted.h"

namespace yardpass::detail {

/// A point that a block should pass.
struct SmoothPoint {
  Vec3 at;
  Vec3 normal =
      Vec3::Zero();  ///< of the surface it rests on; zero: not known, then it is kept near in all directions
  bool planned = true;        ///< as it was planned, which needs no proof
  bool rests = false;         ///< in the room of the tolerance above the surface
  bool more_to_next = false;  ///< the surface can be touched between it and the next one
};

/// A line, or an arc in one of the planes.
struct Block {
  Vec3 from, to;
  std::optional<Arc> arc = {};
  [[nodiscard]] double length() const { return arc ? arc->length() : (to - from).norm(); }
};

/// The block from `from` to `to` that lies within `play_mm` of all points between, normal to the surface
/// where they rest on it. Nothing if there is none. Ends are as posted, and so is the arc.
[[nodiscard]] std::optional<Block> fit_block(const Vec3& from, const Vec3& to,
                                             std::span<const SmoothPoint> between, double play_mm,
                                             const std::array<bool, 3>& planes, const PostedForm& form);

}  // namespace yardpass::detail
