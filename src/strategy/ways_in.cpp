#include "strategy/ways_in.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "yardpass/plan/roomy_place.h"

namespace yardpass::detail {

namespace {

constexpr double kBesideStock = 1;   // mm between the tool and the stock where it comes down
constexpr double kTouching = 0.005;  // mm: so little above the level does not count as standing there

/// The place of a line that is nearest to p.
NearestOnLoop nearest_on(const LevelLine& line, const Vec2& p) {
  if (line.closed || line.points.size() < 3) return nearest_on_loop(line.points, p);
  NearestOnLoop best;
  for (std::size_t i = 0; i + 1 < line.points.size(); ++i) {
    const NearestOnLoop one = nearest_on_loop(std::span(line.points).subspan(i, 2), p);
    if (one.distance_mm < best.distance_mm) best = {one.at, i, one.distance_mm};
  }
  return best;
}

/// Where a line may be entered.
std::vector<Vec2> entrances(const LevelLine& line, std::size_t most) {
  std::vector<Vec2> places;
  if (!line.closed) {
    places.push_back(line.points.front());
    if (line.either_end) places.push_back(line.points.back());
    return places;
  }
  for (std::size_t i = 0; i < line.points.size(); i += std::max<std::size_t>(1, line.points.size() / most))
    places.push_back(line.points[i]);
  return places;
}

/// The place to enter a line for who comes from p.
Vec2 entrance_near(const LevelLine& line, const Vec2& p) {
  if (line.closed) return nearest_on(line, p).at;
  const bool end = line.either_end && (line.points.back() - p).norm() < (line.points.front() - p).norm();
  return end ? line.points.back() : line.points.front();
}

}  // namespace

WaysIn::WaysIn(const Site& site, const RoughingOptions& options, const Region& free, const Region& piece,
               double z)
    : site_(site),
      options_(options),
      free_(free),
      z_(z),
      room_(site, z),
      wider_(*resized(site.surface.cutter(), site.before ? 0.5 * site.before->cell_mm() : 0.1)) {
  if (site_.before) {
    const auto heights = site_.before->heights();
    all_stands_ = std::all_of(heights.begin(), heights.end(), [&](double h) { return h > z; });
    find_open(piece);
  }
}

bool WaysIn::in_air(const Vec2& p) const {
  return site_.before->free_height(wider_.profile, p) - wider_.tip_z_mm <= z_ + kTouching;
}

void WaysIn::find_open(const Region& piece) {
  const Box2 block(plan(site_.before->block().min()), plan(site_.before->block().max()));
  const double radius = site_.surface.cutter().radius(), clear = radius + kBesideStock;
  for (const Vec2& place : site_.drilled)
    if (free_.contains(place) && in_air(place)) open_.push_back({place, place, true});
  constexpr double kAtSide = 0.01;  // mm
  const Box2 block_inside(block.min().array() + kAtSide, block.max().array() - kAtSide);
  const auto in_hole = [&](const Vec2& p) {
    return std::any_of(site_.drilled.begin(), site_.drilled.end(),
                       [&](const Vec2& hole) { return (hole - p).norm() <= radius; });
  };
  double all = 0, open = 0;
  for (const Polyline2& loop : piece.loops)
    for (std::size_t i = 0; i < loop.size(); ++i) {
      const Vec2 &a = loop[i], &b = loop[(i + 1) % loop.size()], along = b - a;
      const double length = along.norm();
      all += length;
      if (length < 1e-3) continue;
      const int parts = std::min(64, 1 + static_cast<int>(length / (2 * radius)));
      for (int k = 0; k < parts; ++k) {
        const Vec2 at = a + (k + 0.5) / parts * along;
        if ((!all_stands_ || block.exteriorDistance(at) >= radius) && in_air(at) && is_free(at, at)) {
          open_.push_back({at, at, in_hole(at)});
          open += length / parts;
          continue;
        }
        // Only where the area reaches to the side of the stock: else solid would be cut outside it.
        if (!options_.may_leave || block_inside.contains(at)) continue;
        const Vec2 out = Vec2(along.y(), -along.x()) / length;  // the area is on the left
        const Vec2 outside = at + (clear + radius) * out;
        if (block.exteriorDistance(outside) < clear || !is_free(outside, at)) continue;
        open_.push_back({outside, at, false});
        open += length / parts;
      }
    }
  if (all > 0) open_share_ = open / all;
}

std::optional<WayIn> WaysIn::from_cut(const LevelLine& line) const {
  constexpr std::size_t kPlaces = 24, kBack = 40;
  if (cut_.empty()) return std::nullopt;
  // Best from where the last line ended: without any way at all.
  if (at_) {
    const Vec2 to = entrance_near(line, *at_);
    if ((to - *at_).norm() <= line.reach_mm && is_free(*at_, to)) return WayIn{WayKind::from_cut, *at_, to};
  }
  // Else where least is travelled, from the last lines first.
  const std::vector<Vec2> places = entrances(line, kPlaces);
  for (std::size_t k = cut_.size(); k-- > (cut_.size() > kBack ? cut_.size() - kBack : 0);) {
    WayIn best{WayKind::from_cut};
    double least = std::numeric_limits<double>::infinity();
    for (const Vec2& place : places) {
      const NearestOnLoop near = nearest_on(cut_[k], place);
      const double travel = at_ ? (near.at - *at_).norm() : near.distance_mm;
      if (near.distance_mm <= line.reach_mm && travel < least && is_free(near.at, place))
        least = travel, best.from = near.at, best.to = place;
    }
    if (std::isfinite(least)) return best;
  }
  return std::nullopt;
}

std::optional<WayIn> WaysIn::from_air(const LevelLine& line) const {
  // The shortest ways first, as far as they are counted: proving is what costs.
  constexpr std::size_t kTried = 12;
  struct Candidate {
    double length;
    std::size_t index;
    Vec2 to;
  };
  std::vector<Candidate> candidates;
  for (std::size_t k = 0; k < open_.size(); ++k) {
    const Vec2 to = entrance_near(line, open_[k].to);
    candidates.push_back({(to - open_[k].to).norm(), k, to});
  }
  const std::size_t tried = std::min(kTried, candidates.size());
  std::partial_sort(candidates.begin(), candidates.begin() + static_cast<std::ptrdiff_t>(tried),
                    candidates.end(), [](const Candidate& a, const Candidate& b) {
                      return a.length < b.length || (a.length == b.length && a.index < b.index);
                    });
  for (std::size_t k = 0; k < tried; ++k) {
    const OpenPlace& place = open_[candidates[k].index];
    if (is_free(place.from, candidates[k].to))
      return WayIn{place.drilled ? WayKind::drilled : WayKind::from_air, place.from, candidates[k].to};
  }
  return std::nullopt;
}

/// Where a helix to a line may have its axis: well inside, or on the way of an open line, near its start.
std::optional<Vec2> WaysIn::helix_place(const LevelLine& line) const {
  const double wanted = options_.helix_radius_mm;
  if (line.closed) {
    const auto place = roomy_place(line.within, std::max(kRegionStep, wanted - line.depth_mm));
    return place ? std::optional(place->at) : std::nullopt;
  }
  constexpr int kPlaces = 32;
  RoomyPlace best;
  for (int k = 0; k <= kPlaces && best.room_mm < wanted; ++k) {
    const Vec2 at = line.points[0] + static_cast<double>(k) / kPlaces * (line.points[1] - line.points[0]);
    if (const double room = room_at(free_, at); room > best.room_mm) best = {at, room};
  }
  return best.room_mm > 0 ? std::optional(best.at) : std::nullopt;
}

std::optional<WayIn> WaysIn::helix(const LevelLine& line) const {
  std::optional<Vec2> place = helix_place(line);
  if (!place) return std::nullopt;
  // The outline keeps a little from what is blocked, so the least radius is tried whatever it says.
  const double room = std::min(options_.helix_radius_mm, room_at(free_, *place));
  const double radius = std::max(room, options_.least_helix_mm);
  if (radius > room + 4 * site_.tolerance_mm) return std::nullopt;
  place = room_.helix_fits(*place, radius);
  if (!place) return std::nullopt;
  WayIn way{WayKind::helix};
  way.to = entrance_near(line, *place);
  const Vec2 out = way.to - *place;
  way.from = *place + radius * (out.norm() > 1e-9 ? Vec2(out.normalized()) : Vec2(1, 0));
  way.helix = {*place, radius, options_.direction == LoopDirection::conventional};
  return is_free(way.from, way.to) ? std::optional(way) : std::nullopt;
}

std::optional<WayIn> WaysIn::down(const LevelLine& line) const {
  if (options_.entry == LevelEntry::plunge) {
    const Vec2& start = line.points.front();
    return WayIn{WayKind::plunge, start, start};
  }
  if (options_.entry == LevelEntry::helix)
    if (const auto way = helix(line)) return way;
  Box2 box;
  for (const Vec2& p : line.points) box.extend(p);
  if (box.sizes().maxCoeff() < options_.least_ramp_mm) return std::nullopt;
  return WayIn{WayKind::ramp, line.points.front(), line.points.front()};
}

void WaysIn::is_cut(const LevelLine& line, const Vec2& end) {
  cut_.push_back({line.points, line.closed});
  at_ = end;
}

}  // namespace yardpass::detail
