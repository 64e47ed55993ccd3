#include "yardpass/contact/push.h"

#include <algorithm>
#include <cmath>
namespace yardpass {

namespace {

constexpr double kNarrow = 1e-9;  // [mm]

}  // namespace

std::vector<LinePiece> push(const TipSurface& surface, const Vec2& a, const Vec2& b, double z) {
  const double length = (b - a).norm();
  if (!(length > 0)) return {};
  const Vec3 from = with_z(a, z), to = with_z(b, z);
  std::vector<LinePiece> pieces;
  for (const std::int32_t triangle : surface.triangles_met(from, to)) {
    // The lowest room of the line over this triangle alone, and where: from there the room only rises to both
    // sides.
    const Clearance lowest = surface.clearance_over(triangle, from, to);
    if (!(lowest.room < 0)) continue;
    const auto room_at = [&](double share) { return z - surface.height_over(triangle, a + share * (b - a)); };
    const auto edge = [&](double inside, double outside) {
      double low = lowest.room, high = room_at(outside);
      if (high < 0) return outside;
      // False position with halved weights (Illinois); where nothing is met the room is infinite, so halve
      // there.
      while (std::abs(outside - inside) * length > 0.5 * kNarrow) {
        double share = std::isfinite(high) && high > 0 ? low / (low - high) : 0.5;
        share = std::clamp(share, 0.02, 0.98);
        const double next = inside + share * (outside - inside), room = room_at(next);
        if (room < 0) {
          inside = next;
          if (std::isfinite(high)) high *= 0.5;
          low = room;
        } else {
          outside = next;
          low *= 0.5;
          high = room;
        }
      }
      return inside;
    };
    const LinePiece piece{edge(lowest.share, 0.0), edge(lowest.share, 1.0)};
    if ((piece.to - piece.from) * length >= kNarrow) pieces.push_back(piece);
  }
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
