// From place to place along a wall.
#pragma once

#include <optional>

#include "plan/contour/tube.h"
#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

/// On the wall of the tube's middle.
struct WallPlace {
  Vec3 tip;
  Vec2 out{0, 0};  // unit, in plan, away from the material
  std::int32_t triangle = -1;
};

class WallWalk {
 public:
  /// `material_left`: as it walks; else on the right.
  WallWalk(const Tube& tube, double longest_step, bool material_left = false)
      : tube_(tube),
        hand_(material_left ? -1 : 1),
        radius_(std::max(0.5, tube.low.cutter().radius())),
        longest_(longest_step),
        step_(std::min({1.0, longest_step, std::sqrt(4 * radius_ * tube.tolerance)})) {}

  /// Where the tip, going level from a free place towards a blocked one, meets the wall.
  [[nodiscard]] std::optional<WallPlace> meet(const Vec2& free, const Vec2& blocked, double z) const;

  struct Step {
    std::optional<Vec3> corner;  // passed on the way
    WallPlace end;
  };
  /// The next place. `fall`: how much deeper it is, a millimetre of the way, but never below `lowest`.
  /// Nothing if there is none. Learns the length of its steps on the way.
  [[nodiscard]] std::optional<Step> next(const WallPlace& from, double fall, double lowest);

 private:
  [[nodiscard]] std::optional<WallPlace> settle(const Vec2& guess, const Vec2& out, double reach, double z,
                                                std::int32_t near) const;
  [[nodiscard]] std::optional<WallPlace> found_at(const Vec2& place, const Vec2& inwards, double z,
                                                  std::int32_t near) const;
  /// The corner that bars the way: where the walls' tangents meet.
  [[nodiscard]] std::optional<WallPlace> barred(const WallPlace& from, double fall, double lowest) const;
  [[nodiscard]] std::optional<Vec3> corner_between(const WallPlace& from, const WallPlace& to, double fall,
                                                   double lowest) const;

  [[nodiscard]] Vec2 along(const Vec2& out) const { return hand_ * Vec2(out.y(), -out.x()); }

  const Tube& tube_;
  double hand_, radius_, longest_;
  double step_, bend_ = 0;  // length of the next one; turn of the wall for a millimetre
  int turns_on_the_spot_ = 0;
};

}  // namespace yardpass::detail
