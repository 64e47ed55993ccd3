// Kinks of the tip surface of a round-ended cutter that bend upwards: between two touches, and closed in.
#pragma once

#include <atomic>
#include <optional>

#include "yardpass/contact/tip_surface.h"

namespace yardpass::detail {

/// A touch at a place of the tip.
struct Sounding {
  Vec2 place{0, 0};
  double height = 0;
  Vec3 normal{0, 0, 1};
  std::int32_t triangle = -1;
  bool touched = false;
};

/// A place of a valley: the normals of both of its sides.
struct ValleyPoint {
  Vec2 place{0, 0};
  double height = 0;
  Vec3 one{0, 0, 1}, other{0, 0, 1};
  double left_mm = 0;  ///< by the cutter there

  /// Seen from above, unit length or 0; either way round.
  [[nodiscard]] Vec2 direction() const;
  /// How steeply the valley itself rises in a direction, as an angle.
  [[nodiscard]] double rise_angle(const Vec2& way) const;
};

/// Whether one valley may run from a place to another: the chord is no steeper than the valley at its ends.
/// Over an upright wall it does not.
[[nodiscard]] bool goes_on(const ValleyPoint& from, const ValleyPoint& to);

/// Any number of threads may ask.
class KinkFinder {
 public:
  /// `left_mm`: see ValleyOptions.
  KinkFinder(const TipSurface& surface, double left_mm);

  [[nodiscard]] Sounding sound(const Vec2& place, std::int32_t near = -1) const;
  /// How much the surface bends upwards between two soundings, at least at one of them [rad]; below 0: none.
  [[nodiscard]] static double kink(const Sounding& a, const Sounding& b);
  /// Whether it may be worth closing in.
  [[nodiscard]] bool promises(const Sounding& a, const Sounding& b) const {
    return kink(a, b) > kPromise * least_angle_;
  }
  /// The valley between two soundings, if there is one in which enough is left.
  [[nodiscard]] std::optional<ValleyPoint> close_in(Sounding a, Sounding b) const;
  /// The same across a line through a place.
  [[nodiscard]] std::optional<ValleyPoint> across(const Vec2& place, const Vec2& along, double reach) const;

  [[nodiscard]] std::int64_t touches() const { return touches_; }

 private:
  static constexpr double kPromise = 0.35;
  [[nodiscard]] std::optional<ValleyPoint> between(const Sounding& a, const Sounding& b) const;

  const TipSurface& surface_;
  double round_, radius_;  // of the cutter, and with the allowance
  double left_, least_angle_;
  mutable std::atomic<std::int64_t> touches_ = 0;
};

}  // namespace yardpass::detail
