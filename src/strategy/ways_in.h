// How a tool gets to the cuts of one area of a level.
#pragma once

#include <optional>
#include <vector>

#include "strategy/level_room.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/site.h"
#include "yardpass/strategy/roughing.h"

namespace yardpass::detail {

/// A line of a level that is to be cut: closed unless said otherwise; the first point is not repeated.
struct LevelLine {
  Polyline2 points;
  bool closed = true;
  bool either_end = false;  ///< of an open one: may be cut from its end back
  bool first = false;       ///< innermost in its area, or a line across it: a way down may lead to it
  Region within = {};       ///< of a closed one: where a helix may have its axis
  double depth_mm = 0;      ///< how far `within` lies inside the area at least
  double reach_mm = 0;      ///< it may be entered from ground that is cut and at most so far away
};

enum class WayKind : std::uint8_t { from_cut, from_air, drilled, helix, ramp, plunge };

/// A way to a line: from a place where nothing stands at the level, or down.
struct WayIn {
  WayKind kind;
  Vec2 from{0, 0}, to{0, 0};  ///< `to`: on the line
  Helix helix = {};
};

/// Knows which places are open, and which ground is cut already. All ways it gives are proven free of the
/// part at the level.
class WaysIn {
 public:
  /// `free`: where the tool can stand at the level, `piece`: the part of it that is to be cut.
  WaysIn(const Site& site, const RoughingOptions& options, const Region& free, const Region& piece, double z);

  [[nodiscard]] bool open() const { return !open_.empty(); }
  /// Of the outline's length, what lies where the tool stands in air, or just beside the stock.
  [[nodiscard]] double open_share() const { return open_share_; }

  /// From what is cut already, best from where the last line ended.
  [[nodiscard]] std::optional<WayIn> from_cut(const LevelLine& line) const;
  /// Straight from a place in air.
  [[nodiscard]] std::optional<WayIn> from_air(const LevelLine& line) const;
  /// A helix, else a ramp along the line, or a plunge if that is asked for; nothing where none fits.
  [[nodiscard]] std::optional<WayIn> down(const LevelLine& line) const;

  [[nodiscard]] const LevelRoom& room() const { return room_; }
  [[nodiscard]] bool is_free(const Vec2& a, const Vec2& b) const { return room_.is_free(a, b); }

  /// From now on the line is cut.
  void is_cut(const LevelLine& line, const Vec2& end);

 private:
  struct OpenPlace {
    Vec2 from, to;  // `to`: on the outline of the area
    bool drilled;
  };
  void find_open(const Region& piece);
  [[nodiscard]] bool in_air(const Vec2& p) const;
  [[nodiscard]] std::optional<WayIn> helix(const LevelLine& line) const;
  [[nodiscard]] std::optional<Vec2> helix_place(const LevelLine& line) const;

  const Site& site_;
  const RoughingOptions& options_;
  const Region& free_;
  double z_;
  LevelRoom room_;
  Resized wider_;           // material between cell centres may stand nearer
  bool all_stands_ = true;  // nowhere the stock is lower than the level
  std::vector<OpenPlace> open_;
  double open_share_ = 0;
  std::vector<LevelLine> cut_;
  std::optional<Vec2> at_;  // where the last line ended
};

}  // namespace yardpass::detail
