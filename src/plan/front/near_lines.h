// Quick answers to how far a place is from many short pieces of lines in space.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <unordered_map>
#include <vector>

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

class NearLines {
 public:
  /// `reach`: distances up to there can be asked for.
  explicit NearLines(double reach) : side_(reach) {}

  void add(const Vec3& a, const Vec3& b) {
    // The box of a long slanted piece would hold many cells that it does not come near.
    const int parts = std::max(1, static_cast<int>(std::ceil((b - a).norm() / (2 * side_))));
    for (int k = 0; k < parts; ++k)
      add_short(a + (b - a) * (1.0 * k / parts), a + (b - a) * ((k + 1.0) / parts));
  }
  /// Whether a piece lies within a distance, up to the reach.
  [[nodiscard]] bool near(const Vec3& p, double distance) const {
    const auto [x, y, z] = cell(p);
    for (std::int64_t i = x - 1; i <= x + 1; ++i)
      for (std::int64_t j = y - 1; j <= y + 1; ++j)
        for (std::int64_t k = z - 1; k <= z + 1; ++k) {
          const auto found = cells_.find(key(i, j, k));
          if (found == cells_.end()) continue;
          for (const std::uint32_t id : found->second)
            if (distance_to_segment(p, pieces_[id][0], pieces_[id][1]) <= distance) return true;
        }
    return false;
  }

 private:
  void add_short(const Vec3& a, const Vec3& b) {
    const auto low = cell(a.cwiseMin(b)), high = cell(a.cwiseMax(b));
    const auto id = static_cast<std::uint32_t>(pieces_.size());
    pieces_.push_back({a, b});
    for (std::int64_t x = low[0]; x <= high[0]; ++x)
      for (std::int64_t y = low[1]; y <= high[1]; ++y)
        for (std::int64_t z = low[2]; z <= high[2]; ++z) cells_[key(x, y, z)].push_back(id);
  }
  [[nodiscard]] std::array<std::int64_t, 3> cell(const Vec3& p) const {
    const auto index = [&](double v) { return static_cast<std::int64_t>(std::floor(v / side_)); };
    return {index(p.x()), index(p.y()), index(p.z())};
  }
  static std::int64_t key(std::int64_t x, std::int64_t y, std::int64_t z) {
    constexpr std::int64_t kMask = (1 << 21) - 1;
    return ((x & kMask) << 42) | ((y & kMask) << 21) | (z & kMask);
  }
  double side_;
  std::vector<std::array<Vec3, 2>> pieces_;
  std::unordered_map<std::int64_t, std::vector<std::uint32_t>> cells_;
};

}  // namespace yardpass::detail
