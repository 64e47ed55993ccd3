#include "geom/bands.h"

#include <algorithm>
#include <cmath>

namespace yardpass::detail {

Bands::Bands(const Region& region) {
  std::vector<SideOfLoop> all;
  for (const Polyline2& loop : region.loops)
    for (std::size_t i = 0, j = loop.size() - 1; i < loop.size(); j = i++) all.push_back({loop[i], loop[j]});
  if (all.empty()) return;
  const Box2 box = region.box();
  const std::size_t count = std::clamp<std::size_t>(all.size() / 2, 1, 4096);
  low_ = box.min().y();
  const double height = box.max().y() - low_;
  per_mm_ = height > 0 ? static_cast<double>(count) / height : 0;
  starts_.assign(count + 2, 0);
  const auto bands = [&](const SideOfLoop& side) {
    return std::pair(band_of(std::min(side.a.y(), side.b.y())), band_of(std::max(side.a.y(), side.b.y())));
  };
  for (const SideOfLoop& side : all)
    for (auto [band, last] = bands(side); band <= last; ++band) ++starts_[band + 1];
  for (std::size_t k = 1; k < starts_.size(); ++k) starts_[k] += starts_[k - 1];
  sides_.resize(starts_.back());
  std::vector<std::size_t> next = starts_;
  for (const SideOfLoop& side : all)
    for (auto [band, last] = bands(side); band <= last; ++band) sides_[next[band]++] = side;
}

std::size_t Bands::band_of(double y) const {
  const auto last = static_cast<double>(starts_.size() - 2);
  return static_cast<std::size_t>(std::clamp(std::floor((y - low_) * per_mm_), 0.0, last));
}

bool Bands::contains(const Vec2& p) const {
  if (starts_.empty()) return false;
  bool odd = false;
  const std::size_t band = band_of(p.y());
  for (std::size_t i = starts_[band]; i < starts_[band + 1]; ++i) {
    const auto& [a, b] = sides_[i];
    if ((a.y() > p.y()) == (b.y() > p.y())) continue;
    if (p.x() < a.x() + (p.y() - a.y()) / (b.y() - a.y()) * (b.x() - a.x())) odd = !odd;
  }
  return odd;
}

void Bands::crossings(const Vec2& a, const Vec2& b, std::vector<double>& shares) const {
  shares.assign({0.0, 1.0});
  const Vec2 along = b - a;
  const auto side_of = [&](const Vec2& p) {
    return along.x() * (p.y() - a.y()) - along.y() * (p.x() - a.x());
  };
  const std::size_t last = band_of(std::max(a.y(), b.y()));
  for (std::size_t band = band_of(std::min(a.y(), b.y())); band <= last; ++band)
    for (std::size_t i = starts_[band]; i < starts_[band + 1]; ++i) {
      const SideOfLoop& side = sides_[i];
      const double si = side_of(side.a), sj = side_of(side.b);
      if ((si > 0) == (sj > 0)) continue;
      const Vec2 p = side.b + (side.a - side.b) * (sj / (sj - si));
      const double t = (p - a).dot(along) / along.squaredNorm();
      if (t > 0 && t < 1) shares.push_back(t);
    }
  std::sort(shares.begin(), shares.end());
  // A side in several bands is met more than once.
  shares.erase(std::unique(shares.begin(), shares.end()), shares.end());
}

std::vector<Polyline2> Bands::inside(const Polyline2& line) const {
  std::vector<Polyline2> pieces;
  if (starts_.empty()) return pieces;
  std::vector<double> shares;
  bool within = false;
  for (std::size_t i = 1; i < line.size(); ++i) {
    const Vec2 &a = line[i - 1], &b = line[i];
    if (a == b) continue;
    crossings(a, b, shares);
    for (std::size_t k = 1; k < shares.size(); ++k) {
      const auto at = [&](double share) { return share >= 1 ? b : Vec2(a + share * (b - a)); };
      if (!contains(at(0.5 * (shares[k - 1] + shares[k])))) {
        within = false;
        continue;
      }
      if (!within) pieces.push_back({at(shares[k - 1])});
      pieces.back().push_back(at(shares[k]));
      within = true;
    }
  }
  return pieces;
}

std::vector<Polyline2> Bands::inside_loop(const Polyline2& loop) const {
  if (loop.empty()) return {};
  Polyline2 whole = loop;
  whole.push_back(loop.front());
  std::vector<Polyline2> pieces = inside(whole);
  if (pieces.size() > 1 && pieces.back().back() == whole.front() && pieces.front().front() == whole.front()) {
    pieces.back().insert(pieces.back().end(), pieces.front().begin() + 1, pieces.front().end());
    pieces.erase(pieces.begin());
  }
  return pieces;
}

}  // namespace yardpass::detail
