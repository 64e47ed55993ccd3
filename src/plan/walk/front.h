// What the tool meets on a level, and what it has cleared.
#pragma once

#include <array>

#include "yardpass/plan/bounded_walk.h"

namespace yardpass::detail {

/// The distance field of the material, lowered as the tool goes. Source of the idea of a field instead of
/// polygons: S. Osher and J. Sethian, "Fronts propagating with curvature-dependent speed", 1988.
class Front {
 public:
  Front(LevelRaster raster, double radius);

  /// How much of the leading half of the cutter's circle lies in material, for a tool at p on a unit heading
  /// [radians]. Skins thinner than a tenth of a cell are not seen.
  [[nodiscard]] double engaged(const Vec2& p, const Vec2& heading) const;
  /// The axis must not be here.
  [[nodiscard]] bool blocked(const Vec2& p) const;
  /// Nothing stands under the tool that is to be cut, or, asked for all, nothing at all; but for skins.
  [[nodiscard]] bool cleared(const Vec2& p, bool of_all) const;
  [[nodiscard]] bool clear_line(const Vec2& a, const Vec2& b) const;

  /// The tool has gone from a to b; all under it is cleared if `whole`, else only near the leading half of
  /// its rim, which is enough where it came to a in the same way. Returns how much it took away.
  struct Taken {
    double all_mm2 = 0, wanted_mm2 = 0;
  };
  Taken clear(const Vec2& a, const Vec2& b, bool whole);
  /// A pass begins here: what stands under the tool goes.
  void clear_at(const Vec2& p) { clear(p, p, true); }

  [[nodiscard]] bool uncleared(std::size_t cell) const {
    return raster_.wanted[cell] && raster_.material[cell] > uncleared_above_;
  }
  [[nodiscard]] const LevelRaster& raster() const { return raster_; }
  [[nodiscard]] LevelRaster& raster() { return raster_; }
  [[nodiscard]] double radius() const { return radius_; }

 private:
  [[nodiscard]] float sample(const std::vector<float>& field, double x, double y) const;

  static constexpr int kArcs = 60;  // of the half circle
  LevelRaster raster_;
  double radius_, cells_;  // cells_: the radius, in cells
  float seen_above_, uncleared_above_;
  std::array<double, kArcs + 1> cosines_{}, sines_{};  // times the radius in cells
};

}  // namespace yardpass::detail
