#include "triangulate.h"

#include <algorithm>
#include <stdexcept>

namespace yardpass::demo {

namespace {

double turn(const Vec2& a, const Vec2& b, const Vec2& c) { return cross2(b - a, c - a); }

bool crosses(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
  if (a == c || a == d || b == c || b == d) return false;
  return (turn(a, b, c) > 0) != (turn(a, b, d) > 0) && (turn(c, d, a) > 0) != (turn(c, d, b) > 0);
}

class EarCutter {
 public:
  explicit EarCutter(std::vector<Vec2> corners) : corners_(std::move(corners)) {}

  void bridge(std::vector<int> ring, const std::vector<std::vector<int>>& others) {
    // From the hole's rightmost corner to the nearest corner of the ring that it sees.
    const auto right =
        std::max_element(ring.begin(), ring.end(), [&](int a, int b) { return at(a).x() < at(b).x(); });
    std::rotate(ring.begin(), right, ring.end());
    const Vec2 from = at(ring[0]);
    std::size_t best = ring_.size();
    for (std::size_t i = 0; i < ring_.size(); ++i) {
      const Vec2 to = at(ring_[i]);
      if (best < ring_.size() && (to - from).norm() >= (at(ring_[best]) - from).norm()) continue;
      bool seen = !blocked(from, to, ring_) && !blocked(from, to, ring);
      for (const auto& other : others) seen = seen && !blocked(from, to, other);
      if (seen) best = i;
    }
    if (best == ring_.size()) throw std::logic_error("triangulate: a hole sees no corner");
    std::vector<int> with_bridge(ring_.begin(), ring_.begin() + static_cast<std::ptrdiff_t>(best) + 1);
    with_bridge.insert(with_bridge.end(), ring.begin(), ring.end());
    with_bridge.push_back(ring[0]);
    with_bridge.insert(with_bridge.end(), ring_.begin() + static_cast<std::ptrdiff_t>(best), ring_.end());
    ring_ = std::move(with_bridge);
  }

  std::vector<std::array<int, 3>> run() {
    std::vector<std::array<int, 3>> result;
    std::size_t i = 0, misses = 0;
    while (ring_.size() > 3) {
      const std::size_t n = ring_.size();
      const int a = ring_[(i + n - 1) % n], b = ring_[i % n], c = ring_[(i + 1) % n];
      if (is_ear(a, b, c)) {
        result.push_back({a, b, c});
        ring_.erase(ring_.begin() + static_cast<std::ptrdiff_t>(i % n));
        misses = 0;
        i = (i % n) + 1;  // skip one, or long fans of needles come out
      } else {
        ++i;
        if (++misses > n) throw std::logic_error("triangulate: no ear left");
      }
      i %= ring_.size();
    }
    result.push_back({ring_[0], ring_[1], ring_[2]});
    return result;
  }

  std::vector<int> ring_;

 private:
  [[nodiscard]] const Vec2& at(int i) const { return corners_[static_cast<std::size_t>(i)]; }

  [[nodiscard]] bool blocked(const Vec2& a, const Vec2& b, const std::vector<int>& ring) const {
    for (std::size_t i = 0; i < ring.size(); ++i)
      if (crosses(a, b, at(ring[i]), at(ring[(i + 1) % ring.size()]))) return true;
    return false;
  }

  [[nodiscard]] bool is_ear(int a, int b, int c) const {
    if (turn(at(a), at(b), at(c)) <= 1e-12) return false;
    for (const int i : ring_) {
      const Vec2& p = at(i);
      if (p == at(a) || p == at(b) || p == at(c)) continue;
      if (turn(at(a), at(b), p) >= 0 && turn(at(b), at(c), p) >= 0 && turn(at(c), at(a), p) >= 0)
        return false;
    }
    return true;
  }

  std::vector<Vec2> corners_;
};

}  // namespace

std::vector<std::array<int, 3>> triangulate(const Polyline2& outer, const std::vector<Polyline2>& holes) {
  std::vector<Vec2> corners(outer.begin(), outer.end());
  std::vector<std::vector<int>> rings;
  for (const Polyline2& hole : holes) {
    rings.emplace_back();
    for (const Vec2& p : hole) {
      rings.back().push_back(static_cast<int>(corners.size()));
      corners.push_back(p);
    }
  }
  EarCutter cutter(corners);
  for (int i = 0; i < static_cast<int>(outer.size()); ++i) cutter.ring_.push_back(i);
  std::sort(rings.begin(), rings.end(), [&](const std::vector<int>& a, const std::vector<int>& b) {
    const auto right = [&](const std::vector<int>& ring) {
      double x = -1e300;
      for (const int i : ring) x = std::max(x, corners[static_cast<std::size_t>(i)].x());
      return x;
    };
    return right(a) > right(b);
  });
  for (std::size_t i = 0; i < rings.size(); ++i)
    cutter.bridge(rings[i], {rings.begin() + static_cast<std::ptrdiff_t>(i) + 1, rings.end()});
  return cutter.run();
}

}  // namespace yardpass::demo
