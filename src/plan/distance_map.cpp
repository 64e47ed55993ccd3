#include "plan/distance_map.h"

#include <limits>

#include "geom/parallel_for.h"

namespace yardpass::detail {

namespace {

constexpr float kFar = 1e20F;

/// Squares of distances along a line, from squares of distances at its places: the lower envelope of
/// parabolas.
void along_line(std::vector<float>& values, std::vector<int>& places, std::vector<float>& starts,
                std::vector<float>& scratch) {
  const int count = static_cast<int>(values.size());
  const auto at = [](int i) { return static_cast<std::size_t>(i); };
  int last = -1;
  for (int q = 0; q < count; ++q) {
    if (values[at(q)] >= kFar) continue;
    float start = -std::numeric_limits<float>::infinity();
    while (last >= 0) {
      const int p = places[at(last)];
      const auto square = [](int i) { return static_cast<float>(i) * static_cast<float>(i); };
      start = (values[at(q)] + square(q) - values[at(p)] - square(p)) / static_cast<float>(2 * (q - p));
      if (start > starts[at(last)]) break;
      --last;
      start = -std::numeric_limits<float>::infinity();
    }
    places[at(++last)] = q, starts[at(last)] = start;
  }
  if (last < 0) return;
  int k = 0;
  for (int i = 0; i < count; ++i) {
    while (k < last && starts[at(k + 1)] < static_cast<float>(i)) ++k;
    const auto far = static_cast<float>(i - places[at(k)]);
    scratch[at(i)] = far * far + values[at(places[at(k)])];
  }
  values.swap(scratch);
}

}  // namespace

std::vector<float> squared_distances(int columns, int rows, const Mask& marked, bool parallel) {
  const auto width = static_cast<std::size_t>(columns), height = static_cast<std::size_t>(rows);
  std::vector<float> result(marked.size());
  const auto lines = [&](std::size_t count, std::size_t length, auto cell) {
    const auto one = [&](std::size_t line, std::vector<float>& values, std::vector<float>& scratch,
                         std::vector<float>& starts, std::vector<int>& places) {
      for (std::size_t i = 0; i < length; ++i) values[i] = result[cell(line, i)];
      along_line(values, places, starts, scratch);
      for (std::size_t i = 0; i < length; ++i) result[cell(line, i)] = values[i];
    };
    constexpr std::size_t kTogether = 16;  // lines share their scratch, and columns their memory lines
    const auto some = [&](std::size_t part) {
      std::vector<float> values(length), scratch(length), starts(length);
      std::vector<int> places(length);
      for (std::size_t line = part * kTogether; line < std::min(count, (part + 1) * kTogether); ++line)
        one(line, values, scratch, starts, places);
    };
    const std::size_t parts = (count + kTogether - 1) / kTogether;
    if (parallel)
      parallel_for(parts, some);
    else
      for (std::size_t part = 0; part < parts; ++part) some(part);
  };
  for (std::size_t i = 0; i < marked.size(); ++i) result[i] = marked[i] ? 0.0F : kFar;
  lines(height, width, [&](std::size_t row, std::size_t column) { return row * width + column; });
  lines(width, height, [&](std::size_t column, std::size_t row) { return row * width + column; });
  return result;
}

}  // namespace yardpass::detail
