/// How the triangles of a mesh hang together: neighbours across edges, open edges, facing.
#pragma once

#include <cstdint>
#include <vector>

#include "yardpass/geom/mesh.h"

namespace yardpass {

/// Which sides of triangles lie against each other. Side k of triangle t runs from its corner k to corner
/// k + 1 and has the number 3 t + k. Built on the mesh's shared corners, so weld first. Immutable; safe to
/// read from many threads. 12 bytes a triangle; while it is built 36.
class Joints {
 public:
  explicit Joints(const Mesh& mesh);

  static constexpr std::int32_t kOpen = -1;     ///< no other triangle here
  static constexpr std::int32_t kCrowded = -2;  ///< three or more triangles here
  static constexpr std::int32_t kNoSide = -3;   ///< the triangle has two equal corners and no sides

  /// The side that lies against this one, or one of the negative numbers above.
  [[nodiscard]] std::int32_t across(std::int32_t side) const {
    return across_[static_cast<std::size_t>(side)];
  }
  [[nodiscard]] std::size_t sides() const { return across_.size(); }
  [[nodiscard]] static std::int32_t triangle_of(std::int32_t side) { return side / 3; }

  /// Every edge with three or more triangles, as one of its sides.
  [[nodiscard]] const std::vector<std::int32_t>& crowded_edges() const { return crowded_; }

 private:
  std::vector<std::int32_t> across_;
  std::vector<std::int32_t> crowded_;
};

/// Corner numbers at the start and the end of a side.
[[nodiscard]] inline std::int32_t side_from(const Mesh& mesh, std::int32_t side) {
  return mesh.triangles[static_cast<std::size_t>(side / 3)][static_cast<std::size_t>(side % 3)];
}
[[nodiscard]] inline std::int32_t side_to(const Mesh& mesh, std::int32_t side) {
  return mesh.triangles[static_cast<std::size_t>(side / 3)][static_cast<std::size_t>((side + 1) % 3)];
}

/// Two triangles that run along their common edge in the same direction face opposite ways.
[[nodiscard]] inline bool is_flipped(const Mesh& mesh, std::int32_t side, std::int32_t other) {
  return side_from(mesh, side) == side_from(mesh, other);
}

/// One entry a triangle: 1 if it has to be turned over so that neighbours agree and the outside is out.
/// Pieces that enclose a volume face away from it, open pieces face upwards on the whole.
[[nodiscard]] std::vector<std::uint8_t> turned_over(const Mesh& mesh, const Joints& joints);

/// Unit normal of a triangle as its corners run, turned if `turned`; zero for a triangle without area.
[[nodiscard]] Vec3 unit_normal(const Mesh& mesh, std::size_t triangle, bool turned = false);

/// Shells: triangles that share corners belong together. One number a triangle, from 0, in the order of their
/// first triangles.
struct Shells {
  std::vector<std::int32_t> of_triangle;
  std::int32_t count = 0;
};
[[nodiscard]] Shells shells_of(const Mesh& mesh);

}  // namespace yardpass
