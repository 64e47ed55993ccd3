/// Curves of a part: sharp edges in pieces, smooth runs and loops, borders of regions, rims of holes.
#pragma once

#include <optional>
#include <vector>

#include "yardpass/curve/curve.h"
#include "yardpass/part/edges.h"
#include "yardpass/part/guides.h"

namespace yardpass {

/// How much of the sharp edges around a piece belongs to a curve.
enum class EdgeExtent {
  piece,  ///< just this piece: up to the next corner or branch
  run,    ///< on over corners and branches as long as it goes on smoothly
  loop    ///< on, always the smoothest way (of like ones the most level), until it is back
};

/// The sharp edges of a part, cut into pieces at branches and corners, with numbers. Immutable.
class EdgePieces {
 public:
  /// `edges`: from sharp_edges() of this mesh. An edge is cut where its direction turns by more than
  /// `corner_deg`, and a run does not go on over such a corner.
  EdgePieces(const Mesh& mesh, const std::vector<SharpEdge>& edges, double corner_deg = 30);

  /// Longest first; the number of a piece is its place here, from 1.
  [[nodiscard]] const std::vector<Curve>& pieces() const { return pieces_; }
  /// Number of the piece that is nearest to a point; throws Error if the part has no sharp edge.
  [[nodiscard]] int nearest(const Vec3& point) const;
  /// The curve through a piece. Throws Error if there is no such number, or if a loop does not come back.
  [[nodiscard]] Curve through(int number, EdgeExtent extent) const;
  /// The shortest way along sharp edges from the corner nearest to one point to that nearest to the other.
  /// Throws Error if there is none.
  [[nodiscard]] Curve between(const Vec3& from, const Vec3& to) const;

 private:
  struct End {
    int piece = 0;        ///< from 0
    bool at_end = false;  ///< else at its start
  };
  [[nodiscard]] std::int32_t corner(const End& end) const;
  [[nodiscard]] Vec3 outward(const End& end) const;
  [[nodiscard]] std::optional<End> onward(const End& end, double most_turn_deg) const;
  std::vector<Curve> pieces_;
  std::vector<std::array<std::int32_t, 2>> corners_;             ///< of the mesh, at start and end
  std::vector<std::pair<std::int32_t, std::size_t>> at_corner_;  ///< sorted; 2 x piece + 1 at its end
  double corner_deg_;
};

/// The closed borders of a set of triangles as curves in space, outer ones and holes, longest first.
[[nodiscard]] std::vector<Curve> borders_of(const std::vector<Rim>& rims, bool holes_only);

}  // namespace yardpass
