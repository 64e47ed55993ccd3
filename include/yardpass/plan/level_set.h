/// Where a cutter can stand at a given height.
#pragma once

#include "yardpass/contact/tip_surface.h"
#include "yardpass/geom/region.h"

namespace yardpass {

/// Heights of a tip surface on a square grid over a box, from which the areas below any level are drawn.
/// Immutable after construction, which runs on all cores.
class LevelGrid {
 public:
  LevelGrid(const TipSurface& surface, const Box2& box, double spacing_mm, const Progress& progress = {});

  /// The places within the box where the tip surface is at or below z. The outline is exact (within 1e-5 mm)
  /// where it crosses grid lines and straight between; narrow gaps that no grid node meets are left out, and
  /// a peak of the surface that fits between nodes is not seen, so moves along the area still need proof.
  [[nodiscard]] Region at_or_below(double z) const;

  /// Lowest touch on the grid inside the area; kNothingBelow if there is none.
  [[nodiscard]] double lowest(const Region& area) const;

 private:
  [[nodiscard]] Vec2 node(int i, int j) const { return origin_ + spacing_ * Vec2(i, j); }
  [[nodiscard]] double at(int i, int j) const {
    return heights_[static_cast<std::size_t>(j) * static_cast<std::size_t>(columns_) +
                    static_cast<std::size_t>(i)];
  }
  [[nodiscard]] bool is_free(int i, int j, double z) const;

  TipSurface surface_;
  Vec2 origin_;
  double spacing_;
  int columns_, rows_;
  std::vector<double> heights_;
};

}  // namespace yardpass
