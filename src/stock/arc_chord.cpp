#include "stock/arc_chord.h"

#include <algorithm>
#include <cmath>

namespace yardpass::detail {

namespace {

constexpr double kSagitta = 0.002;  // mm, of half a chord
constexpr double kMostTurn = 0.25;  // radians, of half a chord
constexpr double kSteepest = 10;    // rise over run of an upright arc

/// Rise over run; and whether it turns back in plan, which makes the bounds void.
bool too_steep(const Arc& arc, double first, double last, double& steepest) {
  for (const double share : {first, last}) {
    const Vec3 way = arc.direction(share);
    steepest = std::max(steepest, std::abs(way.z()) / std::max(plan(way).norm(), 1e-300));
  }
  return steepest > kSteepest || plan(arc.direction(first)).dot(plan(arc.direction(last))) <= 0;
}

ArcChord chord_of(const Arc& arc, double first, double last) {
  const double turn = std::abs(arc.turn_rad) * (last - first);
  const double radius = std::max(arc.start_radius(), arc.end_radius()),
               grows = std::abs(arc.end_radius() - arc.start_radius()) * (last - first);
  // The sagitta, and what the radius runs.
  const double off = radius * (1 - std::cos(0.5 * turn)) + grows;
  ArcChord chord{arc.at(first), arc.at(last)};
  if (arc.plane == ArcPlane::xy) {
    chord.beside_mm = off;
    // Heights run with the angle, places along the chord with its sine.
    chord.above_mm = std::abs(chord.to.z() - chord.from.z()) * turn * turn / 8;
    return chord;
  }
  double steepest = 0;
  if (too_steep(arc, first, last, steepest) || arc.rise() != 0) {
    chord.from = chord.to = arc.at(0.5 * (first + last));
    return chord;
  }
  chord.above_mm = off * std::sqrt(1 + steepest * steepest);
  return chord;
}

}  // namespace

std::vector<ArcChord> overlapping_chords(const Arc& arc) {
  const double radius = std::max(arc.start_radius(), arc.end_radius()), turn = std::abs(arc.turn_rad);
  const double half =
      std::min(kMostTurn, kSagitta < radius ? 2 * std::acos(1 - kSagitta / radius) : kMostTurn);
  const double halves = std::max(2.0, std::ceil(turn / half));
  std::vector<ArcChord> chords;
  chords.reserve(static_cast<std::size_t>(halves) - 1);
  for (double k = 0; k + 2 <= halves; ++k) chords.push_back(chord_of(arc, k / halves, (k + 2) / halves));
  return chords;
}

}  // namespace yardpass::detail
