#include "strategy/shallow_pieces.h"

#include <algorithm>
#include <cmath>

namespace yardpass::detail {

namespace {

/// Of five in a row: noise on scans is no slope.
std::vector<std::uint8_t> majority(const std::vector<std::uint8_t>& marks, bool closed) {
  const auto count = std::ssize(marks);
  std::vector<std::uint8_t> result(marks.size(), 0);
  for (std::ptrdiff_t i = 0; i < count; ++i) {
    int sum = 0;
    for (std::ptrdiff_t k = i - 2; k <= i + 2; ++k) {
      const std::ptrdiff_t at =
          closed ? (k + 2 * count) % count : std::clamp<std::ptrdiff_t>(k, 0, count - 1);
      sum += marks[static_cast<std::size_t>(at)];
    }
    result[static_cast<std::size_t>(i)] = sum >= 3;
  }
  return result;
}

/// The marked stretches, or the contour itself if all of it is marked.
std::vector<Contour> runs(const std::vector<Vec2>& places, const std::vector<std::uint8_t>& marks,
                          const Contour& contour) {
  if (std::all_of(marks.begin(), marks.end(), [](auto m) { return m != 0; })) return {contour};
  std::vector<Contour> result;
  const std::size_t count = places.size();
  std::size_t first = 0;
  if (contour.closed)
    while (first < count && marks[first]) ++first;  // begin where nothing is wanted
  bool open = false;
  for (std::size_t k = 0; k < count; ++k) {
    const std::size_t i = (first + k) % count;
    if (marks[i] && !open) result.emplace_back();
    if (marks[i]) result.back().points.push_back(places[i]);
    open = marks[i];
  }
  std::erase_if(result, [](const Contour& piece) { return piece.points.size() < 2; });
  for (Contour& piece : result) piece.points = simplify(std::span<const Vec2>(piece.points), 1e-9);
  return result;
}

}  // namespace

std::vector<Contour> ShallowPieces::of(const Contour& contour) const {
  const std::size_t count = contour.points.size(), chords = count - (contour.closed ? 0 : 1);
  const double step = 0.5 * wanted_.spacing();
  std::vector<Vec2> places;
  for (std::size_t i = 0; i < chords; ++i) {
    const Vec2 &a = contour.points[i], &b = contour.points[(i + 1) % count];
    const int steps = std::max(1, static_cast<int>(std::ceil((b - a).norm() / step)));
    for (int k = 0; k < steps; ++k) places.push_back(a + (b - a) * (1.0 * k / steps));
  }
  if (!contour.closed) places.push_back(contour.points.back());
  std::vector<std::uint8_t> dense(places.size(), 0);
  for (std::size_t i = 0; i < places.size(); ++i) dense[i] = too_wide_at(places[i]);
  dense = majority(dense, contour.closed);
  return runs(places, grown(places, dense, contour.closed), contour);
}

bool ShallowPieces::too_wide_at(const Vec2& p) const {
  const auto here = wanted_.at(p);
  if (!here) return false;
  // Over the whole gap: the slope changes between the neighbours.
  double sum = 2 / here->step_mm;
  for (const double side : {-0.3, 0.3}) {
    const auto beside = wanted_.at(p + side * gap_ / here->rise * here->downhill);
    const bool near = beside && std::abs(beside->z - here->z) < 0.6 * gap_;
    sum += 1 / (near ? beside->step_mm : here->step_mm);
  }
  return gap_ * sum / 4 > kWide;
}

ShallowPieces::Marks ShallowPieces::grown(const std::vector<Vec2>& places, const Marks& marks,
                                          bool closed) const {
  Marks result = marks;
  const auto count = std::ssize(marks);
  for (const int way : {1, -1}) {
    double since = std::numeric_limits<double>::infinity();
    for (std::ptrdiff_t k = 0; k < (closed ? 2 : 1) * count; ++k) {
      const auto at = static_cast<std::size_t>(((way > 0 ? k : -1 - k) % count + count) % count);
      const auto before = static_cast<std::size_t>((static_cast<std::ptrdiff_t>(at) - way + count) % count);
      if (marks[at])
        since = 0;
      else if (k > 0)
        since += (places[at] - places[before]).norm();
      if (since <= wanted_.spacing()) result[at] = 1;
    }
  }
  return result;
}

}  // namespace yardpass::detail
