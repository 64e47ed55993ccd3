#include "stock/arc_pieces.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yardpass::detail {

namespace {

constexpr double kSagitta = 1e-4;

/// The circle through both ends of the piece, its centre as near as may be to where the arc says it is.
/// Nothing if that leads elsewhere than the arc goes half-way.
bool make_round(const Arc& arc, const Vec3& half_way, ArcPiece& piece) {
  const Vec2 from = plan(piece.from), to = plan(piece.to), middle = (from + to) / 2;
  const double chord = (to - from).norm();
  if (!(chord > 0)) return false;
  const Vec2 along = (to - from) / chord, said = plan(arc.centre);
  piece.centre = said - (said - middle).dot(along) * along;
  piece.radius = (from - piece.centre).norm();
  piece.counter_clockwise = arc.turn_rad > 0;
  const Vec2 out = Vec2(along.y(), -along.x()) * (piece.counter_clockwise ? 1 : -1);
  const double off = (piece.centre + piece.radius * out - plan(half_way)).norm();
  return off <= std::abs(arc.end_radius() - arc.start_radius()) + 1e-9;
}

}  // namespace

void add_pieces(const SweptMove& move, std::vector<ArcPiece>& pieces) {
  const Arc& arc = *move.arc;
  const bool level = arc.plane == ArcPlane::xy && arc.rise() == 0;
  if (level) {
    const double quarters = std::max(1.0, std::ceil(std::abs(arc.turn_rad) / (std::numbers::pi / 2) - 1e-9));
    const std::size_t before = pieces.size();
    bool round = true;
    for (double i = 0; i < quarters && round; ++i) {
      ArcPiece piece{arc.at(i / quarters), arc.at((i + 1) / quarters)};
      round = make_round(arc, arc.at((i + 0.5) / quarters), piece);
      pieces.push_back(piece);
    }
    if (round) return;
    pieces.resize(before);
  }
  const std::vector<Vec3> points = chord_points(arc, kSagitta);
  for (std::size_t i = 0; i + 1 < points.size(); ++i) pieces.push_back({points[i], points[i + 1]});
}

double ArcPiece::bulge() const {
  const double half = (to - from).norm() / 2;
  return radius > 0 ? radius - std::sqrt(std::max(0.0, radius * radius - half * half)) : 0.0;
}

double ArcPiece::distance(const Vec2& place) const {
  const Vec2 rel = place - centre, a = plan(from) - centre, b = plan(to) - centre;
  const double turn = counter_clockwise ? 1 : -1;
  if (turn * cross2(a, rel) >= 0 && turn * cross2(rel, b) >= 0) return std::abs(rel.norm() - radius);
  return std::sqrt(std::min((rel - a).squaredNorm(), (rel - b).squaredNorm()));
}

}  // namespace yardpass::detail
