#include "link/trail.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "yardpass/geom/polyline.h"

namespace yardpass::detail {

double slope_of(double degrees) { return std::tan(degrees * std::numbers::pi / 180); }

double seconds_of_rapid(const Vec3& from, const Vec3& to, const LinkOptions& options) {
  const Vec3 way = (to - from).cwiseAbs();
  const double length = way.norm();
  if (!(length > 0)) return 0;
  // As fast as the slowest axis lets it, speeding up and slowing down in between.
  const double at_speed = way.cwiseQuotient(options.rapid_mm_min / 60).maxCoeff(), speed = length / at_speed,
               up = speed / options.acceleration_mm_s2;
  return at_speed > up ? at_speed + up : 2 * std::sqrt(length / options.acceleration_mm_s2);
}

double seconds_by_plane(const Vec3& from, const Vec3& to, const LinkOptions& options) {
  const Vec3 up = with_z(plan(from), options.plane_z), across = with_z(plan(to), options.plane_z);
  return seconds_of_rapid(from, up, options) + seconds_of_rapid(up, across, options) +
         seconds_of_rapid(across, to, options);
}

double seconds_of(const Toolpath& path, const LinkOptions& options) {
  double sum = 0;
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    sum += move.kind == MoveKind::rapid ? seconds_of_rapid(at, move.to, options)
                                        : (move.to - at).norm() / move.feed_mm_min * 60;
    at = move.to;
  }
  return sum;
}

Trail::Trail(const ToolSurface& surface, Stock before, const LinkOptions& options)
    : surface_(surface), tool_(surface.tool()), material_(surface, std::move(before)), options_(options) {
  path_.tool = tool_;
  path_.rounding_reserve_mm = surface.rounding_reserve_mm();
  if (surface.allowance_mm() < 0) uncut_.emplace(surface.shared_part(), surface.cutter());
}

double Trail::feed_of(MoveKind kind) const {
  switch (kind) {
    case MoveKind::rapid:
      return 0;
    case MoveKind::plunge:
      return tool_.plunge_feed_mm_min;
    case MoveKind::ramp:
      return tool_.ramp_feed_mm_min;
    case MoveKind::cut:
    case MoveKind::lead:
      return tool_.feed_mm_min;
    case MoveKind::link:
      return tool_.link_feed_mm_min;
  }
  return 0;
}

void Trail::go(const Vec3& to, MoveKind kind) {
  if (to == at_) return;
  path_.moves.push_back({to, kind, feed_of(kind), static_cast<std::int32_t>(path_.cuts.size()) - 1});
  if (kind != MoveKind::rapid) material_.moved(at_, to, path_.moves.back().cut);
  at_ = to;
}

Polyline3 Trail::without_dust(const Polyline3& line) const {
  constexpr double kDust = 0.01;  // mm
  Polyline3 kept, dropped;        // since the last one that was kept
  const auto may_go = [&](const Vec3& before, const Vec3& after) {
    return std::all_of(dropped.begin(), dropped.end(),
                       [&](const Vec3& p) {
                         return distance_to_segment(p, before, after) <= 0.25 * options_.tolerance_mm;
                       }) &&
           surface_.clearance(before, after, 0.0).room >= -kTouchError;
  };
  for (std::size_t i = 0; i < line.size(); ++i) {
    const bool inner = !kept.empty() && i + 1 < line.size();
    if (inner && (line[i] - kept.back()).norm() < kDust) {
      dropped.push_back(line[i]);
      if (may_go(kept.back(), line[i + 1])) continue;
      dropped.clear();
    }
    // The last point stays; what lies close before it may go.
    if (i + 1 == line.size() && kept.size() > 1 && (line[i] - kept.back()).norm() < kDust) {
      dropped.push_back(kept.back());
      if (may_go(kept[kept.size() - 2], line[i])) kept.pop_back();
    }
    kept.push_back(line[i]);
    dropped.clear();
  }
  return kept;
}

void Trail::retract() { go(with_z(plan(at_), options_.plane_z), MoveKind::rapid); }

double Trail::height_across(const Vec2& from, const Vec2& to, double least) {
  const auto of_part = [&](const TipSurface& surface) {
    const double matters = options_.plane_z - (least - options_.feed_height_mm);
    return options_.plane_z -
           surface.clearance(with_z(from, options_.plane_z), with_z(to, options_.plane_z), matters).room;
  };
  double highest = std::max(least - options_.feed_height_mm, of_part(surface_));
  if (uncut_) highest = std::max(highest, of_part(*uncut_));
  highest = std::max(highest, material_.free_height(from, to, highest));
  return highest + options_.feed_height_mm;
}

void Trail::across(const Vec2& place, double z) {
  if (options_.dog_leg_rapids && z < options_.plane_z) go(Vec3(place.x(), at_.y(), z), MoveKind::rapid);
  go(with_z(place, z), MoveKind::rapid);
}

/// One axis at a time may take longer than all at once higher up.
bool Trail::quicker_than_plane(const Vec2& place, double up, double down_to) const {
  Polyline3 way{at_, with_z(plan(at_), up)};
  if (options_.dog_leg_rapids) way.emplace_back(place.x(), at_.y(), up);
  way.push_back(with_z(place, up));
  way.push_back(with_z(place, down_to));
  double seconds = 0;
  for (std::size_t i = 1; i < way.size(); ++i) seconds += seconds_of_rapid(way[i - 1], way[i], options_);
  return seconds <= seconds_by_plane(at_, with_z(place, down_to), options_);
}

void Trail::come_over(const Vec2& place, double z, double lift_up_to_mm) {
  double safe = options_.plane_z;
  // Rapid ends above material and part; where all is far below, at z itself. It does not enter the part even
  // where that is to be cut into and no stock stands over it.
  const auto safe_height = [&] {
    double height = std::max({material_.free_height(place), material_.over_own_ribs(place),
                              surface_.height(place), uncut_ ? uncut_->height(place) : kNothingBelow});
    return std::min(std::max(z, height + options_.feed_height_mm), options_.plane_z);
  };
  if (started_) {
    material_.catch_up();
    safe = safe_height();
    double up = options_.plane_z;
    if ((place - plan(at_)).norm() <= lift_up_to_mm) {
      const double least = std::max(at_.z(), safe);
      if (options_.dog_leg_rapids) {
        const Vec2 corner(place.x(), at_.y());
        up = std::max(height_across(plan(at_), corner, least), height_across(corner, place, least));
      } else {
        up = height_across(plan(at_), place, least);
      }
    }
    const bool by_plane = up >= options_.plane_z || !quicker_than_plane(place, up, safe);
    if (by_plane) up = options_.plane_z;
    ++(by_plane ? counts_.planes : counts_.lifts);
    go(with_z(plan(at_), up), MoveKind::rapid);
    across(place, up);
  } else {
    path_.start = at_ = with_z(place, options_.plane_z);
    started_ = true;
    safe = safe_height();
  }
  if (safe < at_.z()) go(with_z(place, safe), MoveKind::rapid);
}

bool Trail::is_free(const Vec3& a, const Vec3& b) const {
  return !crosses_keep_out(a, b) && surface_.clearance(a, b, 0.0).room >= -kTouchError;
}
bool Trail::is_free(const Polyline3& line) const {
  for (std::size_t i = 1; i < line.size(); ++i)
    if (!is_free(line[i - 1], line[i])) return false;
  return true;
}
double Trail::room(const Vec3& a, const Vec3& b) const {
  constexpr double kNone = -1e9;
  if (std::min(a.z(), b.z()) < options_.bottom_z || crosses_keep_out(a, b)) return kNone;
  return surface_.clearance(a, b, 0.0).room + kTouchError;
}

bool Trail::crosses_keep_out(const Vec3& a, const Vec3& b) const {
  if (options_.keep_out.empty()) return false;
  if (plan(a) == plan(b)) return options_.keep_out.contains(plan(a));
  const auto crossed = inside(options_.keep_out, plan(a), plan(b));
  return std::any_of(crossed.begin(), crossed.end(),
                     [](const Interval& piece) { return piece.to > piece.from; });
}

bool Trail::goes_right_way(const Polyline3& line) const {
  if (options_.ways == HeightWays::any) return true;
  const double sign = options_.ways == HeightWays::up ? 1 : -1;
  double farthest = sign * at_.z();
  for (const Vec3& p : line) {
    if (sign * p.z() < farthest - options_.tolerance_mm) return false;
    farthest = std::max(farthest, sign * p.z());
  }
  return true;
}

bool Trail::too_much_under(const Vec3& place) {
  if (tool_.steepest_entry_deg >= 90) return false;
  material_.catch_up();
  return material_.under_axis(place) > 0.9 * tool_.plunge_through_mm;
}
bool Trail::too_steep(const Vec3& from, const Vec3& to) const {
  return from.z() - to.z() > slope_of(tool_.steepest_entry_deg) * (plan(to) - plan(from)).norm();
}

LinkedCuts Trail::take() {
  material_.catch_up();
  const auto deep = static_cast<std::int64_t>(material_.deep_cuts().size());
  LinkedCuts result{std::move(path_), material_.take()};
  result.counts = counts_;
  if (deep > 0)
    result.notes.push_back({"flutes",
                            "{} of {} passes cut deeper than the flutes, {}",
                            {count_of(deep), count_of(static_cast<std::int64_t>(result.path.cuts.size())),
                             length_of(tool_.flute_length_mm)}});
  return result;
}

}  // namespace yardpass::detail
