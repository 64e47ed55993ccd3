// What a cutter takes off the faces beside an edge, by definition.
#pragma once

#include <functional>

#include "support/nasty.h"
#include "yardpass/geom/edge_section.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/tool/segment_touch.h"
#include "yardpass/tool/tool.h"

namespace yardpass::testing::broken {

inline Tool ball(double diameter) {
  return completed({.name = "ball",
                    .shape = Shape::ball,
                    .diameter_mm = diameter,
                    .flute_length_mm = 12,
                    .stickout_mm = 40});
}
inline Tool chamfer(double angle_deg) {
  Tool tool{.name = "chamfer", .shape = Shape::chamfer, .diameter_mm = 12};
  tool.taper_angle_deg = angle_deg, tool.tip_diameter_mm = 0.5, tool.stickout_mm = 40;
  return completed(tool);
}

inline Region wide() { return rectangle(Box2(Vec2(-200, -200), Vec2(200, 200))); }

/// The tip's ways as they will be run.
inline std::vector<Polyline3> sunk_ways(const CutPlan& plan) {
  std::vector<Polyline3> ways;
  for (const CutGroup& group : plan.groups)
    for (const Cut& cut : group.cuts) {
      Polyline3 way = cut.points;
      const DepthLine& depths = plan.sunk[static_cast<std::size_t>(cut.pass) - 1];
      for (std::size_t i = 0; i < way.size(); ++i) way[i].z() -= depths.depth_mm[i];
      ways.push_back(std::move(way));
    }
  return ways;
}

inline bool taken(const Profile& cutter, const std::vector<Polyline3>& ways, const Vec3& place) {
  for (const Polyline3& way : ways)
    for (std::size_t i = 0; i + 1 < way.size(); ++i) {
      const Vec2 low = plan(way[i]).cwiseMin(plan(way[i + 1])).array() - cutter.radius(),
                 high = plan(way[i]).cwiseMax(plan(way[i + 1])).array() + cutter.radius();
      if (!Box2(low, high).contains(plan(place))) continue;
      if (swept_height(cutter, plan(place), way[i], way[i + 1]) < place.z()) return true;
    }
  return false;
}

using OnFace = std::function<Vec3(const Vec3&)>;

/// How far a face is taken off, `on` bringing places onto it.
inline double leg(const Profile& cutter, const std::vector<Polyline3>& ways, const Vec3& edge,
                  const Vec3& into, const OnFace& on) {
  double low = 1e-4, high = 5;
  if (!taken(cutter, ways, on(edge + low * into))) return 0;
  // The nearest place from the edge on that stays.
  for (double way = 0.05; way < high; way += 0.05)
    if (!taken(cutter, ways, on(edge + way * into)))
      high = way;
    else
      low = way;
  for (int k = 0; k < 25; ++k) {
    const double middle = 0.5 * (low + high);
    (taken(cutter, ways, on(edge + middle * into)) ? low : high) = middle;
  }
  return low;
}

inline Vec3 as_it_is(const Vec3& p) { return p; }

inline double width(const Profile& cutter, const std::vector<Polyline3>& ways, const EdgeSection& section,
                    const OnFace& on_one = as_it_is, const OnFace& on_other = as_it_is) {
  const double one = leg(cutter, ways, section.at, section.into_one(), on_one),
               other = leg(cutter, ways, section.at, section.into_other(), on_other);
  return (on_one(section.at + one * section.into_one()) - on_other(section.at + other * section.into_other()))
      .norm();
}

}  // namespace yardpass::testing::broken
