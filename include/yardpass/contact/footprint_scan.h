/// The plain way to a touch, as reference for tests and benchmarks.
#pragma once

#include <vector>

#include "yardpass/contact/tip_surface.h"

namespace yardpass {

/// Looks at every triangle whose rectangle in plan meets the square around the cutter, from lists on a plan
/// grid, one after the other; a triangle is passed over only if even its highest corner could not raise the
/// result. No tree, no SIMD, one thread. Gives the same bits as TipSurface.
class FootprintScan {
 public:
  explicit FootprintScan(TipSurface surface);
  [[nodiscard]] double height(const Vec2& xy) const;
  [[nodiscard]] double clearance(const Vec3& a, const Vec3& b) const;  ///< only the room

 private:
  template <typename Visit>
  void under(const Vec2& low, const Vec2& high, const Visit& visit) const;
  TipSurface surface_;
  double cell_;
  int columns_, rows_;
  std::vector<std::vector<std::int32_t>> lists_;  // of triangles, by the lower corner of their rectangles
  std::vector<double> tops_;                      // of triangles
  double widest_;                                 // side of the largest rectangle
};

}  // namespace yardpass
