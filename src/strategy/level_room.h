// Where the tool is proven free at a level.
#pragma once

#include <optional>
#include <vector>

#include "yardpass/plan/site.h"

namespace yardpass::detail {

/// Holds a reference to the site.
class LevelRoom {
 public:
  LevelRoom(const Site& site, double z) : site_(site), z_(z) {}

  /// Free of the part at the level, all along.
  [[nodiscard]] bool is_free(const Vec2& a, const Vec2& b) const;
  [[nodiscard]] bool is_free(const Polyline2& line) const;
  /// The centre of a free circle of this radius at a place or very near to it.
  [[nodiscard]] std::optional<Vec2> helix_fits(Vec2 centre, double radius) const;
  /// A line at the level, in one piece unless it had to be lifted.
  [[nodiscard]] std::vector<Polyline3> at_level(const Polyline2& curve) const;

 private:
  const Site& site_;
  double z_;
};

}  // namespace yardpass::detail
