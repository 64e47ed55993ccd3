#include "strategy/area_cutter.h"

#include <algorithm>
#include <cmath>

#include "yardpass/plan/cut_area.h"

namespace yardpass::detail {

namespace {

/// The loop from one of its places on.
Polyline2 starting_near(const Polyline2& loop, const Vec2& place) {
  const auto [start, best, distance] = nearest_on_loop(loop, place);
  Polyline2 result{start};
  for (std::size_t k = 1; k <= loop.size(); ++k) {
    const Vec2& p = loop[(best + k) % loop.size()];
    if ((p - result.back()).norm() > 1e-9 && (p - start).norm() > 1e-9) result.push_back(p);
  }
  return result;
}

/// Corners of its outline rounded from inside; what is narrower than twice the radius goes.
Region with_round_corners(const Region& region, double radius) {
  constexpr double kArc = 0.002;  // mm
  return radius > 0 ? offset(offset(region, -radius, kArc), radius, kArc) : region;
}

}  // namespace

AreaCounts& AreaCounts::operator+=(const AreaCounts& other) {
  for (std::size_t k = 0; k < ways.size(); ++k) ways[k] += other.ways[k];
  pegs += other.pegs;
  return *this;
}

double passed_within(const Profile& cutter, double stepover, double tolerance) {
  const double flat = cutter.radius_at_height(tolerance);
  // In corners loops lie farther apart than along straight walls.
  constexpr double kInCorners = 0.75;
  return std::min(cutter.radius(), std::max(flat, kInCorners * stepover));
}

AreaCutter::AreaCutter(const Site& site, const RoughingOptions& options, const Region& free, Region piece,
                       double z, double upper_z)
    : site_(site),
      options_(options),
      z_(z),
      upper_z_(upper_z),
      radius_(site.surface.cutter().radius()),
      passed_(passed_within(site.surface.cutter(), options.stepover_mm, site.tolerance_mm)),
      ways_(site, options, free, piece, z) {
  result_.area = std::move(piece);
  result_.group.level_z = z;
}

AreaCuts AreaCutter::cut() {
  if (options_.pattern == LevelPattern::lines)
    lines();
  else
    loops();
  list_refused();
  return std::move(result_);
}

/// The loops of what is left after a stepover first, so that the cut widens from the inside. Returns the
/// outermost ones.
std::vector<Polyline2> AreaCutter::rings(const Region& exact, double depth) {
  // Each ring is drawn from the one before as it is cut, so that points do not multiply.
  Region piece;
  for (const Polyline2& loop : exact.loops)
    piece.loops.push_back(simplify_loop(loop, 0.25 * site_.tolerance_mm));
  const std::vector<Region> inner = pieces(offset(piece, -options_.stepover_mm, arc_tolerance()));
  std::vector<Polyline2> near;
  for (const Region& one : inner)
    for (Polyline2& loop : rings(one, depth + options_.stepover_mm)) near.push_back(std::move(loop));
  const bool rounded = depth > 0 || options_.round_at_walls;
  Region drawn = rounded ? with_round_corners(piece, options_.corner_radius_mm) : piece;
  if (drawn.empty() && inner.empty()) drawn = piece;  // too small for round corners
  const double reach = 1.1 * options_.stepover_mm + options_.corner_radius_mm + site_.tolerance_mm;
  for (Polyline2& loop : drawn.loops) {
    if (rounded) loop = simplify_loop(loop, 0.25 * site_.tolerance_mm);
    LevelLine line{loop};
    line.reach_mm = reach;
    if (inner.empty()) line.first = true, line.within = piece, line.depth_mm = depth;
    lines_.push_back(std::move(line));
  }
  near.insert(near.end(), drawn.loops.begin(), drawn.loops.end());
  // A place between two rings is at most a stepover from the outer one, and where that is rounded the next
  // one out is as near: so up to here no peg can stay.
  if (options_.stepover_mm + (rounded ? options_.corner_radius_mm : 0) > passed_)
    pegs_between(piece, inner, near);
  return std::move(drawn.loops);
}

/// What no loop comes near enough to is cut with loops of its own; it lies inside the area.
void AreaCutter::pegs_between(const Region& piece, const std::vector<Region>& inner,
                              const std::vector<Polyline2>& loops) {
  Region left = piece;
  for (const Region& one : inner) left.loops.insert(left.loops.end(), one.loops.begin(), one.loops.end());
  const double reach = passed_ - 0.5 * site_.tolerance_mm;
  left = subtract(left, around(loops, true, reach, arc_tolerance()));
  constexpr double kDust = 0.005;  // mm, of the planar operations
  left = intersect(offset(offset(left, -kDust), kDust), piece);
  for (const Region& peg : pieces(left)) {
    ++result_.counts.pegs;
    const std::size_t before = lines_.size();
    rings(peg, 0);
    for (std::size_t k = before; k < lines_.size(); ++k) {
      lines_[k].reach_mm = 1.2 * radius_ + site_.tolerance_mm;
      pegs_.push_back(std::move(lines_[k]));
    }
    lines_.resize(before);
  }
}

void AreaCutter::loops() {
  rings(result_.area, 0);
  const bool inwards = ways_.open() && ways_.open_share() > 0.5;
  if (inwards) {
    // From the outside to the middle, and from there on to what stands inside.
    std::stable_partition(lines_.begin(), lines_.end(),
                          [](const LevelLine& line) { return signed_area(line.points) > 0; });
    const auto holes = std::find_if(lines_.begin(), lines_.end(),
                                    [](const LevelLine& line) { return signed_area(line.points) <= 0; });
    std::reverse(lines_.begin(), holes);
  }
  cut_all(inwards);
  lines_ = std::move(pegs_);
  cut_all(false);
}

/// Across the area first, then along its outline, where the lines leave a little.
void AreaCutter::lines() {
  const bool to_and_fro = options_.direction == LoopDirection::zigzag;
  // Near enough to the outline that what lies between is under the lines or under the loop along it.
  const double inset = std::clamp(passed_ - 0.5 * options_.stepover_mm, 0.0,
                                  std::min(0.25 * options_.stepover_mm, 0.5 * radius_));
  const double reach = 1.5 * options_.stepover_mm + site_.tolerance_mm;
  const auto add = [&](Polyline2 points) {
    if (!points.empty()) lines_.push_back({std::move(points), false, to_and_fro, true, {}, 0, reach});
  };
  for (auto& run : runs_of_lines(result_.area, options_.angle_deg, options_.stepover_mm, inset, to_and_fro)) {
    Polyline2 whole;
    for (Polyline2& line : run) {
      if (options_.direction == LoopDirection::climb) std::reverse(line.begin(), line.end());
      // One cut to and fro, as far as the steps from line to line stay inside.
      if (!to_and_fro || (!whole.empty() && !leads_inside(whole.back(), line.front())))
        add(std::exchange(whole, {}));
      whole.insert(whole.end(), line.begin(), line.end());
    }
    add(std::move(whole));
  }
  cut_all(false);
  lines_.clear();
  const Region outline =
      options_.round_at_walls ? with_round_corners(result_.area, options_.corner_radius_mm) : result_.area;
  for (const Polyline2& loop : outline.loops) {
    LevelLine line{simplify_loop(loop, 0.25 * site_.tolerance_mm)};
    line.reach_mm = reach;
    if (signed_area(loop) > 0) line.first = true, line.within = {{loop}};
    lines_.push_back(std::move(line));
  }
  cut_all(false);
}

/// Of arcs around corners: finer than what is simplified away.
double AreaCutter::arc_tolerance() const { return std::max(0.001, 0.1 * site_.tolerance_mm); }

bool AreaCutter::leads_inside(const Vec2& a, const Vec2& b) const {
  const auto parts = inside(result_.area, a, b);
  return parts.size() == 1 && parts[0].from < 1e-9 && parts[0].to > 1 - 1e-9 && ways_.is_free(a, b);
}

/// Of the area, what lies nowhere under the tool.
Region AreaCutter::not_passed() const {
  constexpr double kArc = 0.005;  // mm
  const double reach = passed_ - 0.5 * site_.tolerance_mm;
  Region left = result_.area;
  if (!done_closed_.empty()) left = subtract(left, around(done_closed_, true, reach, kArc));
  if (!done_open_.empty()) left = subtract(left, around(done_open_, false, reach, kArc));
  return left;
}

/// In their order; what cannot be entered yet comes as soon as it can.
void AreaCutter::cut_all(bool inwards) {
  std::vector<std::size_t> waiting;
  const auto try_waiting = [&](bool may_go_down) {
    for (bool again = true; again;) {
      again = false;
      for (auto it = waiting.begin(); it != waiting.end();) {
        const bool done = try_one(lines_[*it], may_go_down, inwards);
        it = done ? waiting.erase(it) : it + 1;
        if (done && may_go_down) return true;
        again |= done;
      }
    }
    return false;
  };
  // Another way down is worth its time for a lobe, but not for the last corner of one, nor for lines that
  // what is beside them will open.
  const double lobe = 6 * radius_;
  for (std::size_t k = 0; k < lines_.size(); ++k) {
    const LevelLine& line = lines_[k];
    const bool own = line.closed && length(std::span<const Vec2>(line.points)) > lobe;
    const bool may_go_down = !ways_.open() && line.first && (own || result_.group.cuts.empty());
    if (!try_one(line, may_go_down, inwards))
      waiting.push_back(k);
    else if (!waiting.empty())
      try_waiting(false);
  }
  while (try_waiting(true)) try_waiting(false);
  refused_some_ |= !waiting.empty();
}

bool AreaCutter::try_one(const LevelLine& line, bool may_go_down, bool inwards) {
  std::optional<WayIn> way = ways_.from_cut(line);
  if (!way) way = ways_.from_air(line);
  if (!way && may_go_down) way = ways_.down(line);
  if (way) emit(line, *way, inwards);
  return way.has_value();
}

void AreaCutter::emit(const LevelLine& line, const WayIn& way, bool inwards) {
  const bool led = way.kind != WayKind::ramp && way.kind != WayKind::plunge;
  Polyline2 curve = led && line.closed ? starting_near(line.points, way.to) : line.points;
  if (!line.closed && line.either_end && led && way.to == curve.back())
    std::reverse(curve.begin(), curve.end());
  if (line.closed) {
    // Inwards the material lies on the other hand.
    const bool back = (options_.direction == LoopDirection::conventional) != inwards ||
                      (options_.direction == LoopDirection::zigzag &&
                       options_.pattern == LevelPattern::loops && result_.group.cuts.size() % 2 == 1);
    if (back) std::reverse(curve.begin() + (led ? 1 : 0), curve.end());
    curve.push_back(curve.front());
  }
  (line.closed ? done_closed_ : done_open_).push_back(line.points);
  const double long_enough = line.closed ? 0.05 * radius_ : site_.tolerance_mm;
  if (length(std::span<const Vec2>(curve)) < long_enough) return;
  std::vector<Polyline3> lifted = ways_.room().at_level(curve);
  for (Polyline3& points : lifted) {
    const bool closed = line.closed && lifted.size() == 1 && plan(points.front()) == plan(points.back());
    Cut cut;
    cut.entry = way.kind == WayKind::plunge ? Entry::straight : Entry::ramp;
    if (led && &points == &lifted.front()) {
      points.insert(points.begin(), with_z(way.from, points.front().z()));
      if (way.kind == WayKind::helix) cut.entry = Entry::helix, cut.helix = way.helix;
    } else if (closed) {
      points.back().z() = points.front().z() = std::max(points.front().z(), points.back().z());
      points.pop_back();
      cut.closed = true;
    }
    cut.points = std::move(points);
    if (cut.points.size() >= 2) result_.group.cuts.push_back(std::move(cut));
  }
  ++result_.counts.of(way.kind);
  ways_.is_cut(line, curve.back());
}

void AreaCutter::list_refused() {
  if (!refused_some_) return;
  if (result_.group.cuts.empty()) {  // how much that is, is known when all areas of the level are cut
    result_.refused.push_back({with_z(result_.area.loops.front().front(), z_)});
    return;
  }
  for (const Region& piece : pieces(offset(offset(not_passed(), -0.01), 0.01)))
    if (const RefusedArea one = refused_area(site_, piece, z_, upper_z_); one.area_mm2 > 0)
      result_.refused.push_back(one);
}

RefusedArea refused_area(const Site& site, const Region& swept, double z, double upper_z) {
  if (swept.empty()) return {};
  const double height = std::isfinite(upper_z) ? std::max(0.0, upper_z - z) : 0;
  RefusedArea refused{with_z(swept.loops.front().front(), z), swept.area_mm2(), swept.area_mm2() * height};
  if (site.before) {
    const MaterialUnder under = material_under(*site.before, swept, z, upper_z);
    refused.area_mm2 = under.area_mm2, refused.volume_mm3 = under.volume_mm3;
  }
  return refused;
}

}  // namespace yardpass::detail
