/// Questions along a straight move of the tip: where it is free of the part, where it first meets it, and
/// whether the part stands in its way everywhere. All are answered by leaps: over one triangle the tip
/// surface is concave, so the stretch where that triangle stands at or above a straight line is one piece,
/// and a touch or a clearance names the triangle to leap over. So the cost grows with the answer, not with
/// the number of triangles near the line.
///
/// Places are told within 1e-9 mm in plan; a free or a blocked stretch narrower than that, or one where the
/// surface stands less than 1e-10 mm above the tip, is not told. Moves that go straight up or down are
/// answered by the one touch they stand over. Any number of threads may ask.
#pragma once

#include <optional>
#include <vector>

#include "yardpass/contact/line_piece.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass {

/// The stretch of the move a-b along which the surface of one body over ONE triangle stands at or above the
/// tip. In closed form for a ball on a level move, else its ends are bracketed on both sides of the deepest
/// place.
[[nodiscard]] std::optional<LinePiece> piece_over(const TipSurface& surface, std::int32_t triangle,
                                                  const Vec3& a, const Vec3& b, std::int32_t body = 0);

/// The stretches of the move a-b that are free of the part (the surface nowhere above the tip), in their
/// order: what `push` leaves over. `near_triangle` saves time, as for TipSurface::touch.
[[nodiscard]] std::vector<LinePiece> free_pieces(const TipSurface& surface, const Vec3& a, const Vec3& b,
                                                 std::int32_t near_triangle = -1);

struct Encounter {
  double share = 0;            ///< along the move
  std::int32_t triangle = -1;  ///< met there
  std::int32_t body = 0;       ///< of the tool that meets it
};

/// Where a move from a free start first meets the part; nothing if it is free to its end. No island in
/// between is jumped over, however narrow. If the start is not free it is met there.
[[nodiscard]] std::optional<Encounter> first_meeting(const TipSurface& surface, const Vec3& a, const Vec3& b);

/// From a blocked start, the first place along the move that is free; nothing if none is. A free start is
/// that place itself.
[[nodiscard]] std::optional<double> walk_out(const TipSurface& surface, const Vec3& a, const Vec3& b,
                                             std::int32_t near_triangle = -1);

/// Whether the surface stands at or above the tip (within kTouchError) all along the move: a proof for all
/// points, by about one touch for each triangle that the contact passes over.
struct Cover {
  bool whole = true;
  double share = 1;            ///< the first place that is not covered
  std::int32_t triangle = -1;  ///< the last one that covered
};
[[nodiscard]] Cover covered(const TipSurface& surface, const Vec3& a, const Vec3& b,
                            std::int32_t near_triangle = -1);

}  // namespace yardpass
