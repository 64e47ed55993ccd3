/// Bored holes of a part: round, upright, open from above.
#pragma once

#include <memory>
#include <vector>

#include "yardpass/contact/contact_part.h"
#include "yardpass/geom/joints.h"

namespace yardpass {

/// A hole as a drill or a boring head makes it. Holes of several diameters about one axis are told one by
/// one.
struct BoredHole {
  Vec2 at{0, 0};                   ///< its axis in plan
  double diameter_mm = 0;          ///< through the corners of its facets
  double top_z = 0, bottom_z = 0;  ///< of its upright wall, where it goes all the way round
  bool through = false;            ///< nothing of the part lies below its bottom
  [[nodiscard]] double depth_mm() const { return top_z - bottom_z; }
};

/// The holes of a part, widest first, those of one diameter by X and Y. A hole is a run of facets within a
/// degree of upright that go all the way round a common axis, facing it, with their corners on one circle
/// within 1 % of its radius or 0.01 mm; nothing of the part lies over its axis. Facing of the mesh does not
/// matter. The circle is fitted by least squares of I. Kasa, "A circle fitting procedure and its error
/// analysis", 1976.
[[nodiscard]] std::vector<BoredHole> bored_holes(const std::shared_ptr<const ContactPart>& part,
                                                 const Joints& joints);

}  // namespace yardpass
