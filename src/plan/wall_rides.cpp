#include "yardpass/plan/wall_rides.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "geom/bands.h"
#include "geom/parallel_for.h"
#include "plan/touch_walk.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

/// The loop segment of a region that is nearest to a place: from where, along which, how far.
struct NearestEdge {
  Vec2 at, along;
  double distance = std::numeric_limits<double>::infinity();
};
NearestEdge nearest_edge(const Region& area, const Vec2& place) {
  NearestEdge nearest;
  for (const Polyline2& loop : area.loops) {
    const NearestOnLoop here = nearest_on_loop(loop, place);
    if (here.distance_mm >= nearest.distance) continue;
    nearest = {here.at, loop[(here.piece + 1) % loop.size()] - loop[here.piece], here.distance_mm};
  }
  return nearest;
}

class RideSearch {
 public:
  RideSearch(const TipSurface& surface, const Region& boundary, const Region& axis_area,
             const WallRideOptions& options)
      : surface_(surface),
        needle_(surface.shared_part(), Profile::needle()),
        boundary_(unite(boundary, {})),
        well_inside_(offset(boundary, -1e-3)),  // a wall that stands on the boundary lies outside
        axis_area_(axis_area),
        steep_up_(std::tan(options.steep_up_deg * std::numbers::pi / 180)),
        steep_down_(std::tan(options.steep_down_deg * std::numbers::pi / 180)),
        options_(options) {}

  void along(const Polyline3& path, std::vector<WallRide>& rides) const {
    detail::TouchWalk walk(surface_);
    WallRide up, down;
    const auto take = [&](const Vec3& tip, double height) {
      WallRide& ride = height > 0 ? up : down;
      if (std::abs(height) > std::abs(ride.height_mm)) ride.height_mm = height, ride.at = tip;
      ride.inside_mm = std::max(ride.inside_mm, nearest_edge(axis_area_, plan(tip)).distance);
    };
    double before = 0;
    for (std::size_t i = 0; i + 1 < path.size(); ++i) {
      const int steps = detail::steps_between(path[i], path[i + 1], options_.step_mm);
      const auto point = [&](double share) { return Vec3(path[i] + share * (path[i + 1] - path[i])); };
      for (int k = i == 0 ? 0 : 1; k <= steps; ++k) {
        const double share = static_cast<double>(k) / steps, height = ride_at(walk, point(share));
        if (height != 0) take(point(share), height);
        // Between two steps lies the very place where it begins or ends.
        if (k > 0 && (before != 0) != (height != 0)) {
          double rides_at = before != 0 ? share - 1.0 / steps : share,
                 not_at = before != 0 ? share : share - 1.0 / steps;
          double last = before != 0 ? before : height;
          for (int halvings = 0; halvings < kHalvings; ++halvings) {
            const double middle = 0.5 * (rides_at + not_at), here = ride_at(walk, point(middle));
            (here != 0 ? rides_at : not_at) = middle;
            if (here != 0) last = here;
          }
          take(point(rides_at), last);
        }
        before = height;
      }
    }
    if (up.height_mm > 0) rides.push_back(up);
    if (down.height_mm < 0) rides.push_back(down);
  }

 private:
  static constexpr int kHalvings = 6;

  /// How high it rides here; 0: not at all.
  [[nodiscard]] double ride_at(detail::TouchWalk& walk, const Vec3& tip) const {
    const auto touch = walk.touch(tip);
    if (!touch || well_inside_.contains(plan(touch->point))) return 0;
    constexpr double kInside = 0.001;
    const NearestEdge edge = nearest_edge(boundary_, plan(touch->point));
    const Vec2 inner = edge.at + kInside * Vec2(-edge.along.y(), edge.along.x()).normalized();  // area: left
    const double z = needle_.height(inner);
    if (z == kNothingBelow) return 0;
    const double height = touch->point.z() - z;
    const double far = (plan(touch->point) - inner).norm();
    const double steep = height > 0 ? steep_up_ : steep_down_;
    return std::abs(height) > options_.least_mm && std::abs(height) >= steep * far ? height : 0;
  }

  const TipSurface& surface_;
  TipSurface needle_;
  Region boundary_;
  detail::Bands well_inside_;
  const Region& axis_area_;
  double steep_up_, steep_down_;
  const WallRideOptions& options_;
};

}  // namespace

std::vector<WallRide> wall_rides(const TipSurface& surface, std::span<const Polyline3> paths,
                                 const Region& boundary, const Region& axis_area,
                                 const WallRideOptions& options) {
  require(options.step_mm > 0, "step_mm", "must be above 0");
  const RideSearch search(surface, boundary, axis_area, options);
  std::vector<std::vector<WallRide>> of_path(paths.size());
  detail::parallel_for(paths.size(), [&](std::size_t i) { search.along(paths[i], of_path[i]); });
  std::vector<WallRide> rides;
  for (const auto& some : of_path) rides.insert(rides.end(), some.begin(), some.end());
  std::stable_sort(rides.begin(), rides.end(), [](const WallRide& a, const WallRide& b) {
    if ((a.height_mm > 0) != (b.height_mm > 0)) return a.height_mm > 0;
    return std::abs(a.height_mm) > std::abs(b.height_mm);
  });
  return rides;
}

}  // namespace yardpass
