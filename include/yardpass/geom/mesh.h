/// Triangle mesh of a part or of remaining stock.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "yardpass/geom/vec.h"

namespace yardpass {

/// Shared corners and triangles that index them. Facing is kept as read but does not matter for contact.
struct Mesh {
  std::vector<Vec3> points;  ///< corners [mm]
  std::vector<std::array<std::int32_t, 3>>
      triangles;  ///< indices into points, counter-clockwise from outside

  [[nodiscard]] Box3 box() const;
  [[nodiscard]] const Vec3& corner(std::size_t triangle, int k) const {
    return points[static_cast<std::size_t>(triangles[triangle][static_cast<std::size_t>(k)])];
  }
};

/// Joins corners that are equal to the last bit (tolerance 0) or nearer than `tolerance_mm` to a corner that
/// came earlier and was kept; the kept one gives the position, of several the earliest.
/// Triangles keep their number and order, also those that lose their area by it.
[[nodiscard]] Mesh weld(const Mesh& mesh, double tolerance_mm = 0.0);

/// How the triangles hang together, counted on the mesh's own shared corners (so weld first).
struct EdgeReport {
  std::int64_t edges = 0;      ///< different edges between distinct corners
  std::int64_t open = 0;       ///< with one triangle only
  std::int64_t crowded = 0;    ///< with three or more triangles
  std::int64_t flipped = 0;    ///< two triangles run along it in the same direction
  std::int64_t zero_area = 0;  ///< triangles with two equal corners
  /// Every edge has exactly two triangles.
  [[nodiscard]] bool closed() const { return edges > 0 && open == 0 && crowded == 0; }
};
[[nodiscard]] EdgeReport edge_report(const Mesh& mesh);
class Joints;
[[nodiscard]] EdgeReport edge_report(const Mesh& mesh, const Joints& joints);

/// A height at which the mesh has flat (horizontal, upward) area.
struct Flat {
  double z_mm;
  double area_mm2;
};
/// Flats of at least `least_area_mm2`, highest first. Heights closer than 1e-6 mm count as one.
[[nodiscard]] std::vector<Flat> flats(const Mesh& mesh, double least_area_mm2);

/// The point of a triangle that is nearest to p. Source: C. Ericson, "Real-Time Collision Detection", 2005,
/// section 5.1.5.
[[nodiscard]] Vec3 nearest_on_segment(const Vec3& p, const Vec3& a, const Vec3& b);
[[nodiscard]] Vec3 nearest_on_triangle(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c);

}  // namespace yardpass
