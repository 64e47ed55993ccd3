#include "yardpass/plan/rest_areas.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>

#include "geom/bands.h"
#include "geom/parallel_for.h"
#include "plan/cell_outline.h"
#include "plan/grown_in_space.h"

namespace yardpass {

namespace {

/// Where on a cutter a plane of this normal touches it, and how round it is there.
struct Seat {
  double radius = 0, height = 0;  // of the place on the profile
  double round = 0;               // radius of its arc
};
Seat seat_of(const Profile& cutter, const Vec3& normal) {
  const double across = plan(normal).norm();
  const double slope = across / std::max(normal.z(), 1e-9);
  Seat seat;
  for (const Profile::Piece& piece : cutter.pieces()) {
    // The last piece that a plane this steep still touches.
    if (piece.slope0 > slope && seat.radius > 0) break;
    seat.round = piece.arc;
    if (piece.arc > 0 && slope < piece.slope1) {
      const double tilt = std::atan(slope);
      seat.radius = std::clamp(piece.centre_r + piece.arc * std::sin(tilt), piece.r0, piece.r1);
      seat.height = piece.centre_z - piece.arc * std::cos(tilt);
      return seat;
    }
    if (piece.slope0 > slope) {
      seat.radius = piece.r0, seat.height = piece.z0;
      return seat;
    }
    seat.radius = piece.r1, seat.height = piece.z1;
  }
  return seat;
}

/// Off the plane of touch at a place and off another one: the centre that is nearest to the place.
Vec3 off_both(const Vec3& place, const Vec3& normal, double radius, const Vec3& other,
              const Vec3& its_normal) {
  const double turn = normal.dot(its_normal), wanted = radius - (place - other).dot(its_normal);
  const double denominator = 1 - turn * turn;
  if (denominator < 1e-9) return place + std::max(radius, wanted) * normal;
  const double by_other = (wanted - turn * radius) / denominator, by_own = radius - turn * by_other;
  if (by_other < 0) return place + radius * normal;
  if (by_own < 0) return place + wanted * its_normal;
  return place + by_own * normal + by_other * its_normal;
}

/// The free position of a ball that is nearest to a place that it would touch, by the planes of what it
/// meets, and where several are met by stepping out of them; nothing if that ends where it cannot come down
/// from above.
std::optional<Vec3> stepped_out(const TipSurface& ball, double round, double radius, const Vec3& place,
                                const Vec3& normal) {
  constexpr int kByPlanes = 4, kSteps = 12;
  constexpr double kFree = 1e-6;  // mm
  Vec3 centre = place + radius * normal;
  for (int k = 0; k < kSteps; ++k) {
    const auto nearest = ball.part().nearest(centre, radius);
    if (!nearest || nearest->distance_mm >= radius - kFree) break;
    if (nearest->distance_mm < 1e-3 * radius) return std::nullopt;
    const Vec3 away = (centre - nearest->point) / nearest->distance_mm;
    centre = k < kByPlanes ? off_both(place, normal, radius, nearest->point, away)
                           : Vec3(centre + (radius - nearest->distance_mm) * away);
  }
  constexpr double kAbove = 1e-3;  // mm
  if (ball.height(plan(centre)) > centre.z() - round + kAbove) return std::nullopt;
  return centre;
}

}  // namespace

double left_by(const TipSurface& reference, const TipSurface& smaller, const Vec2& place, std::int32_t* near,
               double doubtful_mm) {
  const std::optional<Touch> touch = smaller.touch(place, near ? *near : -1);
  if (!touch) return 0;
  if (near) *near = touch->triangle;
  const Vec3& normal = touch->normal;
  const Seat seat = seat_of(reference.cutter(), normal);
  const Vec2 way = plan(normal);
  const Vec2 out = way.norm() > 1e-12 ? Vec2(way.normalized()) : Vec2(0, 0);
  // The tip of the reference if it touched the same point.
  const Vec3 from = touch->point + reference.allowance_mm() * normal;
  const Vec3 tip = from + with_z(Vec2(seat.radius * out), -seat.height);
  const std::optional<Touch> there = reference.touch(plan(tip), touch->triangle);
  const double kept = std::max(0.0, reference.allowance_mm());
  if (!there) return kept;
  const double rise = there->height - tip.z();
  if (rise <= 0) return kept;
  const double round = seat.round + kept;
  const double step = rise * there->normal.z(), turn = normal.dot(there->normal);
  const double told =
      std::sqrt(std::max(0.0, round * round + 2 * round * step * turn + step * step)) - round + kept;
  // A ball steps out as far as it must; of other ends, and where walls are in the way, the one touch tells.
  const Profile::Piece& end = reference.cutter().pieces().front();
  const bool ball = end.arc > 0 && end.centre_r == 0 && seat.round == end.arc;
  if (!ball || told <= kept + doubtful_mm) return told;
  const auto free = stepped_out(reference, end.arc, round, touch->point, normal);
  return free ? (*free - touch->point).norm() - round + kept : told;
}

namespace {

/// How much is left at a place; `near`: see TipSurface::touch.
using LeftAt = std::function<double(const Vec2& place, std::int32_t& near)>;

/// Places of a grid that hold more than the threshold, outlined.
class RestFinder {
 public:
  RestFinder(const TipSurface& smaller, const Region& area, const RestOptions& options, LeftAt left)
      : smaller_(smaller),
        area_(area),
        options_(options),
        left_(std::move(left)),
        grid_(
            grid_over(area.box(), options.cell_mm > 0 ? options.cell_mm : 0.125 * smaller.cutter().radius())),
        // Beyond the area too, so that its own border cuts areas off, not the grid's.
        near_area_(offset(area, 1.5 * grid_.side)),
        inside_(area),
        marked_(static_cast<std::size_t>(grid_.columns) * static_cast<std::size_t>(grid_.rows), 0) {}

  RestAreas run(const Progress& progress) {
    RestAreas result;
    mark(progress, result);
    find_borders();
    const Region all = detail::outline_between_cells(
        grid_, marked_, [&](std::size_t in, std::size_t out) { return share(in, out); }, 0.01);
    keep_pieces(intersect(all, area_), result);
    result.area = result.bare;
    if (options_.overlap_mm > 0 && !result.bare.empty())
      result.area = intersect(unite(result.bare, grown()), area_);
    return result;
  }

 private:
  static detail::CellGrid grid_over(const Box2& box, double asked) {
    constexpr double kMostCells = 4e6;
    const double side = std::max(asked, std::sqrt(box.volume() / kMostCells));
    // Nothing of a part lies on its lines by design.
    return {box.min() - Vec2(1.37, 1.41) * side, side, static_cast<int>(box.sizes().x() / side) + 4,
            static_cast<int>(box.sizes().y() / side) + 4};
  }
  [[nodiscard]] Vec2 middle(std::size_t cell) const {
    const auto columns = static_cast<std::size_t>(grid_.columns);
    return grid_.middle(static_cast<int>(cell % columns), static_cast<int>(cell / columns));
  }

  void mark(const Progress& progress, RestAreas& result) {
    std::vector<std::pair<double, Vec2>> of_row(static_cast<std::size_t>(grid_.rows), {0, Vec2(0, 0)});
    detail::parallel_for(grid_.rows, progress, [&](int row) {
      std::int32_t near = -1;
      for (int column = 0; column < grid_.columns; ++column) {
        const Vec2 place = grid_.middle(column, row);
        if (!near_area_.contains(place)) continue;
        const double here = left_(place, near);
        marked_[grid_.index(column, row)] = here > options_.threshold_mm ? 1 : 0;
        auto& [most, at] = of_row[static_cast<std::size_t>(row)];
        if (here > most && inside_.contains(place)) most = here, at = place;
      }
    });
    for (const auto& [most, at] : of_row)
      if (most > result.thickest_mm)
        result.thickest_mm = most, result.thickest_at = with_z(at, smaller_.height(at));
  }

  /// How far from a marked cell to an unmarked one the border is: for all straight neighbours, at once.
  void find_borders() {
    std::vector<std::pair<std::size_t, std::size_t>> pairs;
    for (int row = 1; row + 1 < grid_.rows; ++row)
      for (int column = 1; column + 1 < grid_.columns; ++column) {
        const std::size_t cell = grid_.index(column, row);
        if (!marked_[cell]) continue;
        for (const std::size_t beside : {grid_.index(column + 1, row), grid_.index(column - 1, row),
                                         grid_.index(column, row + 1), grid_.index(column, row - 1)})
          if (!marked_[beside]) pairs.emplace_back(cell, beside);
      }
    std::vector<double> found(pairs.size());
    detail::parallel_for(pairs.size(),
                         [&](std::size_t i) { found[i] = border(pairs[i].first, pairs[i].second); });
    for (std::size_t i = 0; i < pairs.size(); ++i) shares_.emplace(pairs[i], found[i]);
  }
  [[nodiscard]] double share(std::size_t in, std::size_t out) const {
    const auto known = shares_.find({in, out});
    return known != shares_.end() ? known->second : border(in, out);
  }
  [[nodiscard]] double border(std::size_t in, std::size_t out) const {
    constexpr double kPrecision = 1e-4;  // mm
    if (!near_area_.contains(middle(out))) return 0.5;
    double low = 0, high = 1;
    std::int32_t near = -1;
    while ((high - low) * grid_.side > kPrecision) {
      const double between = 0.5 * (low + high);
      const Vec2 place = middle(in) + between * (middle(out) - middle(in));
      (left_(place, near) > options_.threshold_mm ? low : high) = between;
    }
    return low;
  }

  void keep_pieces(const Region& found, RestAreas& result) {
    const double least = 4 * grid_.side * grid_.side;
    for (Region& piece : pieces(found)) {
      if (piece.area_mm2() < least) {
        ++result.scraps;
        continue;
      }
      ++result.pieces;
      result.bare.loops.insert(result.bare.loops.end(), piece.loops.begin(), piece.loops.end());
    }
    if (result.scraps == 0) return;
    const detail::Bands kept(result.bare);
    for (std::size_t cell = 0; cell < marked_.size(); ++cell)
      if (marked_[cell] && !kept.contains(middle(cell))) marked_[cell] = 0;
  }

  /// Heights about what is marked; nothing elsewhere.
  [[nodiscard]] std::vector<double> heights_near() const {
    const int reach = static_cast<int>(std::ceil(options_.overlap_mm / grid_.side)) + 3;
    detail::Mask near = marked_;
    for (int row = 0; row < grid_.rows; ++row)
      for (int column = 0; column < grid_.columns; ++column) {
        if (!marked_[grid_.index(column, row)]) continue;
        for (int r = std::max(0, row - reach); r < std::min(grid_.rows, row + reach + 1); ++r)
          for (int c = std::max(0, column - reach); c < std::min(grid_.columns, column + reach + 1); ++c)
            near[grid_.index(c, r)] = 1;
      }
    std::vector<double> heights(marked_.size(), kNothingBelow);
    detail::parallel_for(grid_.rows, [&](int row) {
      std::int32_t triangle = -1;
      for (int column = 0; column < grid_.columns; ++column) {
        const std::size_t cell = grid_.index(column, row);
        const Vec2 place = grid_.middle(column, row);
        if (!near[cell] || !near_area_.contains(place)) continue;
        if (const auto touch = smaller_.touch(place, triangle))
          heights[cell] = touch->height, triangle = touch->triangle;
      }
    });
    return heights;
  }

  /// What is marked and what is near it, by the way over the tip surface.
  [[nodiscard]] Region grown() const {
    const double overlap = options_.overlap_mm;
    const std::vector<double> heights = heights_near();
    const std::vector<double> distance =
        detail::distances_over(grid_, marked_, heights, overlap,
                               [&](std::size_t in, std::size_t out) { return 1 - share(in, out); });
    detail::Mask close(marked_.size(), 0);
    for (std::size_t cell = 0; cell < close.size(); ++cell) close[cell] = distance[cell] <= overlap ? 1 : 0;
    return detail::outline_between_cells(
        grid_, close,
        [&](std::size_t in, std::size_t out) {
          return share_over(middle(in), heights[in], middle(out), overlap - distance[in]);
        },
        0.01);
  }
  /// How far from a place towards another one a way over the surface, which may go up a wall, comes.
  [[nodiscard]] double share_over(const Vec2& from, double height, const Vec2& to, double left) const {
    constexpr int kSteps = 12;
    const Vec2 way = to - from;
    for (int k = 1; k <= kSteps; ++k) {
      const double here = smaller_.height(from + way * (1.0 * k / kSteps));
      if (!(here > kNothingBelow)) return (k - 1.0) / kSteps;
      const double size = std::hypot(way.norm() / kSteps, here - height);
      if (size >= left) return (k - 1 + left / size) / kSteps;
      left -= size, height = here;
    }
    return 1;
  }

  const TipSurface& smaller_;
  const Region& area_;
  const RestOptions& options_;
  LeftAt left_;
  detail::CellGrid grid_;
  detail::Bands near_area_, inside_;
  detail::Mask marked_;
  std::map<std::pair<std::size_t, std::size_t>, double> shares_;  // of straight neighbours
};

RestAreas outlined(const TipSurface& smaller, const Region& area, const RestOptions& options,
                   const Progress& progress, LeftAt left) {
  require(options.threshold_mm > 0, "threshold_mm", "must be above 0");
  require(options.overlap_mm >= 0, "overlap_mm", "must not be negative");
  if (area.empty()) return {};
  return RestFinder(smaller, area, options, std::move(left)).run(progress);
}

}  // namespace

RestAreas rest_areas(const TipSurface& reference, const TipSurface& smaller, const Region& area,
                     const RestOptions& options, const Progress& progress) {
  return outlined(smaller, area, options, progress, [&](const Vec2& place, std::int32_t& near) {
    return left_by(reference, smaller, place, &near, 0.5 * options.threshold_mm);
  });
}

RestAreas rest_areas(const Stock& material, const TipSurface& smaller, const Region& area,
                     const RestOptions& options, const Progress& progress) {
  return outlined(smaller, area, options, progress, [&](const Vec2& place, std::int32_t& near) {
    const std::optional<Touch> touch = smaller.touch(place, near);
    if (!touch) return 0.0;
    near = touch->triangle;
    return material.thickness_met(smaller.cutter(), with_z(place, touch->height));
  });
}

}  // namespace yardpass
