#include "report/detail_place.h"

#include <algorithm>

#include "report/plot.h"

namespace yardpass::detail {

namespace {

double length_of_cuts(const std::vector<Stroke>& strokes, const Box2& box) {
  double length = 0;
  for (const Stroke& stroke : strokes) {
    if (stroke.kind != MoveKind::cut) continue;
    const Vec2 way = plan(stroke.to - stroke.from);
    double from = 0, to = 1;
    for (int axis = 0; axis < 2; ++axis) {
      if (way[axis] == 0) {
        if (stroke.from[axis] < box.min()[axis] || stroke.from[axis] > box.max()[axis]) to = -1;
        continue;
      }
      const double a = (box.min()[axis] - stroke.from[axis]) / way[axis],
                   b = (box.max()[axis] - stroke.from[axis]) / way[axis];
      from = std::max(from, std::min(a, b)), to = std::min(to, std::max(a, b));
    }
    if (to > from) length += (to - from) * way.norm();
  }
  return length;
}

}  // namespace

std::optional<Box2> place_of_detail(const std::vector<Stroke>& strokes, bool in_levels, const Box2& whole,
                                    Units units) {
  std::vector<Vec2> places;
  for (const Stroke& stroke : strokes)
    if (stroke.kind == MoveKind::link) places.push_back(0.5 * (plan(stroke.from) + plan(stroke.to)));
  if (places.empty())
    for (const Stroke& stroke : strokes)
      if (stroke.kind == MoveKind::cut) places.push_back(plan(stroke.from));
  if (places.empty()) return std::nullopt;
  const Vec2 middle = places[places.size() / 2];
  double spacing = 1e9;
  for (const Vec2& p : places)
    if ((p - middle).norm() > 1e-3) spacing = std::min(spacing, (p - middle).norm());
  const double mm = millimetres(units);
  // Never so much of the plot that nothing looks larger; else enough to see several passes.
  const double most = 0.25 * whole.sizes().minCoeff();
  const auto box_of = [&](double side) {
    const double half = 0.5 * mm * round_step(side / mm);
    return Box2(middle.array() - half, middle.array() + half);
  };
  // Levels lie over each other, so that many cuts need not be many passes.
  double side = in_levels ? 0.5 * most : 0.5 * std::clamp(24 * spacing, std::min(8.0, most), most);
  while (2 * side < most && length_of_cuts(strokes, box_of(side)) < 6 * side) side *= 2;
  return box_of(side);
}

}  // namespace yardpass::detail
