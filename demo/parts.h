// The parts of the Tern Cove boatyard, made by formula. All millimetres, top face at Z 0.
#pragma once

#include "yardpass/curve/curve.h"
#include "yardpass/geom/mesh.h"

namespace yardpass::demo {

/// Lower half of the mold for a paddle blade: 180 x 120 x 40, a dished cavity with 5 degrees of draft, 4 mm
/// fillets and a spine ridge, four blind dowel holes of 8 mm. Closed; chord error at most 0.01 mm.
[[nodiscard]] Mesh paddle_blade_mold();

/// The cavity as a formula: above 0 in the air, below 0 in the steel, close to the distance near the surface.
[[nodiscard]] double paddle_blade_cavity(const Vec3& p);
/// Rim of the cavity at the parting face, at an angle seen from the middle.
[[nodiscard]] Vec2 paddle_blade_rim(double angle_rad);

/// Punch for a fairlead: a drafted boss (3 degrees) on a plate of 130 x 90, with a fillet of 5 mm at its
/// foot, a round of 3 mm along its top edge and a saddle for a top; two locating holes. Closed.
[[nodiscard]] Mesh fairlead_punch();

/// Plug of a small hull, keel up, on a plate of 150 x 70: fine at the bow, full at the stern, sides of up to
/// 76 degrees with a fillet of 7 mm at their foot. Closed.
[[nodiscard]] Mesh hull_plug();

/// Ring of a porthole: a flange of 160 mm with eight countersunk holes, a bead of 7 mm radius with a fillet
/// of 4 mm at its foot, a bore with 4 degrees of draft. Closed; chord error at most 0.003 mm.
[[nodiscard]] Mesh porthole_ring();
/// Its drawing: the outline, and on layer "gasket" the two circles between which the flange seals.
[[nodiscard]] std::vector<Curve> porthole_ring_drawing();

/// Board for the name of a boat: 150 x 50, crowned both ways, sides with 6 degrees of draft and a rim rounded
/// by 3 mm. Closed.
[[nodiscard]] Mesh name_board();
/// Its drawing: on layer "rope" the strands of a rope along the rim, as deep as their Z says.
[[nodiscard]] std::vector<Curve> name_board_drawing();

/// Base of a cleat: a plate of 140 x 70 with four bolt holes, a pad with a horn near one of its edges, and a
/// round pad with a saddle for a top. All its edges are sharp. Closed.
[[nodiscard]] Mesh cleat_base();

/// A round bowl: sphere of `radius` cut by a flat face with a rim of `rim_radius`, in a square plate. For
/// examples.
[[nodiscard]] Mesh bowl(double radius_mm, double rim_radius_mm, double plate_mm, double chord_error_mm);

}  // namespace yardpass::demo
