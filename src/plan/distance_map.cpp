#include "plan/distance_map.h"

#include <algorithm>
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
  // Lines in bundles: they share their scratch, and columns side by side share what is read of memory.
  constexpr std::size_t kBundle = 16;
  const auto lines = [&](std::size_t count, std::size_t length, std::size_t from_line,
                         std::size_t from_place) {
    const auto bundle = [&](std::size_t part) {
      const std::size_t first = part * kBundle, many = std::min(count - first, kBundle);
      std::vector<std::vector<float>> values(many, std::vector<float>(length));
      std::vector<float> scratch(length), starts(length);
      std::vector<int> places(length);
      for (std::size_t i = 0; i < length; ++i)
        for (std::size_t k = 0; k < many; ++k)
          values[k][i] = result[(first + k) * from_line + i * from_place];
      for (std::vector<float>& one : values) along_line(one, places, starts, scratch);
      for (std::size_t i = 0; i < length; ++i)
        for (std::size_t k = 0; k < many; ++k)
          result[(first + k) * from_line + i * from_place] = values[k][i];
    };
    const std::size_t parts = (count + kBundle - 1) / kBundle;
    if (parallel)
      parallel_for(parts, bundle);
    else
      for (std::size_t part = 0; part < parts; ++part) bundle(part);
  };
  for (std::size_t i = 0; i < marked.size(); ++i) result[i] = marked[i] ? 0.0F : kFar;
  lines(height, width, width, 1);
  lines(width, height, 1, width);
  return result;
}

}  // namespace yardpass::detail
