#include "yardpass/path/motion.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yardpass {

namespace {

struct Turn {
  double degrees, weight;
  Vec3 at;
};

double degrees_between(const Vec3& a, const Vec3& b) {
  return std::atan2(a.cross(b).norm(), a.dot(b)) * 180 / std::numbers::pi;
}

void tell(std::vector<Turn>& turns, MotionStatistics& result) {
  if (turns.empty()) return;
  std::sort(turns.begin(), turns.end(), [](const Turn& a, const Turn& b) { return a.degrees < b.degrees; });
  double all = 0, sum = 0;
  for (const Turn& turn : turns) all += turn.weight;
  result.turn_half_deg = result.turn_most_deg = turns.back().degrees;
  bool half = false;
  for (const Turn& turn : turns) {
    sum += turn.weight;
    if (!half && sum >= 0.5 * all) result.turn_half_deg = turn.degrees, half = true;
    if (sum < 0.95 * all) continue;
    result.turn_most_deg = turn.degrees;
    break;
  }
  result.turn_greatest_deg = turns.back().degrees;
  result.greatest_at = turns.back().at;
}

}  // namespace

MotionStatistics motion_of(const Toolpath& path) {
  MotionStatistics result;
  std::vector<double> lengths;
  std::vector<Turn> turns;
  Vec3 at = path.start, direction = Vec3::Zero();
  double before = 0;  // length of the block before in the same cut; 0: none
  std::int32_t cut = -1;
  for (const Move& move : path.moves) {
    const Arc* const arc = path.arc_of(move);
    const Vec3 way = move.to - at, from = at;
    at = move.to;
    const double length = arc ? arc->length() : way.norm();
    if (move.kind != MoveKind::cut) before = 0;
    if (move.kind != MoveKind::cut || !(length > 0)) continue;
    const Vec3 start = arc ? arc->direction(0) : Vec3(way / length);
    if (before > 0 && cut == move.cut)
      turns.push_back({degrees_between(direction, start), 0.5 * (before + length), from});
    direction = arc ? arc->direction(1) : start;
    before = length, cut = move.cut;
    ++result.blocks, result.arcs += arc != nullptr, result.length_mm += length;
    lengths.push_back(length);
  }
  if (!lengths.empty()) {
    const auto middle = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 2);
    std::nth_element(lengths.begin(), middle, lengths.end());
    result.half_mm = *middle;
    result.shortest_mm = *std::min_element(lengths.begin(), lengths.end());
  }
  tell(turns, result);
  return result;
}

}  // namespace yardpass
