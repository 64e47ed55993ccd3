#include "yardpass/geom/polyline.h"

#include <algorithm>

namespace yardpass {

namespace {

template <typename V>
double chain_length(std::span<const V> line) {
  double sum = 0;
  for (std::size_t i = 1; i < line.size(); ++i) sum += (line[i] - line[i - 1]).norm();
  return sum;
}

template <typename V>
double segment_distance(const V& p, const V& a, const V& b) {
  const V along = b - a;
  const double square = along.squaredNorm();
  const double t = square > 0 ? std::clamp((p - a).dot(along) / square, 0.0, 1.0) : 0.0;
  return (p - (a + t * along)).norm();
}

}  // namespace

double length(std::span<const Vec2> line) { return chain_length(line); }
double length(std::span<const Vec3> line) { return chain_length(line); }

NearestOnLoop nearest_on_loop(std::span<const Vec2> loop, const Vec2& p) {
  NearestOnLoop nearest;
  for (std::size_t i = 0; i < loop.size(); ++i) {
    const Vec2 &a = loop[i], along = loop[(i + 1) % loop.size()] - a;
    const double square = along.squaredNorm();
    const double share = square > 0 ? std::clamp((p - a).dot(along) / square, 0.0, 1.0) : 0.0;
    const Vec2 at = a + share * along;
    if (const double far = (at - p).norm(); far < nearest.distance_mm) nearest = {at, i, far};
  }
  return nearest;
}

double distance_to_segment(const Vec2& p, const Vec2& a, const Vec2& b) { return segment_distance(p, a, b); }
double distance_to_segment(const Vec3& p, const Vec3& a, const Vec3& b) { return segment_distance(p, a, b); }

namespace {

template <typename Point>
std::vector<Point> simplified_chain(std::span<const Point> line, double tolerance_mm) {
  if (line.size() < 3) return {line.begin(), line.end()};
  std::vector<char> keep(line.size(), 0);
  keep.front() = keep.back() = 1;
  std::vector<std::pair<std::size_t, std::size_t>> open{{0, line.size() - 1}};
  while (!open.empty()) {
    const auto [first, last] = open.back();
    open.pop_back();
    double worst = tolerance_mm;
    std::size_t at = 0;
    for (std::size_t i = first + 1; i < last; ++i) {
      const double off = distance_to_segment(line[i], line[first], line[last]);
      if (off > worst) worst = off, at = i;
    }
    if (at == 0) continue;
    keep[at] = 1;
    open.emplace_back(first, at);
    open.emplace_back(at, last);
  }
  std::vector<Point> result;
  for (std::size_t i = 0; i < line.size(); ++i)
    if (keep[i]) result.push_back(line[i]);
  return result;
}

template <typename Point>
std::vector<Point> simplified_ring(std::span<const Point> loop, double tolerance_mm) {
  if (loop.size() < 4) return {loop.begin(), loop.end()};
  // Cut the loop at its first point and at the point farthest from it, so that neither half is degenerate.
  std::size_t far = 0;
  for (std::size_t i = 1; i < loop.size(); ++i)
    if ((loop[i] - loop[0]).squaredNorm() > (loop[far] - loop[0]).squaredNorm()) far = i;
  std::vector<Point> result = simplified_chain(loop.first(far + 1), tolerance_mm);
  std::vector<Point> rest(loop.begin() + static_cast<std::ptrdiff_t>(far), loop.end());
  rest.push_back(loop[0]);
  rest = simplified_chain(std::span<const Point>(rest), tolerance_mm);
  result.insert(result.end(), rest.begin() + 1, rest.end() - 1);
  if (result.size() < 3) return {loop.begin(), loop.end()};
  return result;
}

}  // namespace

Polyline2 simplify(std::span<const Vec2> line, double tolerance_mm) {
  return simplified_chain(line, tolerance_mm);
}
Polyline3 simplify(std::span<const Vec3> line, double tolerance_mm) {
  return simplified_chain(line, tolerance_mm);
}
Polyline2 simplify_loop(std::span<const Vec2> loop, double tolerance_mm) {
  return simplified_ring(loop, tolerance_mm);
}
Polyline3 simplify_loop(std::span<const Vec3> loop, double tolerance_mm) {
  return simplified_ring(loop, tolerance_mm);
}

std::vector<Polyline3> between_heights(const Polyline3& line, double low_z, double high_z) {
  std::vector<Polyline3> pieces;
  Polyline3 piece;
  const auto finish = [&] {
    if (piece.size() > 1) pieces.push_back(piece);
    piece.clear();
  };
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const Vec3 &a = line[i], &b = line[i + 1];
    const double rise = b.z() - a.z();
    // The share of the segment that lies between the heights: one interval.
    double from = 0, to = 1;
    if (rise == 0) {
      if (a.z() < low_z || a.z() > high_z) to = -1;
    } else {
      const double at_low = (low_z - a.z()) / rise, at_high = (high_z - a.z()) / rise;
      from = std::max(0.0, std::min(at_low, at_high));
      to = std::min(1.0, std::max(at_low, at_high));
    }
    if (!(from < to)) {
      finish();
      continue;
    }
    // Cut ends lie exactly at the height, so cutting again changes nothing.
    const auto at = [&](double share) {
      if (share == 0 || share == 1) return share == 0 ? a : b;
      const Vec3 p = a + share * (b - a);
      return with_z(plan(p), std::abs(p.z() - low_z) < std::abs(p.z() - high_z) ? low_z : high_z);
    };
    if (from > 0) finish();
    if (piece.empty()) piece.push_back(at(from));
    piece.push_back(at(to));
    if (to < 1) finish();
  }
  finish();
  return pieces;
}

namespace {

/// Where two pieces cross, both well inside of their length; nothing if they do not, or lie along each other.
std::optional<Vec2> proper_crossing(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
  const Vec2 u = b - a, v = d - c, w = c - a;
  const double turn = cross2(u, v);
  if (!(std::abs(turn) > 1e-12 * u.norm() * v.norm())) return std::nullopt;
  const double s = cross2(w, v) / turn, t = cross2(w, u) / turn;
  if (!(s > 0 && s < 1 && t > 0 && t < 1)) return std::nullopt;
  return a + s * u;
}

double area_between(std::span<const Vec2> loop, std::size_t first, std::size_t last, const Vec2& from) {
  double twice = 0;
  Vec2 before = from;
  for (std::size_t i = first; i <= last; ++i) {
    twice += cross2(before - from, loop[i] - from);
    before = loop[i];
  }
  return 0.5 * std::abs(twice);
}

}  // namespace

std::optional<Vec2> self_crossing(std::span<const Vec2> loop, double least_mm2) {
  struct Piece {
    double low, high;
    std::size_t index;
  };
  const std::size_t n = loop.size();
  std::vector<Piece> pieces;
  double whole = 0;
  for (std::size_t i = 0; i < n; ++i) {
    const Vec2 &a = loop[i], &b = loop[(i + 1) % n];
    pieces.push_back({std::min(a.x(), b.x()), std::max(a.x(), b.x()), i});
    whole += 0.5 * cross2(a - loop[0], b - loop[0]);
  }
  std::sort(pieces.begin(), pieces.end(), [](const Piece& a, const Piece& b) { return a.low < b.low; });
  std::optional<Vec2> first;
  std::size_t earliest = n;
  for (std::size_t k = 0; k < n; ++k)
    for (std::size_t m = k + 1; m < n && pieces[m].low <= pieces[k].high; ++m) {
      const auto [i, j] = std::minmax(pieces[k].index, pieces[m].index);
      if (i >= earliest || j == i + 1 || (i == 0 && j == n - 1)) continue;
      const auto at = proper_crossing(loop[i], loop[i + 1], loop[j], loop[(j + 1) % n]);
      if (!at) continue;
      const double lobe = area_between(loop, i + 1, j, *at), rest = std::abs(std::abs(whole) - lobe);
      if (std::min(lobe, std::max(rest, least_mm2)) < least_mm2) continue;
      first = at, earliest = i;
    }
  return first;
}

}  // namespace yardpass
