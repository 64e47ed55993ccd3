/// Grooves that fill an outline: the lines that are equally far from its sides, and its rim on a part.
///
/// Source of the idea: H. Blum, "A transformation for extracting new descriptors of shape", 1967 (the medial
/// axis). It is taken from the Voronoi diagram of the outline's chords: S. Fortune, "A sweepline algorithm
/// for Voronoi diagrams", 1987.
#pragma once

#include <vector>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"

namespace yardpass {

/// A place that is as far from two sides of an outline.
struct MiddlePlace {
  Vec2 at{0, 0};
  double off_mm = 0;            ///< its distance from them
  Vec2 one{0, 0}, other{0, 0};  ///< the nearest places of both
};

struct MiddleOptions {
  /// Branches into corners that are so blunt that a circle in them leaves no more than this are left out.
  double corner_mm = 0.004;
  double tolerance_mm = 0.002;  ///< chords leave round lines by no more; REQUIRES: above 0
  double most_mm = 1e9;         ///< places farther off the sides are left out
};
/// Lines through the middle of an area, into each of its corners, ending where they part. Throws Error if an
/// option breaks what it asks for.
[[nodiscard]] std::vector<std::vector<MiddlePlace>> middle_lines(const Region& area,
                                                                 const MiddleOptions& options);

/// Walls that hang down from where the border of an area lies on a part: what stays in a groove that fills
/// the area does not enter them. Where nothing lies below there is no wall.
[[nodiscard]] Mesh rim_walls(const std::shared_ptr<const ContactPart>& part, const Region& area,
                             double deep_mm);

}  // namespace yardpass
