#include "yardpass/plan/level_order.h"

#include <algorithm>

namespace yardpass {

namespace {

bool meet(const Region& a, const Box2& box_a, const Region& b, const Box2& box_b) {
  return !box_a.intersection(box_b).isEmpty() && !intersect(a, b).empty();
}

}  // namespace

std::vector<std::vector<std::int32_t>> pieces_before(const std::vector<LevelPiece>& pieces,
                                                     double tool_radius_mm) {
  // Pieces of one level that a wall parts lie at least a diameter apart, to rounding.
  constexpr double kApart = 0.02;
  const std::size_t count = pieces.size();
  std::vector<Box2> boxes;
  for (const LevelPiece& piece : pieces) boxes.push_back(piece.area.box());
  std::vector<std::vector<std::int32_t>> before(count);
  std::vector<std::vector<bool>> all_before(count, std::vector<bool>());
  for (std::size_t i = 0; i < count; ++i) {
    all_before[i].assign(i, false);
    const double reach = std::max(0.0, 2 * tool_radius_mm - kApart);
    Region swept;
    Box2 box;
    for (std::size_t j = i; j-- > 0;) {
      if (!(pieces[j].rank > pieces[i].rank) || all_before[i][j]) continue;
      const Vec2 grown = Vec2::Constant(reach);
      if (Box2(boxes[i].min() - grown, boxes[i].max() + grown).intersection(boxes[j]).isEmpty()) continue;
      if (swept.empty()) swept = offset(pieces[i].area, reach, 0.01), box = swept.box();
      if (!meet(swept, box, pieces[j].area, boxes[j])) continue;
      before[i].push_back(static_cast<std::int32_t>(j));
      all_before[i][j] = true;
      for (std::size_t k = 0; k < j; ++k)
        if (all_before[j][k]) all_before[i][k] = true;
    }
    std::reverse(before[i].begin(), before[i].end());
  }
  return before;
}

std::vector<std::int32_t> order_of(const std::vector<LevelPiece>& pieces,
                                   const std::vector<std::vector<std::int32_t>>& before, LevelOrder order) {
  const std::size_t count = pieces.size();
  std::vector<std::vector<std::int32_t>> after(count);
  std::vector<std::size_t> waits(count);
  struct Ready {
    std::size_t piece, since;  // since: when it was opened
  };
  std::vector<Ready> ready;
  for (std::size_t i = 0; i < count; ++i) {
    waits[i] = before[i].size();
    for (const std::int32_t b : before[i])
      after[static_cast<std::size_t>(b)].push_back(static_cast<std::int32_t>(i));
    if (waits[i] == 0) ready.push_back({i, 0});
  }
  std::vector<std::int32_t> result;
  Vec2 at(0, 0);
  while (!ready.empty()) {
    const auto better = [&](const Ready& a, const Ready& b) {
      const LevelPiece &one = pieces[a.piece], &other = pieces[b.piece];
      if (order == LevelOrder::by_level && one.rank != other.rank) return one.rank > other.rank;
      if (order == LevelOrder::by_area && a.since != b.since) return a.since > b.since;
      if (order == LevelOrder::by_area && one.rank != other.rank) return one.rank > other.rank;
      const double far = (one.begin - at).squaredNorm(), other_far = (other.begin - at).squaredNorm();
      return far != other_far ? far < other_far : a.piece < b.piece;
    };
    const auto best = std::min_element(ready.begin(), ready.end(), better);
    const std::size_t piece = best->piece;
    ready.erase(best);
    result.push_back(static_cast<std::int32_t>(piece));
    at = pieces[piece].end;
    for (const std::int32_t next : after[piece])
      if (--waits[static_cast<std::size_t>(next)] == 0)
        ready.push_back({static_cast<std::size_t>(next), result.size()});
  }
  return result;
}

}  // namespace yardpass
