#include "plan/sunk_line.h"

#include <algorithm>
#include <cmath>

#include "geom/along_line.h"

namespace yardpass::detail {

namespace {

/// Follows a cut along its line in plan.
class Follower {
 public:
  explicit Follower(const DepthLine& depths)
      : line_(depths.points, depths.closed), depth_(depths.depth_mm), closed_(depths.closed) {
    if (closed_) depth_.push_back(depth_.front());
  }

  /// The way of the first place, by where the second one is.
  [[nodiscard]] double start(const Vec2& place, const Vec2& second) const {
    const double distance = (second - place).norm();
    double best = 0, off = std::numeric_limits<double>::infinity();
    for (const double way : line_.all_nearest(place, kAsNear)) {
      const double wrong = std::abs(way_between(way, next(second, way, distance)) - distance);
      if (wrong < off) off = wrong, best = way;
    }
    return best;
  }
  /// The way of the place that comes next, `distance` from the last one: where lines cross, or begin where
  /// they end, there are several as near, and the one counts that is about as far along.
  [[nodiscard]] double next(const Vec2& place, double way, double distance) const {
    double best = way, off = std::numeric_limits<double>::infinity();
    for (const double here : line_.all_nearest(place, kAsNear)) {
      const double wrong = std::abs(way_between(way, here) - distance);
      if (wrong < off) off = wrong, best = here;
    }
    return best;
  }
  [[nodiscard]] double depth(double way) const {
    const auto [i, share] = line_.on(way);
    return depth_[i] + share * (depth_[i + 1] - depth_[i]);
  }
  /// Ways of the points between two ways, the shorter way round, as shares of it.
  [[nodiscard]] std::vector<std::pair<double, double>> bends(double from, double to) const {
    const double whole = line_.length();
    double end = to;
    if (closed_ && to - from > 0.5 * whole) end -= whole;
    if (closed_ && from - to > 0.5 * whole) end += whole;
    std::vector<std::pair<double, double>> found;  // share, way
    if (std::abs(end - from) < 1e-9) return found;
    for (const double way : line_.ways())
      for (const double turn : {-whole, 0.0, whole}) {
        if (turn != 0 && !closed_) continue;
        const double share = (way + turn - from) / (end - from);
        if (share > 1e-9 && share < 1 - 1e-9) found.emplace_back(share, way);
      }
    std::sort(found.begin(), found.end());
    return found;
  }

 private:
  static constexpr double kAsNear = 1e-6;  // mm
  [[nodiscard]] double way_between(double a, double b) const {
    const double straight = std::abs(a - b);
    return closed_ ? std::min(straight, line_.length() - straight) : straight;
  }
  AlongLine line_;
  std::vector<double> depth_;
  bool closed_;
};

Vec3 lowered(const Vec3& p, double by) { return {p.x(), p.y(), p.z() - by}; }

}  // namespace

Polyline3 sunk_line(const Polyline3& line, const DepthLine& depths) {
  Polyline3 sunk;
  if (line.empty() || depths.points.size() < 2) return line;
  const std::vector<double>& all = depths.depth_mm;
  if (std::all_of(all.begin(), all.end(), [&](double one) { return one == all.front(); })) {
    for (const Vec3& p : line) sunk.push_back(lowered(p, all.front()));
    return sunk;
  }
  const Follower follower(depths);
  double way = follower.start(plan(line.front()), plan(line[std::min<std::size_t>(1, line.size() - 1)]));
  sunk.push_back(lowered(line.front(), follower.depth(way)));
  for (std::size_t i = 1; i < line.size(); ++i) {
    const double next = follower.next(plan(line[i]), way, (plan(line[i]) - plan(line[i - 1])).norm());
    for (const auto& [share, bend] : follower.bends(way, next))
      sunk.push_back(lowered(line[i - 1] + share * (line[i] - line[i - 1]), follower.depth(bend)));
    sunk.push_back(lowered(line[i], follower.depth(next)));
    way = next;
  }
  return sunk;
}

}  // namespace yardpass::detail
