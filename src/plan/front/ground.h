// Points of a front: places on the tip surface with all that advancing from them asks for.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include "yardpass/contact/slope.h"
#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/polyline.h"
#include "yardpass/geom/region.h"

namespace yardpass::detail {

struct FrontPoint {
  Vec3 tip{0, 0, 0}, normal{0, 0, 1};  // of the tip surface
  Vec3 contact{0, 0, 0};
  std::int32_t triangle = -1;
  bool touched = false, live = false;  // live: it advances
  bool ended = false;                  // it cannot: what lies ahead is the border of what is touched
  std::int32_t pass = -1;              // that it lies on, or comes from
};

using FrontLoop = std::vector<FrontPoint>;

/// What it took.
struct FrontCounts {
  std::int64_t touches = 0, rays = 0, bisected = 0, jumps = 0;
  double highest_jump = 0;  // mm
  Vec3 jump_at{0, 0, 0};
  void add(const FrontCounts& more) {
    touches += more.touches, rays += more.rays, bisected += more.bisected, jumps += more.jumps;
    jumped(more.highest_jump, more.jump_at);
  }
  void jumped(double height, const Vec3& at) {
    if (height > highest_jump) highest_jump = height, jump_at = at;
  }
};

/// The tip surface; where it has nothing below, level ground if that is wanted.
class Ground {
 public:
  Ground(const TipSurface& surface, std::optional<double> beside_z) : surface_(surface), beside_(beside_z) {}
  [[nodiscard]] FrontPoint at(const Vec2& place, std::int32_t near_triangle = -1) const;
  [[nodiscard]] const TipSurface& surface() const { return surface_; }

 private:
  const TipSurface& surface_;
  std::optional<double> beside_;
};

/// A rectangle around all parts there may be, for what counts from outside.
[[nodiscard]] Polyline2 far_box();

/// Whole steps of kRegionStep, as planar operations give them back.
[[nodiscard]] Vec2 on_lattice(const Vec2& p);

[[nodiscard]] Polyline2 in_plan(const FrontLoop& loop);
/// What of the points is worth keeping in a line that is cut: none that is dropped lies farther from it than
/// 0.008 of the stepover, in space and across steep ground. Both ends stay.
[[nodiscard]] FrontLoop worth_keeping(const FrontLoop& points, bool closed, double stepover);
/// The diagonal of its box in space.
[[nodiscard]] double extent(const FrontLoop& loop);
/// Fewer points, within 0.004 of the stepover in space and half of that across steep ground in plan.
void thin(FrontLoop& loop, bool closed, double stepover);

}  // namespace yardpass::detail
