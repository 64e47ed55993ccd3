#include "yardpass/plan/roomy_place.h"

#include <algorithm>
#include <cmath>

namespace yardpass {

namespace {

/// What keeps so far from the outline; of several pieces the largest.
Region core(const Region& area, double distance) {
  Region largest;
  double most = 0;
  for (Region& piece : pieces(distance > 0 ? offset(area, -distance) : area))
    if (const double size = piece.area_mm2(); size > most) most = size, largest = std::move(piece);
  return largest;
}

/// The corner of an area's outline, or its middle, that has the most room in another one.
RoomyPlace best_of(const Region& places, const Region& area) {
  RoomyPlace best{{0, 0}, -std::numeric_limits<double>::infinity()};
  const auto offer = [&](const Vec2& p) {
    if (const double room = room_at(area, p); room > best.room_mm) best = {p, room};
  };
  Vec2 sum(0, 0);
  std::size_t count = 0;
  for (const Polyline2& loop : places.loops) {
    const std::size_t step = std::max<std::size_t>(1, loop.size() / 32);
    for (std::size_t i = 0; i < loop.size(); i += step) offer(loop[i]), sum += loop[i], ++count;
  }
  if (count > 0) offer(sum / static_cast<double>(count));
  return best;
}

}  // namespace

double room_at(const Region& area, const Vec2& p) {
  double nearest = std::numeric_limits<double>::infinity();
  for (const Polyline2& loop : area.loops) nearest = std::min(nearest, nearest_on_loop(loop, p).distance_mm);
  return area.contains(p) ? nearest : -nearest;
}

std::optional<RoomyPlace> roomy_place(const Region& area, double wanted_mm) {
  if (area.empty()) return std::nullopt;
  if (const Region inner = core(area, wanted_mm); !inner.empty()) {
    // Half way from there to the innermost: away from the rim of what fits.
    const Box2 box = inner.box();
    double deep = 0.5 * std::min(box.sizes().x(), box.sizes().y());
    for (int round = 0; round < 4; ++round, deep *= 0.5)
      if (const Region deeper = core(inner, deep); !deeper.empty()) return best_of(deeper, area);
    return best_of(inner, area);
  }
  Region last = core(area, 0);
  if (last.empty()) return std::nullopt;
  const Region whole = last;
  double low = 0, high = wanted_mm;
  while (high - low > 1e-5) {
    const double middle = 0.5 * (low + high);
    if (Region inner = core(whole, middle); !inner.empty())
      low = middle, last = std::move(inner);
    else
      high = middle;
  }
  return best_of(last, area);
}

}  // namespace yardpass
