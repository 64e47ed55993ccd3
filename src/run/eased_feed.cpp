#include "run/eased_feed.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "yardpass/stock/engagement.h"

namespace yardpass::detail {

namespace {

constexpr double kSlowest = 0.2, kGrain = 0.05;  // of the feed

/// What a straight wall gives at an angle, in radii.
double stepover_at(double degrees) { return 1 - std::cos(degrees * std::numbers::pi / 180); }

/// Of the feed, in round steps, so that it does not change with every move.
double share_at(double degrees, double limit) {
  if (degrees <= limit) return 1;
  const double share = stepover_at(limit) / stepover_at(degrees);
  return std::max(kSlowest, std::floor(share / kGrain) * kGrain);
}

}  // namespace

double ease_feed(Toolpath& path, Stock before) {
  const double limit = path.tool.widest_engagement_deg;
  if (!(limit > 0)) return 0;
  const Profile cutter = profile_of(path.tool);
  EngagementMeter meter(std::move(before), cutter);
  const double longest = cutter.radius();
  std::vector<Move> moves;
  double eased = 0;
  Vec3 at = path.start;
  for (const Move& move : path.moves) {
    if (move.kind == MoveKind::rapid) {
      meter.lift();
      moves.push_back(move);
      at = move.to;
      continue;
    }
    const Vec3 way = move.to - at, from = at;
    const int parts = move.kind == MoveKind::cut ? static_cast<int>(std::ceil(way.norm() / longest)) : 1;
    double share = 1;
    for (int k = 1; k <= std::max(parts, 1); ++k) {
      const Vec3 to = k >= parts ? move.to : Vec3(from + way * (static_cast<double>(k) / parts));
      double greatest = 0;
      meter.go(at, to, [&](const EngagementStep& step) { greatest = std::max(greatest, step.angle_deg); });
      const double now = move.kind == MoveKind::cut ? share_at(greatest, limit) : 1;
      if (now < 1) eased += (to - at).norm();
      // Pieces of one move with the same feed stay one move.
      if (k > 1 && now == share) moves.pop_back();
      share = now;
      moves.push_back(move);
      moves.back().to = to;
      moves.back().feed_mm_min = now * move.feed_mm_min;
      at = to;
    }
  }
  path.moves = std::move(moves);
  return eased;
}

}  // namespace yardpass::detail
