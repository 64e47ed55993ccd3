/// Lines in plan with a depth at each of their places: of what is cut into a surface on purpose.
#pragma once

#include <cstdint>
#include <optional>
#include <unordered_map>
#include <vector>

#include "yardpass/geom/polyline.h"

namespace yardpass {

/// Straight down below a surface [mm]; negative: above it.
struct DepthLine {
  Polyline2 points;              ///< of a closed line the first is not repeated
  std::vector<double> depth_mm;  ///< at each point, linear in between; REQUIRES: one a point
  bool closed = false;

  [[nodiscard]] std::size_t pieces() const;
  [[nodiscard]] double greatest_mm() const;  ///< 0 without points
};

/// Quick answers about many lines. Immutable, so any number of threads may ask.
class DepthLines {
 public:
  DepthLines() = default;
  /// `within_mm`: how near a place must be to count as on a line; REQUIRES: above 0.
  DepthLines(std::vector<DepthLine> lines, double within_mm);

  /// The greatest depth of all pieces that the place is on; nothing if it is on none.
  [[nodiscard]] std::optional<double> greatest(const Vec2& place) const;
  /// How far the nearest of them is; nothing if the place is on none.
  [[nodiscard]] std::optional<double> nearest_mm(const Vec2& place) const;
  [[nodiscard]] bool empty() const { return lines_.empty(); }
  /// All of them are equally deep everywhere.
  [[nodiscard]] bool even() const { return even_; }
  [[nodiscard]] double within_mm() const { return within_; }

 private:
  struct Piece {
    std::uint32_t line, piece;
  };
  template <typename See>
  void each_near(const Vec2& place, const See& see) const;

  std::vector<DepthLine> lines_;
  double within_ = 0, side_ = 1;
  bool even_ = true;
  std::unordered_map<std::int64_t, std::vector<Piece>> cells_;
};

}  // namespace yardpass
