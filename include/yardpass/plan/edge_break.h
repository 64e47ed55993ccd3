/// Breaking sharp outer edges to one size: where the cutter stands beside an edge, and what is left of a part
/// without the strips that a break takes away.
///
/// All formulas are plane trigonometry in the section square to the edge. There the faces have the outward
/// normals n1 and n2, the material between them the angle b, and a flat with the normal m takes legs off both
/// faces: t1 is the angle from n1 to m, t2 from m to n2, and t1 + t2 = 180 degrees - b. A flat of width w has
/// the legs w sin(t2) / sin(b) and w sin(t1) / sin(b), and the edge stands w sin(t1) sin(t2) / sin(b) above
/// it.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "yardpass/geom/edge_section.h"
#include "yardpass/geom/mesh.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

/// A flat in place of an edge.
struct EdgeFlat {
  Vec3 normal = Vec3::UnitZ();  ///< of length 1, outward
  double width_mm = 0;
  double leg_one_mm = 0, leg_other_mm = 0;  ///< what it takes off the faces, measured along them
  double edge_above_mm = 0;                 ///< how far the edge stands out of it

  [[nodiscard]] Vec3 middle(const EdgeSection& section) const;  ///< of the flat
};

/// How the size of a break is meant.
enum class BreakSize : std::uint8_t {
  across,    ///< width of the flat
  down_one,  ///< leg on the one face
  down_other
};

/// The flat that leans equally on both faces. Throws Error unless the size is above 0.
[[nodiscard]] EdgeFlat even_flat(const EdgeSection& section, double size_mm, BreakSize by);
/// The flat with this normal; nothing unless it lies between those of the faces, `least_deg` off both.
[[nodiscard]] std::optional<EdgeFlat> flat_of(const EdgeSection& section, const Vec3& normal, double size_mm,
                                              BreakSize by, double least_deg = 5);

/// The tip of a ball that takes the flat's legs off both faces. In between it cuts a hollow, deeper than the
/// flat by width^2 / (8 radius). Nothing if the flat is wider than the ball, or if the ball would have to cut
/// above its middle.
[[nodiscard]] std::optional<Vec3> ball_tip(const EdgeSection& section, const EdgeFlat& flat,
                                           double radius_mm);
/// How much deeper than the flat the ball cuts.
[[nodiscard]] double ball_hollow_mm(const EdgeFlat& flat, double radius_mm);

/// A chamfer cutter beside an edge.
struct ConeBreak {
  EdgeFlat flat;
  Vec3 tip = Vec3::Zero();
  double flank_from_mm = 0, flank_to_mm = 0;  ///< heights above its tip between which the flank cuts
};
/// Run along the edge the flank sweeps a plane. On an edge that slopes by g a flank of half angle a leans by
/// a' with sin(a') = sin(a) / cos(g), so the legs are unequal. The lower end of the cut lies `margin_mm`
/// above the flank's lower end. Nothing if the edge is too steep for the flank, if the flat would lie within
/// `least_deg` of a face, or if the flank is too short.
[[nodiscard]] std::optional<ConeBreak> chamfer_break(const EdgeSection& section, const Tool& chamfer,
                                                     double size_mm, BreakSize by, double margin_mm,
                                                     double least_deg = 5);

/// Tips of a ball for a rounded edge, from the one face to the other: the first and the last touch the faces,
/// so nothing is cut into them. Nothing if one of them would have to cut above the ball's middle. REQUIRES:
/// radius above 0, at least 2 passes.
[[nodiscard]] std::optional<std::vector<Vec3>> rounded_tips(const EdgeSection& section, double radius_mm,
                                                            double ball_radius_mm, int passes);
/// What these passes leave above the rounding, at most.
[[nodiscard]] double rounded_ridge_mm(const EdgeSection& section, double radius_mm, double ball_radius_mm,
                                      int passes);
/// Legs of a rounding: from the edge to where it runs into the faces.
[[nodiscard]] double rounded_leg_mm(const EdgeSection& section, double radius_mm);

/// A strip beside a piece of an edge, on one of its faces.
struct EdgeStrip {
  Vec3 from, to;  ///< of the edge
  Vec3 normal;    ///< of the face, of length 1
  Vec3 into;      ///< in the face, square to the edge, away from it, of length 1
  double leg_mm = 0;
  /// Where it ends: planes through `from` and `to`, square to these directions of travel along the edge.
  Vec3 from_plane, to_plane;
};

/// The part without the strips: each triangle that faces as a strip does, within `off_mm` of its plane, is
/// cut back as far as the strip reaches. What a break may touch is gone, all else is as it was: a cutter that
/// is free of what remains cuts nothing but the strips. Triangles without anything left are dropped, so
/// numbers change.
[[nodiscard]] Mesh without_strips(const Mesh& mesh, std::span<const EdgeStrip> strips, double off_mm = 0.4);

}  // namespace yardpass
