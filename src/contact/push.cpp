#include "yardpass/contact/push.h"

#include <algorithm>
#include <cmath>

#include "yardpass/contact/along_line.h"

namespace yardpass {

namespace {

constexpr double kNarrow = 1e-9;  // [mm]

}  // namespace

std::vector<LinePiece> push(const TipSurface& surface, const Vec2& a, const Vec2& b, double z) {
  const double length = (b - a).norm();
  if (!(length > 0)) return {};
  const Vec3 from = with_z(a, z), to = with_z(b, z);
  std::vector<LinePiece> pieces;
  for (std::int32_t body = 0; body < surface.bodies(); ++body)
    for (const std::int32_t triangle : surface.triangles_met(from, to, body))
      if (const auto piece = piece_over(surface, triangle, from, to, body)) pieces.push_back(*piece);
  std::sort(pieces.begin(), pieces.end(), [](const LinePiece& p, const LinePiece& q) {
    return p.from != q.from ? p.from < q.from : p.to < q.to;
  });
  std::vector<LinePiece> joined;
  for (const LinePiece& piece : pieces) {
    if (!joined.empty() && piece.from <= joined.back().to + 2 * kNarrow / length)
      joined.back().to = std::max(joined.back().to, piece.to);
    else
      joined.push_back(piece);
  }
  return joined;
}

}  // namespace yardpass
