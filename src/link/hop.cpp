#include "link/hop.h"

#include <algorithm>
#include <cmath>

namespace yardpass::detail {

namespace {

constexpr int kChords = 20;
constexpr double kHandle = 1.5;  // of the distance, in the direction of either cut
constexpr int kRounds = 8;

/// 0 at both ends with no slope there, 1 in the middle.
double bump(double u) { return 16 * u * u * (1 - u) * (1 - u); }

Vec3 on_cubic(const HopEnds& ends, double handle, double u) {
  const double v = 1 - u;
  const Vec3 b = ends.from + handle / 3 * ends.from_along, c = ends.to - handle / 3 * ends.to_along;
  return v * v * v * ends.from + 3 * v * v * u * b + 3 * v * u * u * c + u * u * u * ends.to;
}

}  // namespace

std::optional<Polyline3> hop_over(const HopEnds& ends, const RoomOf& room, double most_rise_mm) {
  const double handle = kHandle * (ends.to - ends.from).norm();
  if (!(handle > 0)) return std::nullopt;
  // Near the ends the chords are shorter, so that they leave the cuts' directions slowly, but no dust.
  const auto share = [](int k) {
    const double u = static_cast<double>(k) / kChords;
    return 0.5 * u + 0.5 * u * u * (3 - 2 * u);
  };
  double raised = 0;
  for (int round = 0; round < kRounds; ++round) {
    Polyline3 line;
    for (int k = 0; k <= kChords; ++k) {
      const double u = share(k);
      line.push_back(on_cubic(ends, handle, u) + Vec3(0, 0, raised * bump(u)));
    }
    line.front() = ends.from, line.back() = ends.to;
    const double top = std::max(ends.from.z(), ends.to.z()) + most_rise_mm;
    for (const Vec3& p : line)
      if (p.z() > top) return std::nullopt;
    double more = 0;
    for (int k = 0; k < kChords; ++k) {
      const double lack = -room(line[static_cast<std::size_t>(k)], line[static_cast<std::size_t>(k) + 1]);
      if (!(lack > 0)) continue;
      const double lift = bump(0.5 * (share(k) + share(k + 1)));
      if (lift < 1e-3) return std::nullopt;  // at its ends a hop cannot rise
      more = std::max(more, 1.02 * lack / lift);
    }
    if (more == 0) return line;
    raised += more;
  }
  return std::nullopt;
}

}  // namespace yardpass::detail
