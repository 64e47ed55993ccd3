#include "link/entries.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yardpass::detail {

Polyline3 Entries::by_ramp(const Polyline3& line, bool closed, double lift_up_to_mm) {
  const Vec3& start = line.front();
  if ((trail_.started() && trail_.at() == start) || through_cleared(start)) {
    cut_along(line);
    return line;
  }
  Material& material = trail_.material();
  material.catch_up();
  // Air below the tool where the ramp begins; where all under it is cleared, the cut itself.
  const double above =
      material.is_cleared(start) ? start.z() : material.cleared_height(plan(start)) + kAboveSolid;
  return ramp_down(line, closed, down_to(start, std::max(start.z(), above), lift_up_to_mm));
}

Polyline3 Entries::by_helix(const Polyline3& line, const Helix& helix, double lift_up_to_mm) {
  const Vec3& start = line.front();
  const Vec2 out = plan(start) - helix.centre;
  // A cut that no longer begins on the circle, as after a limit by height, has no helix.
  if (std::abs(out.norm() - helix.radius_mm) > 1e-6) return by_ramp(line, false, lift_up_to_mm);
  if (through_cleared(start)) {
    cut_along(line);
    return line;
  }
  const double first = std::atan2(out.y(), out.x()), hand = helix.clockwise ? -1 : 1;
  const auto at = [&](double turned, double z) {
    const double angle = first + hand * turned;
    return with_z(Vec2(helix.centre + helix.radius_mm * Vec2(std::cos(angle), std::sin(angle))), z);
  };
  constexpr int kChords = 36;
  constexpr double kStep = 2 * std::numbers::pi / kChords;
  Material& material = trail_.material();
  material.catch_up();
  bool cleared = true;
  double above = start.z();
  for (int k = 0; k < kChords; k += 3) {
    const Vec3 place = at(k * kStep, start.z());
    cleared = cleared && material.is_cleared(place);
    above = std::max(above, material.cleared_height(plan(place)) + kAboveSolid);
  }
  const double fall = steepest();
  const double top = cleared ? start.z() : above;
  // It begins where it ends at the start of the cut.
  const double chord = 2 * helix.radius_mm * std::sin(0.5 * kStep);
  // At least once round, so that its last turn only takes what it left: flatter, where little is above.
  const double turns_down =
      top > start.z() ? std::max((top - start.z()) / fall / chord * kStep, 2 * std::numbers::pi) : 0;
  const double z_of_turn = turns_down > 0 ? (top - start.z()) / turns_down : 0;
  double turned = -turns_down;
  down_to(at(turned, start.z()), top, lift_up_to_mm);
  trail_.go(at(turned, top), MoveKind::plunge);
  double z = top;
  while (turned < -1e-9) {
    const double step = std::min(kStep, -turned);
    turned += step;
    z = turned < -1e-9 ? z - step * z_of_turn : start.z();
    trail_.go(at(turned, z), MoveKind::ramp);
  }
  if (turns_down > 0)
    for (int k = 1; k <= kChords; ++k)
      trail_.go(k == kChords ? start : at(k * kStep, start.z()), MoveKind::cut);
  trail_.go(start, MoveKind::cut);
  cut_along(line);
  return line;
}

/// At feed to the start of the next cut, if that is near, level with the tool, and nothing is in between.
bool Entries::through_cleared(const Vec3& start) {
  const bool level = trail_.is_near(start, options_.steps.ladder.stay_down_mm) &&
                     std::abs(trail_.at().z() - start.z()) < 1e-6 && trail_.is_free(trail_.at(), start);
  if (!level || !trail_.material().is_cleared(trail_.at(), start)) return false;
  ++trail_.counts().stay_down;
  trail_.go(start, MoveKind::link);
  return true;
}

/// To a height over a place, at feed if that is near and nothing is in between; returns where it got to,
/// at least `z`.
double Entries::down_to(const Vec3& start, double z, double lift_up_to_mm) {
  const Vec3 at = trail_.at(), over(start.x(), start.y(), at.z());
  if (trail_.is_near(start, options_.steps.ladder.stay_down_mm) && at.z() >= z &&
      at.z() < z + options_.feed_height_mm && trail_.is_free(at, over) &&
      trail_.material().is_cleared(at, over)) {
    ++trail_.counts().stay_down;
    trail_.go(over, MoveKind::link);
    return at.z();
  }
  trail_.come_over(plan(start), start.z(), lift_up_to_mm);
  trail_.go(with_z(plan(start), z), MoveKind::plunge);
  return z;
}

double Entries::steepest() const {
  return slope_of(std::min(options_.ramp_angle_deg, tool_.steepest_entry_deg));
}

namespace {

/// Along a short level line a ramp takes whole ways to and fro, so that what comes after it only takes what
/// it left: a little flatter than it may be.
double even_fall(const Polyline3& line, double top, double steepest, double most_length) {
  double whole = 0;
  for (std::size_t i = 1; i < line.size(); ++i) {
    if (line[i].z() != line[0].z()) return steepest;
    whole += (plan(line[i]) - plan(line[i - 1])).norm();
  }
  const double height = top - line[0].z();
  if (!(whole > 0) || whole > most_length || !(height > 0)) return steepest;
  return height / (std::ceil(height / steepest / whole - 1e-9) * whole);
}

}  // namespace

Polyline3 Entries::ramp_down(const Polyline3& line, bool closed, double top) {
  const double fall = closed ? steepest() : even_fall(line, top, steepest(), 4 * tool_.diameter_mm);
  const std::size_t last = line.size() - 1;
  double z = top;
  std::size_t i = 0;
  bool forward = true;
  while (z > line[i].z() + 1e-9) {
    if (!closed && (forward ? i == last : i == 0)) forward = !forward;
    std::size_t next = forward ? i + 1 : i - 1;
    const double step = (plan(line[next]) - plan(line[i])).norm();
    double lower = z - step * fall;
    // Where the cut's own height is reached within a piece, the ramp ends there and not at the piece's end.
    if (lower < line[next].z()) {
      const double own_fall = line[i].z() - line[next].z();
      const double share = std::clamp((z - line[i].z()) / (step * fall - own_fall), 0.0, 1.0);
      if (share > 0 && share < 1) trail_.go(line[i] + share * (line[next] - line[i]), MoveKind::ramp);
      lower = line[next].z();
    }
    z = lower;
    trail_.go(with_z(plan(line[next]), z), MoveKind::ramp);
    i = closed && next == last ? 0 : next;
  }
  if (closed) {
    Polyline3 rest(line.begin(), line.end() - 1);
    std::rotate(rest.begin(), rest.begin() + static_cast<std::ptrdiff_t>(i), rest.end());
    rest.push_back(rest.front());
    cut_along(rest);
    return rest;
  }
  // Back to its start; where cuts only rise or fall, that is still the way in.
  while (i > 0) trail_.go(line[--i], options_.ways == HeightWays::any ? MoveKind::cut : MoveKind::ramp);
  cut_along(line);
  return line;
}

void Entries::cut_along(const Polyline3& whole) {
  const Polyline3 line = trail_.without_dust(whole);
  const double radius = 0.5 * tool_.diameter_mm;
  const std::vector<bool> steep = steep_pieces(line, slope_of(options_.plunge_slope_deg),
                                               tool_.plunge_limit_mm_min > 0 ? 0 : 0.25 * radius, radius);
  for (std::size_t i = 1; i < line.size(); ++i)
    trail_.go(line[i], steep[i - 1] ? MoveKind::plunge : MoveKind::cut);
}

std::vector<bool> steep_pieces(const Polyline3& line, double slope, double least_fall_mm,
                               double least_length_mm) {
  const std::size_t count = line.empty() ? 0 : line.size() - 1;
  std::vector<bool> steep(count, false);
  std::vector<double> way(count + 1, 0);
  for (std::size_t i = 0; i < count; ++i) way[i + 1] = way[i] + (line[i + 1] - line[i]).norm();
  const auto falls = [&](std::size_t i) {
    const Vec3 step = line[i + 1] - line[i];
    return -step.z() > slope * plan(step).norm();
  };
  // Falls that are worth it, each made at least as long as that.
  for (std::size_t i = 0; i < count;) {
    if (!falls(i)) {
      ++i;
      continue;
    }
    std::size_t end = i;
    while (end < count && falls(end)) ++end;
    if (line[i].z() - line[end].z() >= least_fall_mm)
      for (std::size_t k = i; k < count && (k < end || way[k] < way[i] + least_length_mm); ++k)
        steep[k] = true;
    i = end;
  }
  // And no shorter stretch between two of them.
  for (std::size_t i = 0; i < count;) {
    if (steep[i]) {
      ++i;
      continue;
    }
    std::size_t end = i;
    while (end < count && !steep[end]) ++end;
    if (i > 0 && end < count && way[end] - way[i] < least_length_mm)
      for (std::size_t k = i; k < end; ++k) steep[k] = true;
    i = end;
  }
  return steep;
}

}  // namespace yardpass::detail
