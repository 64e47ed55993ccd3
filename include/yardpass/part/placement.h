/// Bringing a part into the position it is cut in.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "yardpass/geom/mesh.h"

namespace yardpass {

enum class Axis { x, y, z };

/// Right-handed turn about an axis through the file's zero point.
struct Turn {
  Axis axis = Axis::z;
  double angle_deg = 0;
};

/// How the part in the file becomes the part on the machine, in this order: sizes times the shrink factors,
/// mirrored, turned (first turn first), moved.
struct Placement {
  Vec3 shrink_factor{1, 1, 1};      ///< by axis of the file; 1.006 makes room for 0.6 % of shrinking
  std::optional<Axis> mirror = {};  ///< this coordinate changes its sign
  std::vector<Turn> turns = {};
  Vec3 move{0, 0, 0};  ///< after turning [mm]
};

/// 3 x 4: what a point of the file is multiplied by. Quarter turns are exact.
[[nodiscard]] Eigen::Matrix<double, 3, 4> matrix_of(const Placement& placement);

/// The mesh placed. When it is mirrored, the corners of its triangles change order, so that the outside stays
/// out.
[[nodiscard]] Mesh placed(Mesh mesh, const Placement& placement);

/// Where the zero point of the program lies: on a box, told by a share of each of its edges (0: least
/// coordinate, 0.5: middle, 1: greatest), or at a coordinate of the placed part.
struct Origin {
  enum class Of { part, stock } of = Of::part;
  std::array<std::optional<double>, 3> share = {};  ///< where empty, `coordinate` counts
  std::array<double, 3> coordinate = {0, 0, 0};     ///< [mm]
};
/// The point that becomes zero, in coordinates of the placed part.
[[nodiscard]] Vec3 point_of(const Origin& origin, const Box3& part, const Box3& stock);

}  // namespace yardpass
