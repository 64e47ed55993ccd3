#include "plan/walk/nodes.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <queue>

#include "plan/distance_map.h"

namespace yardpass::detail {

namespace {
constexpr int kColumn[] = {1, 1, 0, -1, -1, -1, 0, 1}, kRow[] = {0, 1, 1, 1, 0, -1, -1, -1};
constexpr double kDiagonal = 1.41421356;
}  // namespace

Nodes::Nodes(const Front& front, double spacing) : front_(front), spacing_(spacing) {
  const LevelRaster& raster = front.raster();
  const Vec2 size = raster.cell_mm * Vec2(raster.columns - 1, raster.rows - 1);
  // Centred, as the raster is.
  columns_ = std::max(1, static_cast<int>(size.x() / spacing));
  rows_ = std::max(1, static_cast<int>(size.y() / spacing));
  origin_ = raster.origin + 0.5 * (size - spacing * Vec2(columns_ - 1, rows_ - 1));
  Mask uncleared(raster.material.size());
  for (std::size_t i = 0; i < uncleared.size(); ++i) uncleared[i] = front.uncleared(i);
  const std::vector<float> far = squared_distances(raster.columns, raster.rows, uncleared, false);
  const std::size_t count = static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_);
  states_.assign(count, State::outside);
  tries_.assign(count, 0);
  reached_.resize(count);
  const double radius = front.radius() / raster.cell_mm;
  for (int node = 0; node < static_cast<int>(count); ++node) {
    const Vec2 p = place(node);
    if (front.blocked(p)) continue;
    const Vec2 cell = (p - raster.origin) / raster.cell_mm;
    const double near = std::sqrt(static_cast<double>(
        far[raster.index(static_cast<int>(std::lround(cell.x())), static_cast<int>(std::lround(cell.y())))]));
    const bool cleared = near > radius + 1 || (near > radius - 1.5 && front.cleared(p, false));
    states_[static_cast<std::size_t>(node)] = cleared ? State::cleared : State::uncleared;
  }
}

Vec2 Nodes::place(int node) const { return origin_ + spacing_ * Vec2(node % columns_, node / columns_); }

int Nodes::neighbour(int node, int k) const {
  const int i = node % columns_ + kColumn[k], j = node / columns_ + kRow[k];
  return i < 0 || j < 0 || i >= columns_ || j >= rows_ ? -1 : j * columns_ + i;
}

bool Nodes::at_front(int node) const {
  if (state(node) != State::cleared || worn(node)) return false;
  for (int k = 0; k < 8; ++k)
    if (const int next = neighbour(node, k); next >= 0 && state(next) == State::uncleared) return true;
  return false;
}

std::optional<Vec2> Nodes::towards_uncleared(int node) const {
  Vec2 sum(0, 0);
  std::optional<Vec2> last;
  for (int k = 0; k < 8; ++k)
    if (const int next = neighbour(node, k); next >= 0 && state(next) == State::uncleared) {
      last = (place(next) - place(node)).normalized();
      sum += *last;
    }
  return last && sum.norm() > 1e-6 ? std::optional(Vec2(sum.normalized())) : last;
}

std::pair<int, int> Nodes::nearest(const Vec2& p) const {
  const Vec2 at = (p - origin_) / spacing_;
  return {std::clamp(static_cast<int>(std::lround(at.x())), 0, columns_ - 1),
          std::clamp(static_cast<int>(std::lround(at.y())), 0, rows_ - 1)};
}

template <typename Found>
int Nodes::search(const Vec2& from, const Found& found) {
  ++searches_;
  using Entry = std::pair<double, int>;
  std::priority_queue<Entry, std::vector<Entry>, std::greater<>> open;
  const auto reach = [&](int node, double far, int parent) {
    Reached& known = reached_[static_cast<std::size_t>(node)];
    if (state(node) != State::cleared || (known.search == searches_ && known.far <= far)) return;
    known = {far, parent, searches_};
    open.emplace(far, node);
  };
  const auto [column, row] = nearest(from);
  for (int j = std::max(0, row - 1); j <= std::min(rows_ - 1, row + 1); ++j)
    for (int i = std::max(0, column - 1); i <= std::min(columns_ - 1, column + 1); ++i) {
      const int node = j * columns_ + i;
      reach(node, (place(node) - from).norm() / spacing_, -1);
    }
  while (!open.empty()) {
    const auto [far, node] = open.top();
    open.pop();
    if (far > reached_[static_cast<std::size_t>(node)].far) continue;
    if (found(node)) return node;
    for (int k = 0; k < 8; ++k)
      if (const int next = neighbour(node, k); next >= 0) reach(next, far + (k % 2 ? kDiagonal : 1), node);
  }
  return -1;
}

int Nodes::nearest_front(const Vec2& from) {
  return search(from, [&](int node) { return at_front(node); });
}

int Nodes::front_by_air(const Vec2& from) const {
  int best = -1;
  double least = std::numeric_limits<double>::infinity();
  for (int node = 0; node < static_cast<int>(size()); ++node) {
    if (state(node) != State::cleared || worn(node)) continue;
    const double far = (place(node) - from).squaredNorm();
    if (far < least && at_front(node)) least = far, best = node;
  }
  return best;
}

int Nodes::back_along_front(int node, MaterialHand hand) const {
  const int step = hand == MaterialHand::right ? 7 : 1, back = 8 - step;
  int from = -1;
  for (int k = 0; k < 8; ++k)
    if (const int next = neighbour(node, k); next >= 0 && state(next) == State::uncleared) from = k;
  if (from < 0) return node;
  const int first = node;
  const std::size_t most = size();
  for (std::size_t count = 0; count < most; ++count) {
    int k = from, next = -1;
    bool material = false, wall = false;
    for (int seen = 0; seen < 8 && next < 0; ++seen) {
      const int n = neighbour(node, k & 7);
      if (n < 0 || state(n) == State::outside)
        wall = true;
      else if (state(n) == State::uncleared)
        material = true, wall = false;
      else
        next = n;
      if (next < 0) k = (k + step) & 7;
    }
    if (next < 0 || wall || !material) return node;
    if (next == first) return first;
    const int last = neighbour(node, (k + back) & 7);
    node = next;
    for (int m = 0; m < 8; ++m)
      if (neighbour(node, m) == last) from = m;
    if (!at_front(node)) return node;
  }
  return first;
}

std::optional<Polyline2> Nodes::way(const Vec2& from, int to) {
  if (search(from, [&](int node) { return node == to; }) < 0) return std::nullopt;
  Polyline2 nodes;
  for (int node = to; node >= 0; node = reached_[static_cast<std::size_t>(node)].parent)
    nodes.push_back(place(node));
  nodes.push_back(from);
  std::reverse(nodes.begin(), nodes.end());
  Polyline2 pulled{from};
  for (std::size_t at = 0; at + 1 < nodes.size();) {
    std::size_t next = at;
    for (std::size_t step = 1; at + step < nodes.size() && front_.clear_line(nodes[at], nodes[at + step]);
         step *= 2)
      next = at + step;
    if (next == at) return std::nullopt;
    if (next + 1 < nodes.size() && front_.clear_line(nodes[at], nodes.back())) next = nodes.size() - 1;
    pulled.push_back(nodes[next]);
    at = next;
  }
  return pulled;
}

void Nodes::update(const Box2& passed) {
  const double reach = 1.1 * front_.radius() + spacing_;
  const auto [left, bottom] = nearest(passed.min() - Vec2::Constant(reach));
  const auto [right, top] = nearest(passed.max() + Vec2::Constant(reach));
  for (int j = bottom; j <= top; ++j)
    for (int i = left; i <= right; ++i) {
      const int node = j * columns_ + i;
      if (state(node) == State::uncleared && front_.cleared(place(node), false))
        states_[static_cast<std::size_t>(node)] = State::cleared;
    }
}

std::vector<int> Nodes::uncleared_around(int node) const {
  std::vector<int> result{node};
  std::vector<std::uint8_t> seen(size(), 0);
  seen[static_cast<std::size_t>(node)] = 1;
  for (std::size_t at = 0; at < result.size(); ++at)
    for (int k = 0; k < 8; ++k) {
      const int next = neighbour(result[at], k);
      if (next < 0 || state(next) != State::uncleared || seen[static_cast<std::size_t>(next)]) continue;
      seen[static_cast<std::size_t>(next)] = 1;
      result.push_back(next);
    }
  return result;
}

}  // namespace yardpass::detail
