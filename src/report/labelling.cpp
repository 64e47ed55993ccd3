#include "report/labelling.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

namespace yardpass::detail {

namespace {

Frame frame_at(const Vec2& at, double width) {
  return {at.x() - width / 2, at.y() - LabelPlaces::kHeight / 2, width, LabelPlaces::kHeight};
}

/// Smallest last (Matula, Beck: Smallest-last ordering and clustering and graph coloring algorithms, 1983):
/// each region has few neighbours before it, five at most where the part can be laid out flat.
std::vector<std::size_t> smallest_last(const RegionMap& map) {
  const std::size_t regions = map.regions.size();
  std::vector<std::size_t> around(regions), order;
  std::set<std::pair<std::size_t, std::size_t>> next;  // neighbours not yet taken, region
  for (std::size_t i = 0; i < regions; ++i) next.emplace(around[i] = map.regions[i].neighbours.size(), i);
  std::vector<bool> taken(regions, false);
  while (!next.empty()) {
    const std::size_t i = next.begin()->second;
    next.erase(next.begin());
    taken[i] = true;
    order.push_back(i);
    for (const auto other : map.regions[i].neighbours) {
      const auto k = static_cast<std::size_t>(other - 1);
      if (taken[k]) continue;
      next.erase({around[k], k});
      next.emplace(--around[k], k);
    }
  }
  std::reverse(order.begin(), order.end());
  return order;
}

}  // namespace

std::vector<std::size_t> neighbour_colours(const RegionMap& map, std::size_t count) {
  const std::size_t regions = map.regions.size();
  const std::vector<std::size_t> order = smallest_last(map);
  std::vector<std::size_t> colour(regions, count);
  std::vector<double> used(count, 0.0);  // area
  for (const std::size_t i : order) {
    std::vector<int> around(count, 0);
    const auto count_at = [&](std::int32_t number, int weight) {
      if (const std::size_t c = colour[static_cast<std::size_t>(number - 1)]; c < count) around[c] += weight;
    };
    for (const auto other : map.regions[i].neighbours) {
      count_at(other, 1000);
      if (map[other].neighbours.size() < 40)
        for (const auto next : map[other].neighbours) count_at(next, 1);
    }
    std::size_t best = 0;
    for (std::size_t c = 1; c < count; ++c)
      if (std::pair(around[c], used[c]) < std::pair(around[best], used[best])) best = c;
    colour[i] = best;
    used[best] += map.regions[i].area_mm2;
  }
  return colour;
}

bool LabelPlaces::is_free(const Frame& f) const {
  return std::none_of(taken_.begin(), taken_.end(), [&](const Frame& o) {
    return f.left < o.left + o.width + 2 && o.left < f.left + f.width + 2 && f.top < o.top + o.height + 2 &&
           o.top < f.top + f.height + 2;
  });
}

bool LabelPlaces::crosses_a_line(const Vec2& a, const Vec2& b) const {
  const auto side = [](const Vec2& p, const Vec2& q, const Vec2& r) { return cross2(q - p, r - p) > 0; };
  return std::any_of(lines_.begin(), lines_.end(), [&](const auto& line) {
    return side(a, b, line.first) != side(a, b, line.second) &&
           side(line.first, line.second, a) != side(line.first, line.second, b);
  });
}

bool LabelPlaces::inside(const Anchor& anchor, double width) {
  const Frame frame = frame_at(anchor.at, width);
  if (anchor.room < 0.5 * std::hypot(frame.width, frame.height) - 1 || !is_free(frame)) return false;
  taken_.push_back(frame);
  return true;
}

std::optional<Frame> LabelPlaces::beside(const Anchor& anchor, double width, const Frame& within) {
  for (double distance = 34; distance < 180; distance += 12)
    for (int k = 0; k < 16; ++k) {
      const double angle = std::numbers::pi / 8 * k + 0.3;
      const Vec2 at = anchor.at + distance * Vec2(std::cos(angle), std::sin(angle));
      const Frame frame = frame_at(at, width);
      const bool fits = frame.left > within.left && frame.top > within.top &&
                        frame.left + frame.width < within.left + within.width &&
                        frame.top + frame.height < within.top + within.height;
      if (!fits || !is_free(frame) || crosses_a_line(anchor.at, at)) continue;
      taken_.push_back(frame);
      lines_.emplace_back(anchor.at, at);
      return frame;
    }
  return std::nullopt;
}

}  // namespace yardpass::detail
