#include "strategy/roughing_assembly.h"

#include <algorithm>

namespace yardpass::detail {

namespace {

constexpr double kArc = 0.01;  // mm, of planar operations that only measure

Box2 grown(const Box2& box, double by) {
  return {Vec2(box.min().array() - by), Vec2(box.max().array() + by)};
}

/// One neck may close more than one cell.
void add_neck(const Vec3& neck, std::vector<Vec3>& necks) {
  constexpr double kOne = 0.5;  // mm
  const auto same = [&](const Vec3& other) { return (neck - other).norm() < kOne; };
  if (std::none_of(necks.begin(), necks.end(), same)) necks.push_back(neck);
}

}  // namespace

Assembly::Assembly(std::vector<LevelCuts> levels, const Site& site, double thinnest)
    : site_(site), thinnest_(thinnest), radius_(site.surface.cutter().radius()) {
  for (LevelCuts& level : levels) {
    left_thin_mm3_ += level.left_thin_mm3;
    for (const Vec3& neck : level.necks) add_neck(neck, necks_);
    for (AreaCuts& area : level.areas) areas_.push_back(std::move(area));
  }
}

CutPlan Assembly::plan(LevelOrder order) {
  std::vector<LevelPiece> pieces;
  for (const AreaCuts& area : areas_) {
    LevelPiece piece{area.area, -static_cast<double>(area.stage)};
    if (!area.group.cuts.empty())
      piece.begin = yardpass::plan(area.group.cuts.front().points.front()),
      piece.end = yardpass::plan(area.group.cuts.back().points.back());
    pieces.push_back(std::move(piece));
  }
  const auto before = pieces_before(pieces, radius_);
  refuse_below(before);
  measure_refused();
  CutPlan result;
  std::vector<std::int32_t> place(areas_.size(), -1);
  const std::vector<std::int32_t> numbers = pass_numbers();
  for (const std::int32_t k : order_of(pieces, before, order)) {
    const auto i = static_cast<std::size_t>(k);
    AreaCuts& area = areas_[i];
    counts_ += area.counts;
    left_in_corners_mm3_ += area.left_in_corners_mm3;
    refused_.insert(refused_.end(), area.refused.begin(), area.refused.end());
    if (area.group.cuts.empty()) continue;
    place[i] = static_cast<std::int32_t>(result.groups.size());
    for (Cut& cut : area.group.cuts) cut.pass = numbers[i];
    for (const std::int32_t b : before[i])
      if (place[static_cast<std::size_t>(b)] >= 0)
        area.group.after.push_back(place[static_cast<std::size_t>(b)]);
    result.groups.push_back(std::move(area.group));
  }
  return result;
}

/// Below what is refused nothing is cut: it would be deeper than the level says.
void Assembly::refuse_below(const std::vector<std::vector<std::int32_t>>& before) {
  for (std::size_t i = 0; i < areas_.size(); ++i)
    for (const std::int32_t b : before[i]) {
      const AreaCuts& above = areas_[static_cast<std::size_t>(b)];
      AreaCuts& area = areas_[i];
      if (!above.wholly_refused() || area.group.cuts.empty()) continue;
      if (subtract(area.area, above.area).area_mm2() > 0.01 * area.area.area_mm2()) continue;
      area.counts = {}, area.group.cuts.clear();
      area.refused = {{with_z(area.area.loops.front().front(), area.group.level_z)}};
    }
}

/// What lies under a refused area and under no other one of its level; nothing, if that is too thin anyhow.
void Assembly::measure_refused() {
  for (AreaCuts& area : areas_) {
    if (!area.wholly_refused()) continue;
    Region swept = offset(area.area, radius_, kArc);
    for (const AreaCuts& other : areas_)
      if (other.stage == area.stage && !other.group.cuts.empty() &&
          !other.area.box().intersection(grown(area.area.box(), 2 * radius_)).isEmpty())
        swept = subtract(swept, offset(other.area, radius_, kArc));
    swept = offset(offset(swept, -0.5 * thinnest_, kArc), 0.5 * thinnest_, kArc);
    area.refused = {refused_area(site_, swept, area.group.level_z, area.upper_z)};
    if (!(area.refused.front().area_mm2 > 0)) area.refused.clear();
  }
}
/// Levels with cuts, from 1.
std::vector<std::int32_t> Assembly::pass_numbers() const {
  std::vector<std::int32_t> numbers(areas_.size(), 0);
  std::int32_t number = 0;
  std::int32_t stage = -1;
  for (std::size_t i = 0; i < areas_.size(); ++i) {
    if (areas_[i].group.cuts.empty()) continue;
    if (areas_[i].stage != stage) ++number, stage = areas_[i].stage;
    numbers[i] = number;
  }
  return numbers;
}

}  // namespace yardpass::detail
