// What contact means, written from the definition and sharing no code with the library: the cutter is a
// solid, the part is a set of triangles, and they overlap if some point of a triangle lies inside the solid.
// Slow and plain.
#pragma once

#include "yardpass/geom/mesh.h"

namespace yardpass::testing {

/// Flat disc of radius `disc` with a rounded rim of radius `corner`, going up without end. disc 0: ball;
/// corner 0: flat. `tip_z`: its lowest point, measured from the tip of the tool it stands for.
struct RoundedDisc {
  double disc, corner;
  double tip_z = 0;
  [[nodiscard]] double radius() const { return disc + corner; }
  /// All points within `by` of it, or, negative, all whose ball of that radius lies inside.
  [[nodiscard]] RoundedDisc grown(double by) const;
};

/// Z that the tip of the tool must be above so that the solid, standing at `place`, is free of the triangle:
/// the greatest of z(p) - height(distance of p from the axis) over all points p of the triangle below the
/// solid, found by nested search on this concave function; minus infinity if none is below it.
double stand_off(const RoundedDisc& solid, const Vec2& place, const Vec3& a, const Vec3& b, const Vec3& c);

/// Over all triangles.
double stand_off(const RoundedDisc& solid, const Vec2& place, const Mesh& mesh);

/// Least distance between two segments / between a segment and a triangle, by dense convex search.
double segment_to_mesh(const Vec3& a, const Vec3& b, const Mesh& mesh);

}  // namespace yardpass::testing
