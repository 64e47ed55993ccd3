#include "strategy/level_room.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "yardpass/contact/lift.h"
#include "yardpass/plan/roomy_place.h"

namespace yardpass::detail {

/// Over flats there is no room at all, to rounding.
bool LevelRoom::is_free(const Vec2& a, const Vec2& b) const {
  return site_.surface.clearance(with_z(a, z_), with_z(b, z_), 0.0).room >= -kTouchError;
}

bool LevelRoom::is_free(const Polyline2& line) const {
  for (std::size_t i = 1; i < line.size(); ++i)
    if (!is_free(line[i - 1], line[i])) return false;
  return true;
}

/// The outline that the centre comes from keeps a little from what is blocked, unevenly; so where the circle
/// just does not fit there, it is moved away from what it meets.
std::optional<Vec2> LevelRoom::helix_fits(Vec2 centre, double radius) const {
  constexpr double kInside = 1e-6, kSagitta = 2e-4;  // mm
  constexpr int kMoves = 24;
  const int chords =
      std::max(24, static_cast<int>(std::ceil(std::numbers::pi / std::acos(1 - kSagitta / radius))));
  const auto out = [&](double k) {
    const double turn = 2 * std::numbers::pi * k / chords;
    return Vec2(std::cos(turn), std::sin(turn));
  };
  double step = 2 * site_.tolerance_mm;
  for (int move = 0; move <= kMoves; ++move, step *= 0.75) {
    Vec2 met(0, 0);
    bool fits = true;
    for (int k = 0; k < chords; ++k)
      if (!is_free(centre + radius * out(k), centre + radius * out(k + 1))) met += out(k + 0.5), fits = false;
    if (fits && room_at(site_.area, centre) >= radius - kInside && is_free(centre, centre)) return centre;
    if (fits || met.norm() < 1e-6) return std::nullopt;
    centre -= step * met.normalized();
  }
  return std::nullopt;
}

/// Proven chord by chord; where the area's outline was not exact enough, the line goes up by what is missing.
std::vector<Polyline3> LevelRoom::at_level(const Polyline2& curve) const {
  Polyline3 level{with_z(curve.front(), z_)};
  for (std::size_t i = 1; i < curve.size(); ++i) {
    if (!is_free(curve[i - 1], curve[i]))
      return lift(site_.surface, curve, {.tolerance_mm = site_.tolerance_mm, .floor_z = z_});
    level.push_back(with_z(curve[i], z_));
  }
  return {level};
}

}  // namespace yardpass::detail
