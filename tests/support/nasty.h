// Parts and cutters that look for trouble.
#pragma once

#include <string>

#include "sheet.h"
#include "support/rng.h"
#include "yardpass/geom/mesh.h"

namespace yardpass::testing {

inline constexpr int kNastyKinds = 9;

/// A small part around the origin (or far off); `kind` tells which trouble it holds.
Mesh nasty_part(Rng& rng, int kind);
const char* nasty_name(int kind);

/// A place that aims at a feature of the part: a corner, a point of an edge, exactly one radius beside
/// either, or chance.
Vec2 aim(Rng& rng, const Mesh& part, double radius);

using demo::sheet;

/// An upright box, closed.
Mesh box_mesh(const Box3& box);

/// Text of a mesh for failure messages.
std::string to_text(const Mesh& mesh);

}  // namespace yardpass::testing
