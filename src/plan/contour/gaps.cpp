#include "plan/contour/gaps.h"

#include <algorithm>

#include "yardpass/contact/slope.h"

namespace yardpass::detail {

double blocked_up_to(const TipSurface& surface, const Corners4& cell) {
  double best = kNothingBelow;
  for (std::size_t i = 0; i < cell.size(); ++i) {
    const HeightAt& at = cell[i].at;
    if (at.triangle < 0) return kNothingBelow;
    double low = at.z;
    for (std::size_t k = 0; k < cell.size() && low > best; ++k)
      if (k != i) low = std::min(low, surface.height_over(at.triangle, cell[k].place, at.body));
    best = std::max(best, low);
  }
  return best;
}

std::array<Corners4, 4> GapSearch::quarters(const Corners4& c) {
  touches_left_ -= 5;
  const auto between = [&](const Corner& a, const Corner& b) {
    Corner middle{0.5 * (a.place + b.place)};
    if (const auto touch = surface_.touch(middle.place, a.at.triangle))
      middle.at = {touch->height, touch->triangle, touch->body};
    return middle;
  };
  const Corner below = between(c[0], c[1]), right = between(c[1], c[2]), above = between(c[2], c[3]),
               left = between(c[3], c[0]), middle = between(c[0], c[2]);
  return {Corners4{c[0], below, middle, left}, Corners4{below, c[1], right, middle},
          Corners4{middle, right, c[2], above}, Corners4{left, middle, above, c[3]}};
}

/// Out of one blocking triangle after the other, each by its own slope.
std::optional<Vec2> GapSearch::out_of_all(const Vec2& blocked) const {
  constexpr int kRounds = 12;
  const double reach = 4 * least_;
  Vec2 at = blocked;
  std::int32_t near = -1;
  for (int round = 0; round < kRounds; ++round) {
    const auto touch = surface_.touch(at, near);
    if (!touch || touch->height <= z_) return at;
    near = touch->triangle;
    const Vec2 slope = slope_at(surface_, at, *touch);
    if (!(slope.norm() > 1e-9)) return std::nullopt;
    const Vec2 far = at - reach * slope.normalized();
    const auto piece = piece_over(surface_, near, with_z(at, z_), with_z(far, z_), touch->body);
    if (piece && piece->to >= 1) return std::nullopt;
    at += (piece ? piece->to : 0.0) * (far - at) - 1e-9 * slope.normalized();
    if ((at - blocked).norm() > reach) return std::nullopt;
  }
  return std::nullopt;
}

void GapSearch::search(const Corners4& cell) {
  const auto free =
      std::count_if(cell.begin(), cell.end(), [&](const Corner& c) { return is_free(c.at, z_); });
  if (free == 0) return blocked(cell);
  if (free == 4 || cell[1].place.x() - cell[0].place.x() < crossed_) return;
  for (const Corners4& quarter : quarters(cell)) search(quarter);
}

void GapSearch::blocked(const Corners4& cell) {
  const auto free =
      std::find_if(cell.begin(), cell.end(), [&](const Corner& c) { return is_free(c.at, z_); });
  if (free != cell.end()) {
    for (const Corner& other : cell)
      if (!is_free(other.at, z_)) return seeds.push_back({free->place, other.place});
    return;
  }
  if (!is_free({blocked_up_to(surface_, cell)}, z_)) return;
  if (touches_left_ <= 0) return unproven.push_back(0.5 * (cell[0].place + cell[2].place));
  if (cell[1].place.x() - cell[0].place.x() < least_) {
    const Vec2 middle = 0.5 * (cell[0].place + cell[2].place);
    if (const auto free_place = out_of_all(middle))
      seeds.push_back({*free_place, middle});
    else
      unproven.push_back(middle);
    return;
  }
  for (const Corners4& quarter : quarters(cell)) blocked(quarter);
}

}  // namespace yardpass::detail
