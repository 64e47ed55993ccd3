// Numbers and colours for the regions of a picture.
#pragma once

#include <optional>
#include <utility>
#include <vector>

#include "report/canvas.h"
#include "yardpass/part/regions.h"

namespace yardpass::detail {

/// A colour number below `count` for each region, those with few neighbours last: one that no neighbour
/// has, if possible none of their neighbours either, and of those the one with the least area so
/// far.
std::vector<std::size_t> neighbour_colours(const RegionMap& map, std::size_t count);

/// Where in a region's picture there is most room.
struct Anchor {
  Vec2 at{0, 0};     ///< on the page
  double room = -1;  ///< pixels to the region's border; below 0: not to be seen
};

/// Finds places for labels so that none lies on another.
class LabelPlaces {
 public:
  static constexpr double kHeight = 16;
  void keep_free(const std::vector<Frame>& frames) {
    taken_.insert(taken_.end(), frames.begin(), frames.end());
  }
  /// Inside the region, around its anchor; false if it does not fit there.
  bool inside(const Anchor& anchor, double width);
  /// Beside it, to be joined to it by a line that crosses no earlier one; nothing if there is no room near
  /// it.
  std::optional<Frame> beside(const Anchor& anchor, double width, const Frame& within);
  [[nodiscard]] const std::vector<Frame>& taken() const { return taken_; }

 private:
  [[nodiscard]] bool is_free(const Frame& frame) const;
  [[nodiscard]] bool crosses_a_line(const Vec2& a, const Vec2& b) const;
  std::vector<Frame> taken_;
  std::vector<std::pair<Vec2, Vec2>> lines_;
};

}  // namespace yardpass::detail
