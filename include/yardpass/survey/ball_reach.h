/// Which ball reaches a place of a part: by where balls can stand, not by a guess at curvature.
#pragma once

#include <memory>
#include <vector>

#include "yardpass/contact/tip_surface.h"

namespace yardpass {

/// A ball reaches a place if it can stand somewhere, clear of the whole part, with at most the tolerance left
/// between it and the place. (A ball that reaches a place is followed there by all smaller ones.) Method: the
/// ball's centre is set off from the place along the normal; if that is not free, the free centres near it
/// are searched: only those within sqrt(2 r t) can leave as little as t. Immutable; safe for many threads.
class ReachProbe {
 public:
  /// `diameters_mm`: ascending.
  ReachProbe(const std::shared_ptr<const ContactPart>& part, std::vector<double> diameters_mm,
             double tolerance_mm);

  /// How many of the diameters reach the place: 0 for none, their number for all. `normal`: unit, out of the
  /// material. `triangle`: where the place lies, to save time.
  [[nodiscard]] std::size_t count_reaching(const Vec3& place, const Vec3& normal,
                                           std::int32_t triangle = -1) const;
  [[nodiscard]] const std::vector<double>& diameters_mm() const { return diameters_; }

  /// The largest radius that reaches the place, within 1 %, between two that do and do not.
  [[nodiscard]] double largest_radius(const Vec3& place, const Vec3& normal, double reaches_mm,
                                      double fails_mm) const;

 private:
  [[nodiscard]] bool reaches(const TipSurface& ball, const Vec3& place, const Vec3& normal,
                             std::int32_t triangle) const;
  std::shared_ptr<const ContactPart> part_;
  std::vector<double> diameters_;
  std::vector<TipSurface> balls_;
  double tolerance_;
};

}  // namespace yardpass
