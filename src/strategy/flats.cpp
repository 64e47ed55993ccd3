#include "yardpass/strategy/flats.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "geom/parallel_for.h"
#include "strategy/area_cutter.h"
#include "strategy/level_keys.h"
#include "yardpass/plan/level_area.h"
#include "yardpass/plan/spacing.h"

namespace yardpass {

namespace {

/// Radius of what of the end is flat.
double flat_radius(const Profile& cutter) {
  const Profile::Piece& first = cutter.pieces().front();
  return first.arc == 0 && first.z1 == first.z0 ? first.r1 : 0;
}

constexpr double kLevel = 0.001;  // mm

/// Of triangles, all with their corners anticlockwise: where they lie in plan.
Region shadow(const std::vector<std::array<Vec2, 3>>& triangles) {
  // Sides that two of them share, running against each other, are inside.
  const auto less = [](const Vec2& a, const Vec2& b) {
    return a.x() != b.x() ? a.x() < b.x() : a.y() < b.y();
  };
  const auto side_less = [&](const std::pair<Vec2, Vec2>& a, const std::pair<Vec2, Vec2>& b) {
    return less(a.first, b.first) || (!less(b.first, a.first) && less(a.second, b.second));
  };
  std::map<std::pair<Vec2, Vec2>, int, decltype(side_less)> rim(side_less);
  for (const auto& corners : triangles)
    for (std::size_t k = 0; k < 3; ++k) {
      const Vec2 &a = corners[k], &b = corners[(k + 1) % 3];
      if (const auto other = rim.find({b, a}); other != rim.end()) {
        if (--other->second == 0) rim.erase(other);
      } else {
        ++rim[{a, b}];
      }
    }
  std::vector<Polyline2> loops;
  while (!rim.empty()) {
    Polyline2 loop;
    for (auto at = rim.begin(); at != rim.end();) {
      loop.push_back(at->first.first);
      const Vec2 end = at->first.second;
      if (--at->second == 0) rim.erase(at);
      at = rim.lower_bound({end, Vec2(-1e300, -1e300)});
      if (at != rim.end() && at->first.first != end) at = rim.end();
    }
    if (loop.size() > 2) loops.push_back(std::move(loop));
  }
  return wound_around(loops);
}

}  // namespace

std::vector<LevelFace> flats_of(const TipSurface& surface) {
  const Mesh& mesh = surface.part().mesh();
  struct Level {
    double z, tip_z;
    std::array<Vec2, 3> corners;
  };
  std::vector<Level> level;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const Vec3 &a = mesh.corner(t, 0), &b = mesh.corner(t, 1), &c = mesh.corner(t, 2);
    const auto [low, high] = std::minmax({a.z(), b.z(), c.z()});
    const double area = cross2(plan(b) - plan(a), plan(c) - plan(a));
    if (high - low > kLevel || std::abs(area) < 1e-9) continue;
    std::array<Vec2, 3> corners{plan(a), plan(b), plan(c)};
    if (area < 0) std::swap(corners[1], corners[2]);  // however the file has it turned
    const double tip_z =
        surface.height_over(static_cast<std::int32_t>(t), (corners[0] + corners[1] + corners[2]) / 3);
    level.push_back({high, tip_z, corners});
  }
  const TipSurface needle(surface.shared_part(), Profile::needle());
  std::vector<std::uint8_t> covered(level.size(), 0);
  detail::parallel_for(level.size(), [&](std::size_t i) {
    const Vec2 middle = (level[i].corners[0] + level[i].corners[1] + level[i].corners[2]) / 3;
    covered[i] = needle.height(middle) > level[i].z + kLevel;
  });
  std::vector<Level> seen;
  for (std::size_t i = 0; i < level.size(); ++i)
    if (!covered[i]) seen.push_back(level[i]);
  std::stable_sort(seen.begin(), seen.end(),
                   [](const Level& a, const Level& b) { return a.tip_z > b.tip_z; });
  std::vector<LevelFace> flats;
  for (std::size_t i = 0; i < seen.size();) {
    std::vector<std::array<Vec2, 3>> triangles;
    const Level& top = seen[i];
    for (; i < seen.size() && top.tip_z - seen[i].tip_z <= kLevel; ++i) triangles.push_back(seen[i].corners);
    LevelFace flat{top.z, top.tip_z, shadow(triangles)};
    if (!flat.outline.empty()) flats.push_back(std::move(flat));
  }
  return flats;
}

void keys_of(FlatsOptions& options, const Tool& tool, Keys& keys) {
  const double d = tool.diameter_mm;
  const double flat = tool.shape == Shape::flat   ? d
                      : tool.shape == Shape::bull ? d - 2 * tool.corner_radius_mm
                                                  : 0;
  keys.refuse_if(!(flat > 0), {"tool"},
                 "has no flat end: flats are finished with a flat cutter or a bull cutter");
  detail::level_stepover_key(
      options.stepover_mm, {flat > 0 ? 0.6 * flat : 0.5 * d, "0.6 of the flat width of the tip"},
      "between loops or lines; below the tool's diameter", "0.6 of the flat width of the tip", tool, keys);
  detail::pattern_keys(options.pattern, options.angle_deg, options.direction, keys);
  detail::ramp_angle_key(options.ramp_angle_deg, tool, keys);
  keys.number("least_area", options.least_area_mm2, {0.05 * d * d, "0.05 of the diameter squared"},
              {.says = "flats that have less of it are left to other operations",
               .usual = "0.05 of the diameter squared",
               .unit = Unit::mm2,
               .low = 0,
               .high = 1e9});
}

Usual usual_of(const FlatsOptions& options, const Tool&) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spacing_mm = options.stepover_mm;
  usual.spread = Spread::on_flats;
  usual.at_levels = true;
  usual.repeats = true;
  usual.exact_floors = true;
  usual.ramp_angle_deg = options.ramp_angle_deg;
  return usual;
}

namespace {

/// What one flat gives.
struct FlatCuts {
  std::vector<detail::AreaCuts> areas;
  double reached_mm2 = 0, wanted_mm2 = 0;
  Vec2 not_reached{0, 0};
};

class FlatCutter {
 public:
  FlatCutter(const FlatsOptions& options, const Site& site, const LevelAreas& areas)
      : site_(site), areas_(areas), flat_(flat_radius(site.surface.cutter())) {
    rough_.stepover_mm = options.stepover_mm;
    rough_.pattern = options.pattern;
    rough_.angle_deg = options.angle_deg;
    rough_.direction = options.direction;
    rough_.ramp_angle_deg = options.ramp_angle_deg;
    rough_.helix_radius_mm = 0.5 * site.surface.cutter().radius();
    rough_.least_helix_mm = 0.15 * site.surface.cutter().radius();
    rough_.least_ramp_mm = rough_.helix_radius_mm;
  }

  [[nodiscard]] FlatCuts cut(const LevelFace& flat, double z) const {
    FlatCuts result;
    const Region free = intersect(areas_.at(z).area, site_.area);
    const Region axis = where_to_stand(flat.outline, free);
    for (Region& piece : pieces(axis)) {
      detail::AreaCuts cuts = cutter(rough_, free, piece, z).cut();
      if (!cuts.refused.empty()) {  // too narrow for a helix or a ramp
        RoughingOptions straight = rough_;
        straight.entry = LevelEntry::plunge;
        cuts = cutter(straight, free, std::move(piece), z).cut();
      }
      if (!cuts.group.cuts.empty()) result.areas.push_back(std::move(cuts));
    }
    const Region wanted = intersect(flat.outline, offset(site_.area, flat_, kArc));
    const Region missed = subtract(wanted, offset(offset(axis, flat_, kArc), 0.02, kArc));
    result.wanted_mm2 = wanted.area_mm2();
    result.reached_mm2 = result.wanted_mm2 - missed.area_mm2();
    double most = 0;
    for (const Polyline2& loop : missed.loops)
      if (signed_area(loop) > most) most = signed_area(loop), result.not_reached = loop.front();
    return result;
  }

 private:
  [[nodiscard]] detail::AreaCutter cutter(const RoughingOptions& options, const Region& free, Region piece,
                                          double z) const {
    return {site_, options, free, std::move(piece), z, z + 1};
  }
  /// A little over open edges; where a flat is so narrow beside a wall that the tool must stand out farther,
  /// as far as that takes.
  [[nodiscard]] Region where_to_stand(const Region& flat, const Region& free) const {
    const double lap = 0.25 * flat_;
    Region axis = intersect(free, offset(flat, lap, kArc));
    const Region missed = subtract(flat, offset(axis, flat_, kArc));
    if (missed.empty()) return axis;
    // What is not under the tool though it could be: drawn in first, so that dust brings nothing along.
    const Region narrow = offset(offset(missed, -0.01, kArc), 0.01 + 0.9 * flat_, kArc);
    return unite(axis, intersect(free, narrow));
  }

  static constexpr double kArc = 0.002;  // mm
  const Site& site_;
  const LevelAreas& areas_;
  double flat_;
  RoughingOptions rough_;
};

void tell(const std::vector<FlatCuts>& cuts, const std::vector<double>& heights, std::int64_t passed_over,
          CutPlan& plan) {
  double wanted = 0, reached = 0, most = 0;
  Vec3 at(0, 0, 0);
  std::int64_t count = 0;
  for (std::size_t i = 0; i < cuts.size(); ++i) {
    wanted += cuts[i].wanted_mm2, reached += cuts[i].reached_mm2;
    count += !cuts[i].areas.empty();
    if (const double missed = cuts[i].wanted_mm2 - cuts[i].reached_mm2; missed > most)
      most = missed, at = with_z(cuts[i].not_reached, heights[i]);
  }
  plan.facts.push_back({"flats", count_of(count), "level faces within the boundary"});
  plan.facts.push_back({"area of flats", number_of(wanted, Unit::mm2), "within the boundary"});
  if (wanted - reached > 0.001 * wanted)
    plan.notes.push_back({"flats",
                          "{} of {} of flats lie nearer to walls than the flat of the tool comes, most at {}",
                          {number_of(wanted - reached, Unit::mm2), number_of(wanted, Unit::mm2),
                           place_at(at.x(), at.y(), at.z())}});
  if (passed_over > 0)
    plan.notes.push_back({"flats",
                          passed_over == 1 ? "{} flat below the least area is left out"
                                           : "{} flats below the least area are left out",
                          {count_of(passed_over)}});
  if (plan.empty())
    plan.notes.push_back({"nothing", wanted > 0 ? "nothing to cut: the tool can stand on none of the flats"
                                                : "nothing to cut: there is no flat inside the boundary"});
}

}  // namespace

CutPlan cuts_of(const FlatsOptions& options, const Site& site, const Progress& progress) {
  const double diameter = 2 * site.surface.cutter().radius();
  require(options.stepover_mm > 0 && options.stepover_mm < diameter, "stepover_mm",
          "must be above 0 and below the tool's diameter");
  require(options.least_area_mm2 >= 0, "least_area_mm2", "must be at least 0");
  if (!(flat_radius(site.surface.cutter()) > 0))
    throw Error("flats are finished with a tool that has a flat end");
  if (site.area.empty()) return {};
  std::vector<LevelFace> all = flats_of(site.surface);
  const double wide = site.surface.cutter().radius();
  std::erase_if(all, [&](const LevelFace& flat) {
    return flat.z > site.top_z || flat.z < site.bottom_z ||
           intersect(flat.outline, offset(site.area, wide)).empty();
  });
  const auto count = std::ssize(all);
  std::erase_if(all, [&](const LevelFace& flat) { return flat.outline.area_mm2() < options.least_area_mm2; });
  const LevelAreas areas(site.surface, site.area.box(), {.tolerance_mm = site.tolerance_mm},
                         part_of(progress, 0, 0.5));
  const FlatCutter cutter(options, site, areas);
  std::vector<FlatCuts> cuts(all.size());
  std::vector<double> heights(all.size());
  detail::parallel_for(all.size(), part_of(progress, 0.5, 1), [&](std::size_t i) {
    heights[i] = site.surface.posted_height(all[i].tip_z);
    cuts[i] = cutter.cut(all[i], heights[i]);
  });
  CutPlan plan;
  plan.keep_group_order = false;
  std::int32_t pass = 0;
  for (FlatCuts& of_flat : cuts)
    for (detail::AreaCuts& area : of_flat.areas) {
      for (Cut& cut : area.group.cuts) cut.pass = ++pass;
      plan.groups.push_back(std::move(area.group));
    }
  tell(cuts, heights, count - std::ssize(all), plan);
  return plan;
}

}  // namespace yardpass
