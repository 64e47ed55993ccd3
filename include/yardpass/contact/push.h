/// Where along a line in plan the tool meets the part at one height.
#pragma once

#include <vector>

#include "yardpass/contact/line_piece.h"
#include "yardpass/contact/tip_surface.h"

namespace yardpass {

/// The pieces of the line a-b along which the tip at height z would be inside the part (tip surface above z),
/// in order and joined where they overlap. Per triangle this is one piece, since over a triangle the surface
/// is concave: its ends are in closed form for a ball, else found on both sides of the highest place by a
/// bracketed root, within 1e-9 mm. Places where the tool only touches (surface equal to z) do not count.
/// Nothing narrower than 1e-9 mm, and no mere touch of less than 1e-10 mm,
/// is told. It asks every triangle near the line, so it is the plain reference of `free_pieces`
/// (contact/along_line.h), which costs far less on parts of many triangles.
[[nodiscard]] std::vector<LinePiece> push(const TipSurface& surface, const Vec2& a, const Vec2& b, double z);

}  // namespace yardpass
