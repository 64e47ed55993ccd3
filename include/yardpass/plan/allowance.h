/// What is left on the part.
#pragma once

#include "yardpass/contact/tip_surface.h"
#include "yardpass/keys/keys.h"

namespace yardpass {

/// Stock to leave, normal to the surface [mm]; below 0: an overcut, up to the smallest corner radius of the
/// cutter. Slopes between wall and floor get what lies between.
struct Allowance {
  double wall_mm = 0, floor_mm = 0;
  [[nodiscard]] double least_mm() const { return std::min(wall_mm, floor_mm); }
  [[nodiscard]] double greatest_mm() const { return std::max(wall_mm, floor_mm); }
};

/// `allowance` for both, or `wall_allowance` and `floor_allowance`.
void keys_of(Allowance& allowance, const Derived& usual, Keys& keys);

[[nodiscard]] TipSurfaceOptions tip_surface_options(const Allowance& allowance);

}  // namespace yardpass
