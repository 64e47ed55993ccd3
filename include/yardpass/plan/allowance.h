/// What is left on the part.
#pragma once

#include <string>
#include <vector>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/keys/keys.h"

namespace yardpass {

/// Stock to leave, normal to the surface [mm]; below 0: an overcut, up to the smallest corner radius of the
/// cutter. Slopes between wall and floor get what lies between.
struct Allowance {
  double wall_mm = 0, floor_mm = 0;
  /// Instead of the lesser of the two, on a region of the part; the difference between wall and floor stays.
  struct OfRegion {
    std::string region;
    double mm = 0;
  };
  std::vector<OfRegion> where = {};

  [[nodiscard]] double elsewhere_mm() const { return std::min(wall_mm, floor_mm); }
  [[nodiscard]] double least_mm() const;
  /// More of all of them.
  [[nodiscard]] Allowance more_by(double mm) const;
  [[nodiscard]] double greatest_mm() const;
};

/// `allowance` for both, or `wall_allowance` and `floor_allowance`; `allowance_where`.
void keys_of(Allowance& allowance, const Derived& usual, Keys& keys);

/// With the least of all as the allowance; what regions, and what lies elsewhere, want beyond it is for
/// whoever groups their triangles.
[[nodiscard]] TipSurfaceOptions tip_surface_options(const Allowance& allowance);

}  // namespace yardpass
