#include "yardpass/tool/profile.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <string>

#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

constexpr double kVertical = std::numeric_limits<double>::infinity();

void require(bool good, const std::string& what) {
  if (!good) throw Error(what);
}

Profile::Piece straight(double r0, double z0, double r1, double z1) {
  const double slope = (z1 - z0) / (r1 - r0);
  return {r0, z0, r1, z1, slope, slope};
}

double slope_of(double sine) { return sine < 1 ? sine / std::sqrt((1 - sine) * (1 + sine)) : kVertical; }

/// Arc about (centre_r, centre_z) from slope 0 to the slope whose angle has this sine.
Profile::Piece round_corner(double centre_r, double radius, double sine) {
  Profile::Piece piece;
  piece.arc = radius;
  piece.centre_r = centre_r;
  piece.centre_z = radius;
  piece.r0 = centre_r;
  piece.z0 = 0;
  piece.r1 = centre_r + radius * sine;
  piece.z1 = radius - radius * std::sqrt((1 - sine) * (1 + sine));
  piece.slope0 = 0;
  piece.slope1 = slope_of(sine);
  return piece;
}

/// Where a line of slope m > 0 touches the section of an arc at distance d from the axis. With x the sine of
/// the contact angle and q = centre_r + arc x the distance from the axis, the touch is the root of q^2 (w^2 -
/// m^2 / x^2) = d^2, whose left side only rises with x.
double along_arc(const Profile::Piece& piece, double d, double m) {
  const double w2 = 1 + m * m;
  if (piece.centre_r == 0) {
    const double half = std::sqrt(std::max(0.0, piece.arc * piece.arc - d * d));
    return m * half / std::sqrt(w2);
  }
  double low = std::max(m / std::sqrt(w2), (d - piece.centre_r) / piece.arc), high = 1;
  // First guess: as if the section ran through where the plane of slope m would be touched.
  const double q0 = std::max(piece.centre_r + piece.arc * low, d * (1 + 1e-9));
  const double steeper = m / std::sqrt((1 - d / q0) * (1 + d / q0));
  double x = steeper / std::sqrt(1 + steeper * steeper);
  if (!(x > low && x < high)) x = 0.5 * (low + high);
  for (int step = 0; step < 60; ++step) {
    const double q = piece.centre_r + piece.arc * x, part = m / x, tail = w2 - part * part;
    const double value = q * q * tail - d * d;
    (value < 0 ? low : high) = x;
    const double slope = 2 * q * (piece.arc * tail + q * part * part / x);
    double next = x - value / slope;
    if (!(next > low && next < high)) next = 0.5 * (low + high);
    const double change = std::abs(next - x);
    x = next;
    // Newton's steps square the error, and the height is flat here: an error of e in x is one of e^2 in
    // height.
    if (change < 1e-7) break;
  }
  const double q = piece.centre_r + piece.arc * x;
  return std::sqrt(std::max(0.0, (q - d) * (q + d)));
}

}  // namespace

Profile::Profile(std::vector<Piece> pieces) : pieces_(std::move(pieces)) {
  radius_ = pieces_.empty() ? 0 : pieces_.back().r1;
  is_ball_ = pieces_.size() == 1 && pieces_[0].arc > 0 && pieces_[0].centre_r == 0 &&
             pieces_[0].slope0 == 0 && pieces_[0].slope1 == kVertical;
}

Profile Profile::needle() { return Profile({}); }

Profile Profile::flat(double diameter_mm) {
  require(diameter_mm > 0, "diameter must be above 0");
  return Profile({straight(0, 0, 0.5 * diameter_mm, 0)});
}

Profile Profile::ball(double diameter_mm) {
  require(diameter_mm > 0, "diameter must be above 0");
  return Profile({round_corner(0, 0.5 * diameter_mm, 1)});
}

Profile Profile::bull(double diameter_mm, double corner_radius_mm) {
  require(diameter_mm > 0, "diameter must be above 0");
  require(corner_radius_mm >= 0 && corner_radius_mm <= 0.5 * diameter_mm,
          "corner radius must lie between 0 and half the diameter");
  if (corner_radius_mm == 0) return flat(diameter_mm);
  const double flat_radius = 0.5 * diameter_mm - corner_radius_mm;
  if (flat_radius == 0) return ball(diameter_mm);
  return Profile({straight(0, 0, flat_radius, 0), round_corner(flat_radius, corner_radius_mm, 1)});
}

Profile Profile::taper(double tip_diameter_mm, double angle_deg, double corner_radius_mm, double height_mm) {
  require(tip_diameter_mm > 0, "diameter (at the tip) must be above 0");
  require(angle_deg >= 0 && angle_deg < 90, "taper angle must be at least 0 and below 90 degrees");
  require(corner_radius_mm >= 0 && corner_radius_mm <= 0.5 * tip_diameter_mm,
          "corner radius must lie between 0 and half the tip diameter");
  require(height_mm > 0, "length of the cutting part must be above 0");
  if (angle_deg == 0) return bull(tip_diameter_mm, corner_radius_mm);
  const double angle = angle_deg * std::numbers::pi / 180;
  const double flat_radius = 0.5 * tip_diameter_mm - corner_radius_mm;
  std::vector<Piece> pieces;
  if (flat_radius > 0) pieces.push_back(straight(0, 0, flat_radius, 0));
  double r = flat_radius, z = 0;
  if (corner_radius_mm > 0) {
    pieces.push_back(round_corner(flat_radius, corner_radius_mm, std::cos(angle)));
    pieces.back().slope1 = 1 / std::tan(angle);
    r = pieces.back().r1;
    z = pieces.back().z1;
  }
  require(height_mm > z, "length of the cutting part must be above the height of the rounded tip");
  const double top = r + (height_mm - z) * std::tan(angle);
  pieces.push_back({r, z, top, height_mm, 1 / std::tan(angle), 1 / std::tan(angle)});
  return Profile(std::move(pieces));
}

Profile Profile::chamfer(double diameter_mm, double angle_deg, double tip_diameter_mm) {
  require(diameter_mm > 0, "diameter must be above 0");
  require(angle_deg > 0 && angle_deg < 90, "angle must lie between 0 and 90 degrees");
  require(tip_diameter_mm >= 0 && tip_diameter_mm < diameter_mm,
          "tip diameter must be at least 0 and below the diameter");
  const double angle = angle_deg * std::numbers::pi / 180, tip = 0.5 * tip_diameter_mm;
  std::vector<Piece> pieces;
  if (tip > 0) pieces.push_back(straight(0, 0, tip, 0));
  const double slope = 1 / std::tan(angle), top = 0.5 * diameter_mm;
  pieces.push_back({tip, 0, top, (top - tip) * slope, slope, slope});
  return Profile(std::move(pieces));
}

Profile Profile::from_pieces(std::vector<Piece> pieces) {
  require(!pieces.empty(), "a profile needs at least one piece");
  double r = 0, z = 0, slope = 0;
  for (std::size_t i = 0; i < pieces.size(); ++i) {
    const Piece& piece = pieces[i];
    const std::string name = "profile piece " + std::to_string(i + 1) + ": ";
    require(std::abs(piece.r0 - r) < 1e-9 && std::abs(piece.z0 - z) < 1e-9,
            name + (i == 0 ? "must begin at r = 0, z = 0" : "must begin where the piece before it ends"));
    require(piece.r1 > piece.r0, name + "must run outwards");
    require(piece.slope0 >= slope - 1e-9,
            name + "is less steep than the piece before it, so the profile is not convex");
    require(piece.slope1 >= piece.slope0, name + "must not become less steep outwards");
    r = piece.r1, z = piece.z1, slope = piece.slope1;
  }
  return Profile(std::move(pieces));
}

Profile Profile::from_outline(std::span<const OutlinePoint> points) {
  require(!points.empty(), "an outline needs at least one point");
  std::vector<Piece> pieces;
  double r = 0, z = 0, slope = 0;
  for (std::size_t i = 0; i < points.size(); ++i) {
    const OutlinePoint& to = points[i];
    const std::string name = "outline point " + std::to_string(i + 1) + ": ";
    require(to.r_mm > r, name + "must lie farther out than the one before it");
    Piece piece = straight(r, z, to.r_mm, to.z_mm);
    if (to.arc_mm > 0) {
      // The middle of the arc lies above the chord.
      const double dr = to.r_mm - r, dz = to.z_mm - z, half = 0.5 * std::hypot(dr, dz);
      require(to.arc_mm >= half, name + "the arc's radius is too small to reach it");
      const double off = std::sqrt((to.arc_mm - half) * (to.arc_mm + half)) / (2 * half);
      piece.arc = to.arc_mm;
      piece.centre_r = 0.5 * (r + to.r_mm) - dz * off;
      piece.centre_z = 0.5 * (z + to.z_mm) + dr * off;
      const auto slope_at = [&](double at_r, double at_z) {
        const double up = piece.centre_z - at_z;
        return up > 1e-9 * to.arc_mm ? (at_r - piece.centre_r) / up : kVertical;
      };
      piece.slope0 = slope_at(r, z), piece.slope1 = slope_at(to.r_mm, to.z_mm);
      if (std::abs(piece.centre_r) < 1e-12) piece.centre_r = 0;
      require(piece.slope0 < kVertical && piece.slope1 >= piece.slope0,
              name + "the arc runs past its widest place");
    }
    require(to.z_mm >= z - 1e-12, name + "must not lie below the one before it");
    require(piece.slope0 >= slope - 1e-9,
            name + "is reached less steeply than the one before it, so the outline is not convex");
    pieces.push_back(piece);
    r = to.r_mm, z = to.z_mm, slope = piece.slope1;
  }
  return from_pieces(std::move(pieces));
}

double Profile::height(double r) const {
  for (const Piece& piece : pieces_) {
    if (r > piece.r1 && &piece != &pieces_.back()) continue;
    const double at = std::clamp(r, piece.r0, piece.r1);
    if (piece.arc == 0) return piece.z0 + piece.slope0 * (at - piece.r0);
    const double u = at - piece.centre_r;
    return piece.centre_z - std::sqrt(std::max(0.0, (piece.arc - u) * (piece.arc + u)));
  }
  return 0;
}

double Profile::radius_at_height(double height_mm) const {
  if (height(radius_) <= height_mm) return radius_;
  double within = 0, beyond = radius_;
  while (beyond - within > 1e-10) {
    const double middle = 0.5 * (within + beyond);
    (height(middle) <= height_mm ? within : beyond) = middle;
  }
  return within;
}

double Profile::slope(double r) const {
  for (const Piece& piece : pieces_) {
    if (r > piece.r1 && &piece != &pieces_.back()) continue;
    if (piece.arc == 0) return piece.slope0;
    const double u = std::clamp((r - piece.centre_r) / piece.arc, 0.0, 1.0);
    return u < 1 ? std::min(1e16, u / std::sqrt((1 - u) * (1 + u))) : 1e16;
  }
  return 0;
}

double Profile::radius_at_slope(double m) const {
  for (const Piece& piece : pieces_) {
    if (m <= piece.slope0) return piece.r0;
    if (piece.arc > 0 && m < piece.slope1) return piece.centre_r + piece.arc * (m / std::sqrt(1 + m * m));
  }
  return radius_;
}

double Profile::along_at_slope(double d, double m) const {
  if (m == 0) return 0;
  const double steep = std::abs(m);
  double s = 0;
  for (const Piece& piece : pieces_) {
    if (piece.r1 <= d) continue;
    // Slope of the section where the piece begins and ends; it only rises, so the touch lies in the piece or
    // joint where it passes `steep`.
    const double start = std::sqrt(std::max(0.0, (piece.r0 - d) * (piece.r0 + d)));
    const double end = std::sqrt((piece.r1 - d) * (piece.r1 + d));
    s = piece.r0 > d ? start : 0.0;
    if (piece.r0 > d && piece.slope0 * start >= steep * piece.r0) break;
    if (piece.slope1 * end <= steep * piece.r1) {
      s = end;
      continue;
    }
    if (piece.arc > 0)
      s = along_arc(piece, d, steep);
    else
      s = d * steep / std::sqrt((piece.slope0 - steep) * (piece.slope0 + steep));
    s = std::clamp(s, piece.r0 > d ? start : 0.0, end);
    break;
  }
  return m > 0 ? s : -s;
}

double depth_inside(const Profile& profile, double r, double z) {
  if (!(r < profile.radius()) || !(z > profile.height(r))) return 0;
  double least = profile.radius() - r;
  for (const Profile::Piece& piece : profile.pieces()) {
    double far;
    const double along_r = piece.r1 - piece.r0, along_z = piece.z1 - piece.z0;
    if (piece.arc > 0) {
      const double dr = r - piece.centre_r, dz = z - piece.centre_z, from_centre = std::hypot(dr, dz);
      const auto beyond = [&](double end_r, double end_z) {  // which side of the ray through an end
        return (end_r - piece.centre_r) * dz - (end_z - piece.centre_z) * dr;
      };
      const bool faces = beyond(piece.r0, piece.z0) >= 0 && beyond(piece.r1, piece.z1) <= 0;
      far = from_centre == 0 || faces
                ? std::abs(piece.arc - from_centre)
                : std::min(std::hypot(r - piece.r0, z - piece.z0), std::hypot(r - piece.r1, z - piece.z1));
    } else {
      const double share = std::clamp(
          ((r - piece.r0) * along_r + (z - piece.z0) * along_z) / (along_r * along_r + along_z * along_z),
          0.0, 1.0);
      far = std::hypot(r - piece.r0 - share * along_r, z - piece.z0 - share * along_z);
    }
    least = std::min(least, far);
  }
  return least;
}

}  // namespace yardpass
