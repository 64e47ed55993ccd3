/// A sharp outer edge at one of its places.
#pragma once

#include <cstdint>
#include <vector>

#include "yardpass/geom/vec.h"

namespace yardpass {

/// An outer edge at one of its places. REQUIRES: vectors of length 1, both normals square to `along`, and
/// material between the faces: an angle above 0 and below 180 degrees.
struct EdgeSection {
  Vec3 at, along;
  Vec3 one, other;  ///< outward normals of the two faces

  [[nodiscard]] double material_rad() const;  ///< the angle between the faces, through the material
  /// In the face, square to the edge, away from it.
  [[nodiscard]] Vec3 into_one() const;
  [[nodiscard]] Vec3 into_other() const;
  [[nodiscard]] bool one_is_steeper() const;  ///< than the other
};

/// A piece of an edge that is as in its middle.
struct EdgeStretch {
  EdgeSection middle;
  double length_mm = 0;
};

/// What of a break is its size.
enum class BreakMeasure : std::uint8_t {
  width,        ///< from where it leaves the one face to where it leaves the other, straight
  steeper_leg,  ///< how far down the steeper face it reaches, along that
  radius  ///< of a rounding: of the circle that touches both faces and the deepest of the cut's middle half
};

/// An edge and the places at which its break is measured.
struct MeasuredEdge {
  std::int64_t number = 0;
  std::vector<EdgeStretch> stretches;
};

struct EdgesAsked {
  BreakMeasure measure = BreakMeasure::width;
  double size_mm = 0;  ///< as it should be
  std::vector<MeasuredEdge> edges;
};

}  // namespace yardpass
