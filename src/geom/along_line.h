// A line by the way along it.
#pragma once

#include <algorithm>
#include <limits>
#include <vector>

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

class AlongLine {
 public:
  AlongLine() = default;
  /// A closed one runs back to its first point, which is not repeated.
  AlongLine(Polyline2 points, bool closed) : points_(std::move(points)) {
    if (closed && !points_.empty()) points_.push_back(points_.front());
    ways_.assign(points_.size(), 0);
    for (std::size_t i = 1; i < points_.size(); ++i)
      ways_[i] = ways_[i - 1] + (points_[i] - points_[i - 1]).norm();
  }
  [[nodiscard]] double length() const { return ways_.empty() ? 0 : ways_.back(); }
  [[nodiscard]] const Polyline2& points() const { return points_; }
  [[nodiscard]] const std::vector<double>& ways() const { return ways_; }
  [[nodiscard]] Vec2 at(double way) const {
    const auto [i, share] = on(way);
    return points_[i] + share * (points_[i + 1] - points_[i]);
  }
  /// The piece that a way lies on, and how far along it.
  struct On {
    std::size_t piece;
    double share;
  };
  [[nodiscard]] On on(double way) const {
    const std::size_t i = piece(way);
    const double size = ways_[i + 1] - ways_[i];
    return {i, size > 0 ? std::clamp((way - ways_[i]) / size, 0.0, 1.0) : 0};
  }
  [[nodiscard]] double nearest(const Vec2& place) const {
    const std::vector<double> all = all_nearest(place, 0);
    return all.empty() ? 0 : all.front();
  }
  /// The ways of all places that are as near as the nearest, in their order.
  [[nodiscard]] std::vector<double> all_nearest(const Vec2& place, double as_near) const {
    std::vector<std::pair<double, double>> found;  // distance, way
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i + 1 < points_.size(); ++i) {
      const Vec2 along = points_[i + 1] - points_[i];
      const double square = along.squaredNorm();
      const double share = square > 0 ? std::clamp((place - points_[i]).dot(along) / square, 0.0, 1.0) : 0.0;
      const double far = (points_[i] + share * along - place).norm();
      if (far > least + as_near) continue;
      least = std::min(least, far);
      found.emplace_back(far, ways_[i] + share * (ways_[i + 1] - ways_[i]));
    }
    std::vector<double> result;
    for (const auto& [far, way] : found)
      if (far <= least + as_near) result.push_back(way);
    return result;
  }
  /// From one way to another, both ends and all points between them.
  [[nodiscard]] Polyline2 between(double from, double to) const {
    Polyline2 part{at(from)};
    for (std::size_t i = 0; i < ways_.size(); ++i)
      if (ways_[i] > from + kSame && ways_[i] < to - kSame) part.push_back(points_[i]);
    part.push_back(at(to));
    return part;
  }

 private:
  static constexpr double kSame = 1e-9;
  [[nodiscard]] std::size_t piece(double way) const {
    const auto above = std::upper_bound(ways_.begin(), ways_.end(), way);
    const auto i = static_cast<std::size_t>(above - ways_.begin());
    return std::clamp<std::size_t>(i, 1, ways_.size() - 1) - 1;
  }
  Polyline2 points_;
  std::vector<double> ways_;
};

}  // namespace yardpass::detail
