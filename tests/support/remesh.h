// The same surface with other triangles.
#pragma once

#include <algorithm>
#include <map>

#include "support/rng.h"
#include "yardpass/geom/mesh.h"

namespace yardpass::testing {

/// Every triangle cut in four, in another order, its corners turned on.
inline Mesh remeshed(const Mesh& mesh, std::uint64_t seed) {
  Mesh result;
  result.points = mesh.points;
  std::map<std::pair<std::int32_t, std::int32_t>, std::int32_t> middles;
  const auto middle = [&](std::int32_t a, std::int32_t b) {
    const auto key = std::minmax(a, b);
    const auto [at, added] =
        middles.try_emplace({key.first, key.second}, static_cast<std::int32_t>(result.points.size()));
    if (added)
      result.points.push_back(
          0.5 * (mesh.points[static_cast<std::size_t>(a)] + mesh.points[static_cast<std::size_t>(b)]));
    return at->second;
  };
  for (const auto& [a, b, c] : mesh.triangles) {
    const auto ab = middle(a, b), bc = middle(b, c), ca = middle(c, a);
    for (const auto& t :
         {std::array{a, ab, ca}, std::array{ab, b, bc}, std::array{ca, bc, c}, std::array{bc, ca, ab}})
      result.triangles.push_back({t[1], t[2], t[0]});
  }
  Rng rng(seed);
  for (std::size_t i = result.triangles.size(); i > 1; --i)
    std::swap(result.triangles[i - 1],
              result.triangles[static_cast<std::size_t>(rng.pick(static_cast<int>(i)))]);
  return result;
}

}  // namespace yardpass::testing
