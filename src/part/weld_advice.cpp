#include "yardpass/part/weld_advice.h"

#include <algorithm>
#include <cmath>

#include "part/facets.h"

namespace yardpass {

namespace {

/// The triangles around open edges, and which of their sides are open.
struct Strip {
  Mesh mesh;
  std::vector<std::int32_t> open;  ///< sides of the strip's own triangles
  double median_edge_mm = 0;       ///< of the open sides
};

Strip strip_of(const Mesh& mesh, const Joints& joints) {
  std::vector<std::uint8_t> at_crack(mesh.points.size(), 0);
  for (std::size_t i = 0; i < joints.sides(); ++i) {
    const auto side = static_cast<std::int32_t>(i);
    if (joints.across(side) != Joints::kOpen) continue;
    at_crack[static_cast<std::size_t>(side_from(mesh, side))] = 1;
    at_crack[static_cast<std::size_t>(side_to(mesh, side))] = 1;
  }
  Strip strip;
  std::vector<std::int32_t> number(mesh.points.size(), -1);
  std::vector<double> lengths;
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    const auto& corners = mesh.triangles[t];
    if (std::none_of(corners.begin(), corners.end(),
                     [&](std::int32_t i) { return at_crack[static_cast<std::size_t>(i)] != 0; }))
      continue;
    std::array<std::int32_t, 3> own{};
    for (std::size_t k = 0; k < 3; ++k) {
      auto& n = number[static_cast<std::size_t>(corners[k])];
      if (n < 0) {
        n = static_cast<std::int32_t>(strip.mesh.points.size());
        strip.mesh.points.push_back(mesh.points[static_cast<std::size_t>(corners[k])]);
      }
      own[k] = n;
    }
    for (std::int32_t k = 0; k < 3; ++k) {
      if (joints.across(static_cast<std::int32_t>(3 * t) + k) != Joints::kOpen) continue;
      strip.open.push_back(static_cast<std::int32_t>(3 * strip.mesh.triangles.size()) + k);
      lengths.push_back((mesh.corner(t, (k + 1) % 3) - mesh.corner(t, k)).norm());
    }
    strip.mesh.triangles.push_back(own);
  }
  if (!lengths.empty()) {
    const auto middle = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 2);
    std::nth_element(lengths.begin(), middle, lengths.end());
    strip.median_edge_mm = *middle;
  }
  return strip;
}

/// How many of the open sides are still without a neighbour, or with too many, when welded.
std::int64_t unjoined(const Strip& strip, double weld_mm) {
  const Joints joints(weld(strip.mesh, weld_mm));
  return std::count_if(strip.open.begin(), strip.open.end(), [&](std::int32_t side) {
    const std::int32_t across = joints.across(side);
    return across == Joints::kOpen || across == Joints::kCrowded;
  });
}

/// Of the distances, ascending, the least that leaves as few sides unjoined as any; 0: none joins any. Every
/// third is tried, and then those beside the best of them.
double best_distance(const Strip& strip, const std::vector<double>& distances, const Progress& progress) {
  std::vector<std::int64_t> left(distances.size(), -1);
  std::size_t best = distances.size();
  auto least = static_cast<std::int64_t>(strip.open.size());
  const auto attempt = [&](std::size_t i) {
    if (i >= distances.size() || left[i] >= 0) return;
    report(progress, static_cast<double>(i) / static_cast<double>(distances.size()));
    left[i] = unjoined(strip, distances[i]);
    if (left[i] < least || (left[i] == least && i < best && best < distances.size()))
      least = left[i], best = i;
  };
  for (std::size_t i = 0; i < distances.size() && least > 0; i += 3) attempt(i);
  if (!distances.empty() && least > 0) attempt(distances.size() - 1);
  const std::size_t middle = std::min(best, distances.size() - 1);
  for (std::size_t i = middle >= 2 ? middle - 2 : 0; i < middle + 3 && !distances.empty(); ++i)
    if (i < middle || least > 0) attempt(i);
  return best < distances.size() ? distances[best] : 0;
}

std::vector<double> distances_up_to(double most) {
  std::vector<double> distances;
  for (int power = -6; power <= -1; ++power)
    for (const double times : {1.0, 2.0, 5.0})
      if (const double distance = times * std::pow(10.0, power); distance <= most)
        distances.push_back(distance);
  return distances;
}

}  // namespace

std::optional<WeldAdvice> weld_advice(const Mesh& mesh, const Joints& joints, const Progress& progress) {
  const Strip strip = strip_of(mesh, joints);
  if (strip.open.empty()) return std::nullopt;
  WeldAdvice advice;
  advice.weld_mm =
      best_distance(strip, distances_up_to(0.5 * strip.median_edge_mm), part_of(progress, 0, 0.8));
  report(progress, 0.8);
  if (advice.weld_mm == 0) return std::nullopt;
  const Mesh welded = weld(mesh, advice.weld_mm);
  const EdgeReport after = edge_report(welded);
  advice.open_before = static_cast<std::int64_t>(strip.open.size());
  advice.open_after = after.open;
  advice.closes = after.closed();
  if (2 * advice.open_after > advice.open_before) return std::nullopt;
  std::vector<std::uint8_t> counted(mesh.points.size(), 0);
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    advice.vanishing += !detail::has_no_area(mesh, t) && detail::has_no_area(welded, t);
    for (int k = 0; k < 3; ++k) {
      auto& seen = counted[static_cast<std::size_t>(mesh.triangles[t][static_cast<std::size_t>(k)])];
      if (seen) continue;
      seen = 1;
      const double way = (welded.corner(t, k) - mesh.corner(t, k)).norm();
      advice.moved += way > 0;
      advice.farthest_mm = std::max(advice.farthest_mm, way);
    }
  }
  report(progress, 1);
  return advice;
}

}  // namespace yardpass
