/// Both sides of a tolerance, proven without samples: what strategies and links share.
#pragma once

#include "yardpass/contact/along_line.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/arc.h"

namespace yardpass {

/// The room between a tip surface and the one of the tool thicker by the tolerance. A path within it never
/// gouges and is nowhere farther than the tolerance, normal to the part, from where the tool would touch.
/// Made once for many questions: it keeps the surfaces that the proofs need. Immutable; any number of threads
/// may ask.
class Tube {
 public:
  /// `sagitta_mm`: how far arcs may lie from the chords they are proven by; it is taken off the tolerance on
  /// both sides. Throws Error unless the tolerance is above twice the sagitta, and that above 0.
  Tube(const TipSurface& surface, double tolerance_mm, double sagitta_mm = 1e-4);

  [[nodiscard]] const TipSurface& surface() const { return lower_; }
  /// In the middle: where points are best taken, since rounding and fitting then have play on both sides.
  [[nodiscard]] const TipSurface& middle() const { return middle_; }
  [[nodiscard]] double tolerance_mm() const { return tolerance_; }

  /// The lower side: the least room above the surface; told up to `up_to`.
  [[nodiscard]] Clearance room(const Vec3& a, const Vec3& b, double up_to = 0) const;
  [[nodiscard]] Clearance room(const Arc& arc, double up_to = 0) const;
  /// The upper side: whether the thicker tool would meet the part all along, and where first not.
  [[nodiscard]] Cover cover(const Vec3& a, const Vec3& b, std::int32_t near_triangle = -1) const;
  [[nodiscard]] Cover cover(const Arc& arc, std::int32_t near_triangle = -1) const;

  [[nodiscard]] bool is_free(const Vec3& a, const Vec3& b) const { return room(a, b).room >= 0; }
  [[nodiscard]] bool is_free(const Arc& arc) const { return room(arc).room >= 0; }
  /// Both sides.
  [[nodiscard]] bool holds(const Vec3& a, const Vec3& b) const { return is_free(a, b) && cover(a, b).whole; }
  [[nodiscard]] bool holds(const Arc& arc) const { return is_free(arc) && cover(arc).whole; }

 private:
  double tolerance_, sagitta_;
  TipSurface lower_, middle_, upper_, lower_for_arcs_, upper_for_arcs_;
};

}  // namespace yardpass
