#include "yardpass/part/edges.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "part/facets.h"

namespace yardpass {

namespace {

struct Link {
  std::int32_t a, b;  // corners
  double turn_deg;    // above 0: bulging
};

class EdgeChains {
 public:
  EdgeChains(const Mesh& mesh, std::vector<Link> links) : mesh_(mesh), links_(std::move(links)) {
    for (std::size_t i = 0; i < links_.size(); ++i) {
      at_.emplace_back(links_[i].a, static_cast<std::int32_t>(i));
      at_.emplace_back(links_[i].b, static_cast<std::int32_t>(i));
    }
    std::sort(at_.begin(), at_.end());
    used_.assign(links_.size(), 0);
  }

  std::vector<SharpEdge> run() {
    std::vector<SharpEdge> result;
    // From the ends of runs first; what is left then are closed loops.
    for (const bool loops : {false, true})
      for (std::size_t i = 0; i < links_.size(); ++i) {
        if (used_[i]) continue;
        const bool ends_at_a = next(static_cast<std::int32_t>(i), links_[i].a) < 0,
                   ends_at_b = next(static_cast<std::int32_t>(i), links_[i].b) < 0;
        if (!loops && !ends_at_a && !ends_at_b) continue;
        result.push_back(
            follow(static_cast<std::int32_t>(i), ends_at_a || loops ? links_[i].a : links_[i].b));
      }
    std::stable_sort(result.begin(), result.end(),
                     [](const SharpEdge& x, const SharpEdge& y) { return x.length_mm > y.length_mm; });
    return result;
  }

 private:
  /// The link that goes on from this one at a corner; -1 where the run ends.
  [[nodiscard]] std::int32_t next(std::int32_t link, std::int32_t corner) const {
    const auto first = std::lower_bound(at_.begin(), at_.end(), std::pair(corner, INT32_MIN)),
               last = std::lower_bound(first, at_.end(), std::pair(corner + 1, INT32_MIN));
    if (last - first != 2) return -1;
    const std::int32_t other = first[0].second == link ? first[1].second : first[0].second;
    const bool same = (turn(other) > 0) == (turn(link) > 0);
    return same ? other : -1;
  }
  [[nodiscard]] double turn(std::int32_t link) const {
    return links_[static_cast<std::size_t>(link)].turn_deg;
  }

  SharpEdge follow(std::int32_t link, std::int32_t corner) {
    SharpEdge edge;
    edge.hollow = turn(link) < 0;
    edge.least_turn_deg = 180;
    edge.corners.push_back(corner);
    while (link >= 0 && !used_[static_cast<std::size_t>(link)]) {
      const Link& here = links_[static_cast<std::size_t>(link)];
      used_[static_cast<std::size_t>(link)] = 1;
      edge.least_turn_deg = std::min(edge.least_turn_deg, std::abs(here.turn_deg));
      edge.greatest_turn_deg = std::max(edge.greatest_turn_deg, std::abs(here.turn_deg));
      const std::int32_t end = here.a == edge.corners.back() ? here.b : here.a;
      edge.length_mm += (mesh_.points[static_cast<std::size_t>(end)] -
                         mesh_.points[static_cast<std::size_t>(edge.corners.back())])
                            .norm();
      edge.corners.push_back(end);
      link = next(link, end);
    }
    edge.closed = edge.corners.size() > 3 && edge.corners.front() == edge.corners.back();
    return edge;
  }

  const Mesh& mesh_;
  std::vector<Link> links_;
  std::vector<std::pair<std::int32_t, std::int32_t>> at_;  // corner, link
  std::vector<std::uint8_t> used_;
};

}  // namespace

std::vector<SharpEdge> sharp_edges(const Mesh& mesh, const Joints& joints,
                                   const std::vector<std::uint8_t>& turned, double least_turn_deg) {
  std::vector<Link> links;
  for (std::size_t i = 0; i < joints.sides(); ++i) {
    const auto side = static_cast<std::int32_t>(i);
    const std::int32_t other = joints.across(side);
    if (other < side) continue;
    if (detail::has_no_area(mesh, i / 3) || detail::has_no_area(mesh, static_cast<std::size_t>(other / 3)))
      continue;
    const double turn = detail::turn_across(mesh, side, other) * 180 / std::numbers::pi;
    if (std::abs(turn) > least_turn_deg)
      links.push_back({side_from(mesh, side), side_to(mesh, side), turned[i / 3] ? -turn : turn});
  }
  return EdgeChains(mesh, std::move(links)).run();
}

double noise_length(const std::vector<SharpEdge>& edges, double median_edge_mm) {
  if (edges.size() <= 200) return 0;
  // Longest first, so the middle one is the median.
  return edges[edges.size() / 2].length_mm < 4 * median_edge_mm ? 10 * median_edge_mm : 0;
}

}  // namespace yardpass
