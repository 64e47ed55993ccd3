/// The outline of a turning cutter, from its tip outwards.
#pragma once

#include <optional>
#include <span>
#include <vector>

namespace yardpass {

/// A convex profile z = height(r), tip at r = 0, z = 0, rising with r up to radius(); beyond it the cutter
/// goes up without end. Made of straight and round pieces whose slopes never fall. Immutable; safe to use
/// from many threads.
class Profile {
 public:
  struct Piece {
    double r0, z0, r1, z1;              ///< ends, r0 < r1 [mm]
    double slope0, slope1;              ///< dz/dr at the ends; slope1 may be infinite
    double arc = 0;                     ///< radius of a round piece, 0 for a straight one [mm]
    double centre_r = 0, centre_z = 0;  ///< of a round piece
  };

  /// All dimensions must be positive (corner radius and tip width may be 0); throws Error naming the one that
  /// is not, or that does not fit the others. Angles are measured from the tool axis, in degrees, between 0
  /// and 90.
  [[nodiscard]] static Profile flat(double diameter_mm);
  [[nodiscard]] static Profile ball(double diameter_mm);
  [[nodiscard]] static Profile bull(double diameter_mm, double corner_radius_mm);
  /// A cone above a flat tip with rounded corner (corner radius = half the tip diameter: a ball). The tip
  /// diameter is where the flanks would meet the tip plane of the straight tool with the same corner, that
  /// is, the width of the straight tool that has this tip. `height_mm`: length of the cutting part, above
  /// which the tool stays as wide.
  [[nodiscard]] static Profile taper(double tip_diameter_mm, double angle_deg, double corner_radius_mm,
                                     double height_mm);
  /// A cone with a flat tip (0: a point) up to the full diameter.
  [[nodiscard]] static Profile chamfer(double diameter_mm, double angle_deg, double tip_diameter_mm);
  /// No width at all: touching with it measures the part itself from above.
  [[nodiscard]] static Profile needle();
  /// A free profile: from the tip (0, 0) straight to the first point, and so on; a point with an arc radius
  /// is reached along an arc that bulges outwards. Throws Error naming the point if the outline does not run
  /// outwards, is not convex, or if an arc is too small to reach its end.
  struct OutlinePoint {
    double r_mm, z_mm;
    double arc_mm = 0;
  };
  [[nodiscard]] static Profile from_outline(std::span<const OutlinePoint> points);
  /// From pieces that join end to end, begin at (0, 0) and never fall in slope; throws Error with the piece
  /// otherwise.
  [[nodiscard]] static Profile from_pieces(std::vector<Piece> pieces);

  [[nodiscard]] double radius() const { return radius_; }
  [[nodiscard]] std::span<const Piece> pieces() const { return pieces_; }

  /// Height above the tip at distance r from the axis; r is clamped to [0, radius()].
  [[nodiscard]] double height(double r) const;
  /// The widest place that lies no higher than this above the tip; REQUIRES: height at least 0. Within 1e-9
  /// mm.
  [[nodiscard]] double radius_at_height(double height_mm) const;
  /// Slope of the profile at r, at a joint the one of the piece inside it; clamped to 1e16 at an upright end.
  [[nodiscard]] double slope(double r) const;
  /// Where a plane of slope m >= 0 touches: the r that makes m r - height(r) greatest (the least such r).
  [[nodiscard]] double radius_at_slope(double m) const;
  /// On the section of the cutter by a vertical plane at distance d <= radius() from the axis: the position s
  /// (from the middle of the section) where a line of slope m touches, that is, where m s - height(sqrt(d^2 +
  /// s^2)) is greatest. Closed form for straight pieces and for arcs about the axis; else a bracketed root,
  /// to rounding.
  [[nodiscard]] double along_at_slope(double d, double m) const;

  /// True if no piece is wider than `radius` of a plain ball: one arc about the axis from slope 0 to the
  /// side.
  [[nodiscard]] bool is_ball() const { return is_ball_; }

 private:
  explicit Profile(std::vector<Piece> pieces);
  std::vector<Piece> pieces_;
  double radius_ = 0;
  bool is_ball_ = false;
};

/// A profile made thicker or thinner all round.
struct Resized {
  Profile profile;
  double tip_z_mm;  ///< Z of its tip, measured from the tip of the original: -growth for a tool that grew
};

/// Grown by `by_mm` (all points within that distance of the tool), or shrunk if negative (all points whose
/// ball of that radius lies in the tool). Exact, sharp rims become round. Nothing if the tool is not thick
/// enough to shrink so far.
[[nodiscard]] std::optional<Resized> resized(const Profile& profile, double by_mm);

/// Wider by `by_mm` >= 0 on all sides at every height: a flat of that radius is added in the middle.
[[nodiscard]] Profile widened(const Profile& profile, double by_mm);

/// How far inside the cutter a place lies, r from its axis and z above its tip: the distance to the nearest
/// place of its surface, and the most it can be resized down to and still hold it. 0 outside.
[[nodiscard]] double depth_inside(const Profile& profile, double r, double z);

/// Most that a profile can shrink while every shrunk point still stands for one point of its surface: its
/// smallest corner radius (0 for a flat end or a sharp taper, the radius for a ball). The rim where a cone
/// within 30 degrees of the axis ends in an upright side counts as no corner: see with_longer_cone().
[[nodiscard]] double smallest_corner(const Profile& profile);

/// A profile that ends in a cone within 30 degrees of the axis, with that cone `by_mm` higher, so that it
/// holds the given one and its rim is out of the way when it shrinks by as much. Others stay as they are.
[[nodiscard]] Profile with_longer_cone(const Profile& profile, double by_mm);

}  // namespace yardpass
