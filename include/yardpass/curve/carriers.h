/// Surfaces of the user's own that guide an operation as lids do: made from curves, or a copy of a region
/// moved off. All are open sheets; triangles face upwards where they can. Pure functions.
#pragma once

#include "yardpass/curve/curve.h"
#include "yardpass/geom/joints.h"
#include "yardpass/geom/region.h"
#include "yardpass/part/pick.h"

namespace yardpass {

/// The straight lines between points of two curves at equal shares of their lengths. Both curves are followed
/// exactly; both open or both closed. Throws Error otherwise, or if a curve has no length.
[[nodiscard]] Mesh ruled_face(const Curve& a, const Curve& b);

/// A section moved along a curve: its place relative to the first point of `along` is kept, and it is turned
/// about Z with the direction of `along` in plan (at corners: half-way). Throws Error if a curve has no
/// length, or `along` stands upright somewhere.
[[nodiscard]] Mesh swept_section(const Curve& section, const Curve& along);

/// A level face over an area.
[[nodiscard]] Mesh flat_patch(const Region& area, double z);

/// A copy of a piece of surface, moved off it by a distance (outward positive): each corner to where the
/// planes of its triangles, moved off, meet (least squares); folds of hollow places tighter than the distance
/// are not taken out.
[[nodiscard]] Mesh offset_copy(const Mesh& mesh, const Joints& joints, const TriangleSet& set,
                               double distance_mm);

}  // namespace yardpass
