#include "link/smooth_points.h"

#include <algorithm>
#include <cmath>

#include "yardpass/contact/slope.h"

namespace yardpass::detail {

namespace {

constexpr double kLevel = 1e-9, kShort = 0.05, kStraight = 1e-6, kLongest = 2, kNarrow = 1e-5;  // mm

bool is_level(const Vec3& a, const Vec3& b) {
  return std::abs(b.z() - a.z()) < kLevel && (b - a).norm() > kShort;
}

/// How much the surface rises along a direction in plan.
double rise_along(const SmoothPoint& point, const Vec2& along) {
  return -plan(point.normal).dot(along) / std::max(point.normal.z(), 1e-9);
}

}  // namespace

std::optional<SmoothPoint> PointSource::touch(const Vec2& place) const {
  const TipSurface& middle = tube_.middle();
  const std::optional<Touch> touched = middle.touch(place, near_);
  if (!touched) return std::nullopt;
  near_ = touched->triangle;
  SmoothPoint point{with_z(place, touched->height)};
  point.normal = surface_normal(slope_at(middle, place, *touched));
  point.rests = true;
  return point;
}

PointSource::Place PointSource::place_of(const Vec3& tip) const {
  Place place;
  if (const auto touched = touch(plan(tip))) {
    place.point = *touched;
    place.middle_z = touched->at.z();
    place.on_top = std::abs(tip.z() - place.middle_z) * touched->normal.z() <= 0.6 * tube_.tolerance_mm();
    if (!place.on_top) place.point.normal = Vec3::Zero();
  }
  // Beside an upright wall there is no surface to touch below.
  place.point.rests = place.on_top || tube_.cover(tip, tip).whole;
  place.point.at = tip;
  return place;
}

Vec3 PointSource::raised(const Place& place, const Vec3& along) {
  constexpr double kFarthest = 3;  // times the distance normal to the surface
  const SmoothPoint& point = place.point;
  const double missing = (place.middle_z - point.at.z()) * point.normal.z();
  const Vec2 way = plan(along);
  if (!place.on_top || !(missing > 0) || !(way.norm() > 0)) return point.at;
  // Square to the surface as far as the upright plane of the cut allows.
  const Vec3 level = with_z(way.normalized(), 0);
  Vec3 out = point.normal.dot(level) * level + Vec3(0, 0, point.normal.z());
  out.normalize();
  const double rises = out.dot(point.normal);
  return rises * kFarthest < 1 ? point.at : Vec3(point.at + missing / rises * out);
}

Vec3 PointSource::raised(const Vec3& end, const Vec3& along) const { return raised(place_of(end), along); }

/// Halved where the touch half-way is off the cubic through heights and slopes of both ends.
void PointSource::touch_along(const SmoothPoint& from, const SmoothPoint& to,
                              std::vector<SmoothPoint>& out) const {
  const Vec2 way = plan(to.at) - plan(from.at);
  const double width = way.norm();
  if (width < kNarrow) return;
  const auto half_way = touch(plan(from.at) + 0.5 * way);
  if (!half_way) return;
  const Vec2 along = way / width;
  const double line = 0.5 * (from.at.z() + to.at.z()),
               cubic = line + width * (rise_along(from, along) - rise_along(to, along)) / 8;
  const double slope = (to.at.z() - from.at.z()) / width, square = 1 / std::sqrt(1 + slope * slope);
  const double tolerance = tube_.tolerance_mm();
  const bool near = std::abs(half_way->at.z() - cubic) * square < 0.08 * tolerance &&
                    std::abs(half_way->at.z() - line) * square < 4 * tolerance;
  const bool deeper = width >= kLongest || !near;
  if (deeper) touch_along(from, *half_way, out);
  out.push_back(*half_way);
  out.back().more_to_next = true;
  if (deeper) touch_along(*half_way, to, out);
}

std::optional<SmoothPoint> PointSource::between(const SmoothPoint& a, const SmoothPoint& b) const {
  if (!a.more_to_next || (plan(b.at) - plan(a.at)).norm() < 10 * kNarrow) return std::nullopt;
  auto point = touch(0.5 * (plan(a.at) + plan(b.at)));
  if (point) point->more_to_next = true;
  return point;
}

std::vector<SmoothPoint> PointSource::points(const Polyline3& line) const {
  std::vector<Place> places;
  for (const Vec3& tip : line) places.push_back(place_of(tip));
  const std::size_t last = line.size() - 1;
  // From each piece that is to be touched anew, whether it goes straight on.
  const auto touched_anew = [&](std::size_t i) {
    return places[i].on_top && places[i + 1].on_top && !is_level(line[i], line[i + 1]) &&
           (plan(line[i + 1]) - plan(line[i])).norm() > kStraight;
  };
  const auto goes_straight = [&](std::size_t from, std::size_t to) {
    const Vec2 way = plan(line[to]) - plan(line[to - 1]), all = plan(line[to - 1]) - plan(line[from]);
    return std::abs(cross2(all, way)) <= kStraight * all.norm() && all.dot(way) > 0;
  };
  // On steep ground the line in plan is no more than chords of the one that is meant.
  const auto runs_across = [&](std::size_t i) {
    const Vec2 way = (plan(line[i + 1]) - plan(line[i])).normalized();
    return std::abs(rise_along(places[i].point, Vec2(-way.y(), way.x()))) > 1;
  };
  std::vector<SmoothPoint> result;
  std::vector<std::uint8_t> anew(last, 0);
  std::vector<std::size_t> ends_at(line.size(), 0);  // of the straight stretch that begins here
  for (std::size_t i = 0; i < last;) {
    std::size_t to = i;
    while (to < last && touched_anew(to) && (to == i || goes_straight(i, to + 1))) ++to;
    if (to > i && (to > i + 1 || !runs_across(i))) {
      ends_at[i] = to;
      std::fill(anew.begin() + static_cast<std::ptrdiff_t>(i), anew.begin() + static_cast<std::ptrdiff_t>(to),
                std::uint8_t{1});
    }
    i = std::max(to, i + 1);
  }
  for (std::size_t i = 0; i <= last;) {
    SmoothPoint point = places[i].point;
    const bool before = i > 0 && anew[i - 1], after = i < last && anew[i];
    // Ends are given. Beside a piece that stays as it is, lower ground would not be free.
    if (before && after) {
      point.at.z() = places[i].middle_z;
    } else if ((before && i < last) || (after && i > 0)) {
      point.at = raised(places[i], before ? line[i] - line[i - 1] : line[i + 1] - line[i]);
      point.planned = point.at == line[i];
    }
    point.more_to_next = after;
    result.push_back(point);
    if (!after) {
      ++i;
      continue;
    }
    SmoothPoint end = places[ends_at[i]].point;
    end.at.z() = places[ends_at[i]].middle_z;
    touch_along(point, end, result);
    i = ends_at[i];
  }
  return result;
}

}  // namespace yardpass::detail
