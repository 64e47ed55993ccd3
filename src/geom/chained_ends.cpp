#include "geom/chained_ends.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>

namespace yardpass::detail {

EndPartners partners_within(const std::vector<LineEnds>& ends, double reach,
                            const std::function<bool(const LineEnd&, const LineEnd&)>& may) {
  const double side = std::max(reach, 1e-6);
  using Cell = std::array<std::int64_t, 3>;
  const auto place = [&](const LineEnd& end) -> const Vec3& { return (*ends[end.line])[end.last ? 1 : 0]; };
  const auto cell = [&](const Vec3& p) {
    const auto index = [&](double v) { return static_cast<std::int64_t>(std::floor(v / side)); };
    return Cell{index(p.x()), index(p.y()), index(p.z())};
  };
  std::map<Cell, std::vector<LineEnd>> cells;
  for (std::size_t i = 0; i < ends.size(); ++i)
    if (ends[i])
      for (const bool last : {false, true}) cells[cell(place({i, last}))].push_back({i, last});
  struct Pair {
    double distance;
    LineEnd a, b;
  };
  std::vector<Pair> pairs;
  for (const auto& [key, here] : cells)
    for (std::int64_t x = key[0] - 1; x <= key[0] + 1; ++x)
      for (std::int64_t y = key[1] - 1; y <= key[1] + 1; ++y)
        for (std::int64_t z = key[2] - 1; z <= key[2] + 1; ++z) {
          const auto there = cells.find({x, y, z});
          if (there == cells.end()) continue;
          for (const LineEnd& a : here)
            for (const LineEnd& b : there->second) {
              if (std::pair(a.line, a.last) >= std::pair(b.line, b.last)) continue;
              const double far = (place(a) - place(b)).norm();
              if (far <= reach && may(a, b)) pairs.push_back({far, a, b});
            }
        }
  std::sort(pairs.begin(), pairs.end(), [](const Pair& p, const Pair& q) {
    return std::tuple(p.distance, p.a.line, p.b.line, p.a.last, p.b.last) <
           std::tuple(q.distance, q.a.line, q.b.line, q.a.last, q.b.last);
  });
  EndPartners partners(ends.size());
  for (const Pair& pair : pairs) {
    std::optional<LineEnd>&a = partners[pair.a.line][pair.a.last], &b = partners[pair.b.line][pair.b.last];
    if (a || b) continue;
    a = pair.b, b = pair.a;
  }
  return partners;
}

std::vector<EndChain> chained(const EndPartners& partners) {
  std::vector<EndChain> chains;
  std::vector<bool> taken(partners.size(), false);
  for (std::size_t first = 0; first < partners.size(); ++first) {
    if (taken[first]) continue;
    // Back to where the chain begins; a ring begins with its first line.
    LineEnd start{first, false};
    for (auto before = partners[first][0]; before; before = partners[start.line][start.last]) {
      if (before->line == first) {
        start = {first, false};
        break;
      }
      start = {before->line, !before->last};
    }
    EndChain chain;
    for (std::optional<LineEnd> at = start; at; at = partners[at->line][!at->last]) {
      if (taken[at->line]) {
        chain.ring = true;
        break;
      }
      taken[at->line] = true;
      chain.lines.push_back(*at);
    }
    chains.push_back(std::move(chain));
  }
  return chains;
}

}  // namespace yardpass::detail
