#include <algorithm>
#include <cmath>
#include <limits>

#include "yardpass/tool/profile.h"

namespace yardpass {

namespace {

constexpr double kVertical = std::numeric_limits<double>::infinity();
using Piece = Profile::Piece;

double sine_of(double slope) { return slope == kVertical ? 1 : slope / std::sqrt(1 + slope * slope); }
double cosine_of(double slope) { return slope == kVertical ? 0 : 1 / std::sqrt(1 + slope * slope); }

Piece arc_between(double centre_r, double centre_z, double radius, double slope0, double slope1) {
  return {centre_r + radius * sine_of(slope0),
          centre_z - radius * cosine_of(slope0),
          centre_r + radius * sine_of(slope1),
          centre_z - radius * cosine_of(slope1),
          slope0,
          slope1,
          radius,
          centre_r,
          centre_z};
}

/// Moves pieces so that the tip is at z = 0 and neighbours share their ends to the last bit.
Resized finish(std::vector<Piece> pieces) {
  const double tip = pieces.front().z0;
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    pieces[i].z0 -= tip;
    pieces[i].z1 -= tip;
    pieces[i].centre_z -= tip;
    if (i > 0) pieces[i].r0 = pieces[i - 1].r1, pieces[i].z0 = pieces[i - 1].z1;
  }
  pieces.front().r0 = 0;
  return {Profile::from_pieces(std::move(pieces)), tip};
}

Resized grown(const Profile& profile, double by) {
  std::vector<Piece> pieces;
  double slope = 0, r = 0, z = 0;  // where the last piece ended; it ended level at the tip
  const auto round_joint = [&](double next_slope) {
    if (next_slope > slope + 1e-12) pieces.push_back(arc_between(r, z, by, slope, next_slope));
  };
  for (const Piece& piece : profile.pieces()) {
    round_joint(piece.slope0);
    if (piece.arc > 0) {
      pieces.push_back(
          arc_between(piece.centre_r, piece.centre_z, piece.arc + by, piece.slope0, piece.slope1));
    } else {
      const double out = by * sine_of(piece.slope0), down = by * cosine_of(piece.slope0);
      pieces.push_back(
          {piece.r0 + out, piece.z0 - down, piece.r1 + out, piece.z1 - down, piece.slope0, piece.slope1});
    }
    slope = piece.slope1, r = piece.r1, z = piece.z1;
  }
  round_joint(kVertical);
  return finish(std::move(pieces));
}

/// A bound of the shrunk tool: z >= the arc where it runs, and the tangents at its ends beyond; a straight
/// line is an arc without length.
struct Bound {
  Piece piece;
  [[nodiscard]] double height(double r) const {
    if (piece.arc == 0 || r <= piece.r0) return piece.z0 + piece.slope0 * (r - piece.r0);
    if (r >= piece.r1)
      return piece.slope1 == kVertical ? kVertical : piece.z1 + piece.slope1 * (r - piece.r1);
    const double u = r - piece.centre_r;
    return piece.centre_z - std::sqrt(std::max(0.0, (piece.arc - u) * (piece.arc + u)));
  }
};

/// The r in [low, high] from which on `next` is the higher of the two; the difference only rises.
double overtakes(const Bound& before, const Bound& next, double low, double high) {
  if (next.height(low) >= before.height(low)) return low;
  if (next.height(high) < before.height(high)) return high;
  for (int step = 0; step < 200; ++step) {
    const double middle = 0.5 * (low + high);
    if (middle <= low || middle >= high) break;
    (next.height(middle) >= before.height(middle) ? high : low) = middle;
  }
  return high;
}

std::optional<Resized> shrunk(const Profile& profile, double by) {
  double radius = profile.radius() - by;
  std::vector<Bound> bounds;
  const auto add_line = [&](double r, double z, double slope) {
    if (slope == kVertical) return;
    bounds.push_back({{r - by * sine_of(slope), z + by * cosine_of(slope), r, z, slope, slope}});
    bounds.back().piece.r1 = bounds.back().piece.r0;
    bounds.back().piece.z1 = bounds.back().piece.z0;
  };
  for (const Piece& piece : profile.pieces()) {
    if (piece.arc > by) {
      bounds.push_back(
          {arc_between(piece.centre_r, piece.centre_z, piece.arc - by, piece.slope0, piece.slope1)});
    } else {
      // An arc that shrinks to nothing bounds no more than the tangents at its two ends do.
      add_line(piece.r0, piece.z0, piece.slope0);
      if (piece.arc > 0) add_line(piece.r1, piece.z1, piece.slope1);
    }
  }
  if (radius <= 0 || bounds.empty()) return std::nullopt;

  std::vector<std::size_t> kept;
  std::vector<double> from;
  for (std::size_t i = 0; i < bounds.size(); ++i) {
    double start = 0;
    while (!kept.empty()) {
      start = overtakes(bounds[kept.back()], bounds[i], from.back(), radius);
      if (start > from.back()) break;
      kept.pop_back();
      from.pop_back();
      start = 0;
    }
    if (kept.empty() || start < radius) kept.push_back(i), from.push_back(start);
  }
  std::vector<Piece> pieces;
  for (std::size_t k = 0; k < kept.size(); ++k) {
    const Bound& bound = bounds[kept[k]];
    const double low = from[k], high = k + 1 < kept.size() ? from[k + 1] : radius;
    const Piece& whole = bound.piece;
    // An arc that ends upright ends at the side, whatever rounding says.
    const double arc_end = whole.slope1 == kVertical ? high : std::clamp(whole.r1, low, high);
    const double cuts[] = {low, std::clamp(whole.r0, low, high), arc_end, high};
    for (int part = 0; part < 3; ++part) {
      const double r0 = cuts[part], r1 = cuts[part + 1];
      if (r1 - r0 <= 0) continue;
      Piece piece{r0, bound.height(r0), r1, bound.height(r1), whole.slope0, whole.slope0};
      if (part == 2) piece.slope0 = piece.slope1 = whole.slope1;
      if (part == 1 && whole.arc > 0) {
        const auto slope_at = [&](double r) {
          if (r >= std::min(whole.r1, arc_end)) return whole.slope1;
          const double u = std::clamp((r - whole.centre_r) / whole.arc, 0.0, 1.0);
          return u < 1 ? u / std::sqrt((1 - u) * (1 + u)) : kVertical;
        };
        piece = {r0,        piece.z0,       r1,
                 piece.z1,  slope_at(r0),   slope_at(r1),
                 whole.arc, whole.centre_r, whole.centre_z};
      }
      pieces.push_back(piece);
    }
  }
  if (pieces.empty()) return std::nullopt;
  return finish(std::move(pieces));
}

}  // namespace

std::optional<Resized> resized(const Profile& profile, double by_mm) {
  if (by_mm == 0 || (profile.radius() == 0 && by_mm < 0)) {
    if (by_mm < 0) return std::nullopt;
    return Resized{profile, 0.0};
  }
  if (by_mm > 0 && profile.radius() == 0) return Resized{Profile::ball(2 * by_mm), -by_mm};
  return by_mm > 0 ? grown(profile, by_mm) : shrunk(profile, -by_mm);
}

Profile widened(const Profile& profile, double by_mm) {
  if (by_mm == 0) return profile;
  std::vector<Piece> pieces{{0, 0, by_mm, 0, 0, 0}};
  for (Piece piece : profile.pieces()) {
    piece.r0 += by_mm, piece.r1 += by_mm, piece.centre_r += by_mm;
    if (piece.arc == 0 && piece.slope0 == 0 && pieces.size() == 1)
      pieces.back().r1 = piece.r1;
    else
      pieces.push_back(piece);
  }
  return Profile::from_pieces(std::move(pieces));
}

namespace {

bool ends_in_a_cone(const Profile& profile) {
  constexpr double kSteepest = 1.7320508;  // within 30 degrees of the axis
  if (profile.pieces().empty()) return false;
  const Piece& last = profile.pieces().back();
  return last.arc == 0 && last.slope1 != kVertical && last.slope1 >= kSteepest;
}

}  // namespace

double smallest_corner(const Profile& profile) {
  double smallest = kVertical, slope = 0;
  for (const Piece& piece : profile.pieces()) {
    if (piece.slope0 > slope + 1e-9) return 0;
    if (piece.arc > 0) smallest = std::min(smallest, piece.arc);
    slope = piece.slope1;
  }
  return (slope == kVertical || ends_in_a_cone(profile)) && smallest != kVertical ? smallest : 0;
}

Profile with_longer_cone(const Profile& profile, double by_mm) {
  if (!ends_in_a_cone(profile)) return profile;
  std::vector<Piece> pieces(profile.pieces().begin(), profile.pieces().end());
  pieces.back().r1 += by_mm / pieces.back().slope1;
  pieces.back().z1 += by_mm;
  return Profile::from_pieces(std::move(pieces));
}

}  // namespace yardpass
