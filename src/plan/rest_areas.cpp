#include "yardpass/plan/rest_areas.h"

#include <algorithm>
#include <cmath>
#include <mutex>

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

/// The free position of a ball that is nearest to a place, by stepping out of what it meets; nothing if that
/// ends where it cannot come down from above.
std::optional<Vec3> stepped_out(const TipSurface& ball, double round, double radius, Vec3 centre) {
  constexpr int kSteps = 12;
  constexpr double kFree = 1e-6;  // mm
  for (int k = 0; k < kSteps; ++k) {
    const auto nearest = ball.part().nearest(centre, radius);
    if (!nearest || nearest->distance_mm >= radius - kFree) break;
    if (nearest->distance_mm < 1e-3 * radius) return std::nullopt;
    centre += (radius - nearest->distance_mm) / nearest->distance_mm * (centre - nearest->point);
  }
  constexpr double kAbove = 1e-3;  // mm
  if (ball.height(plan(centre)) > centre.z() - round + kAbove) return std::nullopt;
  return centre;
}

}  // namespace

double left_by(const TipSurface& reference, const TipSurface& smaller, const Vec2& place,
               std::int32_t* near) {
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
  // A ball steps out as far as it must; of other ends, and where walls are in the way, the one touch tells.
  if (const Profile::Piece& end = reference.cutter().pieces().front();
      end.arc > 0 && end.centre_r == 0 && seat.round == end.arc)
    if (const auto free = stepped_out(reference, end.arc, round, from + seat.round * normal))
      return (*free - touch->point).norm() - round + kept;
  const double step = rise * there->normal.z(), turn = normal.dot(there->normal);
  return std::sqrt(std::max(0.0, round * round + 2 * round * step * turn + step * step)) - round + kept;
}

namespace {

/// What is marked and what is near it, by the way over the tip surface.
Region grown(const detail::CellGrid& grid, const detail::Mask& marked, const TipSurface& smaller,
             const detail::Bands& near_area, double overlap,
             const std::function<double(std::size_t, std::size_t)>& share) {
  // Only about what is marked does a height matter.
  const int reach = static_cast<int>(std::ceil(overlap / grid.side)) + 3;
  detail::Mask near = marked;
  for (int row = 0; row < grid.rows; ++row)
    for (int column = 0; column < grid.columns; ++column) {
      if (!marked[grid.index(column, row)]) continue;
      for (int r = std::max(0, row - reach); r < std::min(grid.rows, row + reach + 1); ++r)
        for (int c = std::max(0, column - reach); c < std::min(grid.columns, column + reach + 1); ++c)
          near[grid.index(c, r)] = 1;
    }
  std::vector<double> heights(marked.size(), kNothingBelow);
  detail::parallel_for(grid.rows, [&](int row) {
    std::int32_t triangle = -1;
    for (int column = 0; column < grid.columns; ++column) {
      const std::size_t cell = grid.index(column, row);
      const Vec2 place = grid.middle(column, row);
      if (!near[cell] || !near_area.contains(place)) continue;
      if (const auto touch = smaller.touch(place, triangle))
        heights[cell] = touch->height, triangle = touch->triangle;
    }
  });
  const std::vector<double> distance = detail::distances_over(
      grid, marked, heights, overlap, [&](std::size_t in, std::size_t out) { return 1 - share(in, out); });
  detail::Mask close(marked.size(), 0);
  for (std::size_t cell = 0; cell < close.size(); ++cell) close[cell] = distance[cell] <= overlap ? 1 : 0;
  // From a cell that is near to one that is not: by the way over the surface, which may go up a wall.
  const auto border = [&](std::size_t in, std::size_t out) {
    constexpr int kSteps = 12;
    const auto columns = static_cast<std::size_t>(grid.columns);
    const auto middle = [&](std::size_t cell) {
      return grid.middle(static_cast<int>(cell % columns), static_cast<int>(cell / columns));
    };
    const Vec2 from = middle(in), way = middle(out) - from;
    double left = overlap - distance[in], before = heights[in];
    for (int k = 1; k <= kSteps; ++k) {
      const double height = smaller.height(from + way * (1.0 * k / kSteps));
      if (!(height > kNothingBelow)) return (k - 1.0) / kSteps;
      const double size = std::hypot(way.norm() / kSteps, height - before);
      if (size >= left) return (k - 1 + left / size) / kSteps;
      left -= size, before = height;
    }
    return 1.0;
  };
  return detail::outline_between_cells(grid, close, border, 0.01);
}

/// Places that hold more than the threshold, outlined; `left(place, near)` tells how much.
RestAreas outlined(const TipSurface& smaller, const Region& area, const RestOptions& options,
                   const Progress& progress, const std::function<double(const Vec2&, std::int32_t&)>& left) {
  require(options.threshold_mm > 0, "threshold_mm", "must be above 0");
  require(options.overlap_mm >= 0, "overlap_mm", "must not be negative");
  RestAreas result;
  if (area.empty()) return result;
  constexpr double kMostCells = 4e6, kPrecision = 1e-4;
  const Box2 box = area.box();
  const double asked = options.cell_mm > 0 ? options.cell_mm : 0.125 * smaller.cutter().radius();
  const double side = std::max(asked, std::sqrt(box.volume() / kMostCells));
  const detail::CellGrid grid{box.min() - Vec2(1.37, 1.41) * side, side,
                              static_cast<int>(box.sizes().x() / side) + 4,
                              static_cast<int>(box.sizes().y() / side) + 4};
  // Beyond the area too, so that its own border cuts areas off, not the grid's.
  const detail::Bands near_area(offset(area, 1.5 * side));
  detail::Mask marked(static_cast<std::size_t>(grid.columns) * static_cast<std::size_t>(grid.rows), 0);
  struct Thickest {
    double mm = 0;
    Vec2 at{0, 0};
  };
  std::vector<Thickest> of_row(static_cast<std::size_t>(grid.rows));
  const detail::Bands inside(area);
  detail::parallel_for(grid.rows, part_of(progress, 0, 0.9), [&](int row) {
    std::int32_t near = -1;
    for (int column = 0; column < grid.columns; ++column) {
      const Vec2 place = grid.middle(column, row);
      if (!near_area.contains(place)) continue;
      const double here = left(place, near);
      marked[grid.index(column, row)] = here > options.threshold_mm ? 1 : 0;
      Thickest& thickest = of_row[static_cast<std::size_t>(row)];
      if (here > thickest.mm && inside.contains(place)) thickest = {here, place};
    }
  });
  const auto middle = [&](std::size_t cell) {
    const auto columns = static_cast<std::size_t>(grid.columns);
    return grid.middle(static_cast<int>(cell % columns), static_cast<int>(cell / columns));
  };
  const auto share = [&](std::size_t in, std::size_t out) {
    if (!near_area.contains(middle(out))) return 0.5;
    double low = 0, high = 1;
    std::int32_t near = -1;
    while ((high - low) * grid.side > kPrecision) {
      const double between = 0.5 * (low + high);
      (left(middle(in) + between * (middle(out) - middle(in)), near) > options.threshold_mm ? low : high) =
          between;
    }
    return low;
  };
  const Region all = detail::outline_between_cells(grid, marked, share, 0.01);
  result.bare = intersect(all, area);
  result.area = result.bare;
  if (options.overlap_mm > 0 && !result.bare.empty())
    result.area = intersect(
        unite(result.bare, grown(grid, marked, smaller, near_area, options.overlap_mm, share)), area);
  for (const Thickest& thickest : of_row)
    if (thickest.mm > result.thickest_mm)
      result.thickest_mm = thickest.mm, result.thickest_at = with_z(thickest.at, smaller.height(thickest.at));
  result.pieces = std::ssize(pieces(result.bare));
  return result;
}

}  // namespace

RestAreas rest_areas(const TipSurface& reference, const TipSurface& smaller, const Region& area,
                     const RestOptions& options, const Progress& progress) {
  return outlined(smaller, area, options, progress, [&](const Vec2& place, std::int32_t& near) {
    return left_by(reference, smaller, place, &near);
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
