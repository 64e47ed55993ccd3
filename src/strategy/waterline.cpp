#include "yardpass/strategy/waterline.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "geom/parallel_for.h"
#include "strategy/level_keys.h"
#include "strategy/level_steps.h"
#include "strategy/pattern_keys.h"
#include "strategy/shallow_pieces.h"
#include "strategy/walls.h"
#include "yardpass/plan/spacing.h"
#include "yardpass/plan/trim.h"

namespace yardpass {

void keys_of(WaterlineOptions& options, const Tool&, Keys& keys) {
  detail::waterline_keys(options, keys, {15, "gentler slopes are for passes from above"}, "15");
}

void detail::waterline_keys(WaterlineOptions& options, Keys& keys, const Derived& least_slope,
                            const char* usual) {
  keys.number("stepdown", options.stepdown_mm,
              {.says = "between levels, which are spread evenly: so far apart or a little less",
               .usual = "by `scallop_height`",
               .low = 0,
               .high = 1e3,
               .above_low = true,
               .of_tool = true,
               .coarsened = Coarsened::spacing});
  keys.number(
      "scallop_height", options.scallop_mm, {0.01, "0.01 mm"},
      {.says = "height of the ridges between passes: levels lie nearer to each other where the part is "
               "less steep, with pieces in between where only some of it is",
       .usual = "0.01",
       .low = 0,
       .high = 100,
       .above_low = true,
       .instead_of = "stepdown",
       .coarsened = Coarsened::ridges});
  const bool constant = options.stepdown_mm.has_value();
  keys.number(
      "least_slope", options.least_slope_deg, least_slope,
      {.says = "the scallop height holds from this slope up; what is less steep gets no denser levels",
       .usual = usual,
       .unit = Unit::degrees,
       .low = 3,
       .high = 90});
  keys.idle_if(constant, "least_slope", "with a stepdown all levels are equally far apart");
  constexpr std::pair<LoopDirection, const char*> directions[] = {
      {LoopDirection::climb, "climb"},
      {LoopDirection::conventional, "conventional"},
      {LoopDirection::zigzag, "zigzag"}};
  keys.choice(
      "direction", options.direction, directions, LoopDirection::climb, "chips get thinner, not thicker",
      {.says = "the material on the right of the way (climb), on its left, or whichever way saves air",
       .usual = "`\"climb\"`"});
  order_key(options.order, "less air",
            "each wall down to its foot before the next, or all of a level before the next level", keys);
  constexpr std::pair<Descent, const char*> descents[] = {{Descent::levels, "levels"},
                                                          {Descent::helix, "helix"}};
  keys.choice(
      "descent", options.descent, descents, Descent::levels, "each pass where it should be",
      {.says = "walls that are closed all round level by level, or in one unbroken line from top to foot",
       .usual = "`\"levels\"`"});
  keys.refuse_if(options.descent == Descent::helix && options.order == LevelOrder::by_level, {"order"},
                 "is \"by level\", but a helix goes down a whole wall at once; valid beside it: \"by area\"");
}

Usual usual_of(const WaterlineOptions& options, const Tool& tool) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spacing_mm = options.stepdown_mm.value_or(stepover_for(tool, options.scallop_mm).value);
  usual.along_walls = true;
  usual.spread = Spread::on_walls;
  usual.least_slope_deg = options.least_slope_deg;
  usual.tells_spacing = options.stepdown_mm.has_value();
  if (!options.stepdown_mm && spaced_by_scallop(tool)) usual.scallop_mm = options.scallop_mm;
  return usual;
}

namespace {

using detail::kWide;
using detail::ShallowPieces;
using detail::StepTable;
using detail::Wall;
using detail::WallPass;
using detail::WantedStep;

class WaterlinePlanner {
 public:
  WaterlinePlanner(const WaterlineOptions& options, const Site& site, const Progress& progress)
      : options_(options),
        site_(site),
        progress_(progress),
        // By contact the touch decides; passes keep off upright walls by up to the tolerance.
        area_(site.touched ? offset(site.area, 2 * site.tolerance_mm) : site.area),
        contours_(site.surface, area_, {.tolerance_mm = site.tolerance_mm}, part_of(progress, 0, 0.1)),
        wanted_(options, site.surface) {
    if (site.touched)
      touched_.emplace(site.surface, TouchRule(*site.touched, {}, site.tolerance_mm), site.tolerance_mm);
  }

  CutPlan plan() {
    const double highest = contours_.highest() - 0.5 * site_.tolerance_mm;
    const bool given = site_.top_z < highest;
    const double top = given ? site_.top_z : highest;
    double bottom =
        std::max(site_.bottom_z, site_.surface.part().box().min().z() - 2 * site_.surface.cutter().radius());
    bottom = site_.surface.posted_height(bottom);
    CutPlan plan;
    if (!(top > bottom)) return nothing(plan);
    if (!options_.stepdown_mm) table_.emplace(wanted_, site_, bottom, top, part_of(progress_, 0.1, 0.2));
    const detail::LevelHeights levels =
        detail::level_heights(options_, site_, table_ ? &*table_ : nullptr, top, given, bottom);
    heights_ = levels.z;
    for (double& z : heights_) z = site_.surface.posted_height(z);
    trace();
    tell_levels(levels.above_flats, plan);
    if (passes_.empty()) return nothing(plan);
    if (options_.order == LevelOrder::by_level)
      group_by_level(plan);
    else
      group_by_wall(plan);
    tell_gaps(plan);
    return plan;
  }

 private:
  static CutPlan nothing(CutPlan& plan) {
    plan.notes.push_back({"nothing", "nothing to cut: no wall stands in the area between top and bottom"});
    return std::move(plan);
  }
  /// What one level, and the gap below it, gives.
  struct Found {
    std::vector<WallPass> passes;
    std::vector<Vec3> broken_off, gaps;
    void note(const LevelContours& level) {
      for (const Vec2& p : level.broken_off) broken_off.push_back(with_z(p, level.z));
      for (const Vec2& p : level.unproven_gaps) gaps.push_back(with_z(p, level.z));
    }
  };

  void trace() {
    std::vector<Found> found(heights_.size());
    detail::parallel_for(heights_.size(), part_of(progress_, 0.2, 0.9), [&](std::size_t i) {
      const auto level = static_cast<std::int32_t>(i);
      const LevelContours here = contours_.at(heights_[i]);
      found[i].note(here);
      for (const Contour& line : here.lines) add(line, here.z, level, false, found[i]);
      if (table_ && i + 1 < heights_.size()) between(heights_[i], heights_[i + 1], level, 0, found[i]);
    });
    for (Found& of_level : found) {
      std::stable_sort(of_level.passes.begin(), of_level.passes.end(),
                       [](const WallPass& a, const WallPass& b) { return a.z > b.z; });
      for (WallPass& pass : of_level.passes) passes_.push_back(std::move(pass));
      broken_off_.insert(broken_off_.end(), of_level.broken_off.begin(), of_level.broken_off.end());
      gaps_.insert(gaps_.end(), of_level.gaps.begin(), of_level.gaps.end());
    }
  }

  /// What of a contour lies in the area and, where the limit is by contact, touches the part there.
  void add(const Contour& contour, double z, std::int32_t level, bool between, Found& found) const {
    for (Contour& piece : within(contour, area_)) {
      if (!touched_) {
        found.passes.push_back({z, std::move(piece), level, between});
        continue;
      }
      for (const Cut& part : touched_->of(cut_along(piece, z)).cuts) {
        Contour kept{{}, part.closed};
        for (const Vec3& p : part.points) kept.points.push_back(yardpass::plan(p));
        found.passes.push_back({z, std::move(kept), level, between});
      }
    }
  }

  /// Half-way between two levels, where that is too far; then between those.
  void between(double high, double low, std::int32_t level, int depth, Found& found) const {
    constexpr int kDeepest = 6;
    const double gap = high - low;
    if (depth >= kDeepest || table_->passes_wanted(low, high) < kWide) return;
    const double middle = site_.surface.posted_height(0.5 * (high + low));
    if (middle >= high || middle <= low) return;
    const LevelContours here = contours_.at(middle);
    found.note(here);
    const ShallowPieces shallow(wanted_, gap);
    const std::size_t before = found.passes.size();
    for (const Contour& line : here.lines)
      for (const Contour& piece : shallow.of(line)) add(piece, middle, level, true, found);
    // On scans single samples ask for more everywhere.
    if (found.passes.size() == before) return;
    between(high, middle, level, depth + 1, found);
    between(middle, low, level, depth + 1, found);
  }

  /// The material on its right.
  static Cut cut_along(const Contour& contour, double z) {
    Cut cut;
    for (const Vec2& p : contour.points) cut.points.push_back(with_z(p, z));
    cut.closed = contour.closed;
    cut.part = Side::right;
    return cut;
  }
  [[nodiscard]] Cut cut_of(const WallPass& pass, std::int32_t number) const {
    Cut cut = cut_along(pass.contour, pass.z);
    cut.pass = number;
    if (options_.direction == LoopDirection::conventional) {
      std::reverse(cut.points.begin(), cut.points.end());
      cut.part = Side::left;
    }
    return cut;
  }

  void group_by_level(CutPlan& plan) const {
    std::int32_t number = 0;
    for (std::size_t i = 0; i < passes_.size(); ++i) {
      if (i == 0 || passes_[i].z != passes_[i - 1].z) {
        plan.groups.emplace_back();
        plan.groups.back().keep_order = false;
        plan.groups.back().keep_direction = options_.direction != LoopDirection::zigzag;
        plan.groups.back().level_z = passes_[i].z;
        ++number;
      }
      plan.groups.back().cuts.push_back(cut_of(passes_[i], number));
    }
  }

  void group_by_wall(CutPlan& plan) {
    plan.keep_group_order = false;
    double gap = 0;
    for (std::size_t i = 0; i + 1 < heights_.size(); ++i) gap = std::max(gap, heights_[i] - heights_[i + 1]);
    const double slope = std::tan(std::min(45.0, options_.least_slope_deg) * std::numbers::pi / 180);
    const std::vector<Wall> walls =
        detail::walls_of(passes_, std::max(0.5 * site_.surface.cutter().radius(), 1.2 * gap / slope));
    std::int64_t helices = 0;
    for (const Wall& wall : walls) {
      CutGroup group;
      group.keep_direction = options_.direction != LoopDirection::zigzag;
      group.after = wall.above;
      std::vector<std::size_t> order;
      if (options_.descent == Descent::helix && add_helix(wall, group))
        ++helices;
      else
        order = wall.passes;
      order.insert(order.end(), wall.pieces.begin(), wall.pieces.end());
      std::stable_sort(order.begin(), order.end(),
                       [&](std::size_t a, std::size_t b) { return passes_[a].z > passes_[b].z; });
      for (const std::size_t i : order) group.cuts.push_back(cut_of(passes_[i], passes_[i].level + 1));
      plan.groups.push_back(std::move(group));
    }
    plan.facts.push_back({"stacks", count_of(std::ssize(walls)), "of passes one below the other"});
    if (options_.descent == Descent::helix)
      plan.facts.push_back({"helices", count_of(helices), "stacks that are closed all round"});
  }

  /// Down the closed passes of a wall in one line; false where that is not to be had.
  bool add_helix(const Wall& wall, CutGroup& group) const {
    std::vector<Contours::Lap> laps;
    for (const std::size_t i : wall.passes) {
      if (!passes_[i].contour.closed) return false;
      laps.push_back({passes_[i].contour, passes_[i].z});
    }
    if (laps.size() < 2) return false;
    const bool left = options_.direction == LoopDirection::conventional;
    auto line = contours_.helix(laps, left);
    if (!line) return false;
    for (std::size_t i = 0; i + 1 < line->size(); ++i) {
      const auto in = inside(area_, yardpass::plan((*line)[i]), yardpass::plan((*line)[i + 1]));
      if (in.size() != 1 || in[0].from > 0 || in[0].to < 1) return false;
    }
    Cut cut;
    cut.points = std::move(*line);
    cut.pass = passes_[wall.passes.front()].level + 1;
    cut.part = left ? Side::left : Side::right;
    group.cuts.push_back(std::move(cut));
    group.keep_direction = true;  // never upwards
    return true;
  }

  void tell_levels(std::int64_t above_flats, CutPlan& plan) const {
    double least = std::numeric_limits<double>::infinity(), most = 0;
    for (std::size_t i = 0; i + 1 < heights_.size(); ++i) {
      least = std::min(least, heights_[i] - heights_[i + 1]);
      most = std::max(most, heights_[i] - heights_[i + 1]);
    }
    plan.facts.push_back({"levels", count_of(std::ssize(heights_)), "from the top down"});
    if (most > 0) {
      plan.facts.push_back({"least step", length_of(least), "between two levels"});
      plan.facts.push_back({"widest step", length_of(most), "between two levels"});
    }
    const auto pieces =
        std::count_if(passes_.begin(), passes_.end(), [](const WallPass& p) { return p.between; });
    if (pieces > 0)
      plan.facts.push_back({"passes in between", count_of(pieces),
                            "where the part is less steep than elsewhere at that height"});
    if (above_flats > 0)
      plan.facts.push_back({"levels at flats", count_of(above_flats),
                            "just above level faces of the part, instead of levels nearer to them"});
  }
  void tell_gaps(CutPlan& plan) const {
    const auto tell = [&](const std::vector<Vec3>& places, const char* about, const char* one,
                          const char* many) {
      if (places.empty()) return;
      const Vec3& p = places.front();
      const auto count = std::ssize(places);
      if (count == 1)
        plan.notes.push_back({about, one, {place_at(p.x(), p.y(), p.z())}});
      else
        plan.notes.push_back({about, many, {count_of(count), place_at(p.x(), p.y(), p.z())}});
    };
    tell(broken_off_, "contours", "a pass ends at {}: the contour could not be followed",
         "{} passes end where the contour could not be followed, the first at {}");
    tell(gaps_, "gaps", "at {} there may be a gap through which the tool goes with next to no play",
         "at {} places there may be gaps through which the tool goes with next to no play, the first at {}");
  }

  const WaterlineOptions& options_;
  const Site& site_;
  const Progress& progress_;
  Region area_;  // for the tool's axis
  Contours contours_;
  WantedStep wanted_;
  std::optional<TouchedCuts> touched_;  // where the limit is by contact
  std::optional<StepTable> table_;
  std::vector<double> heights_;
  std::vector<WallPass> passes_;
  std::vector<Vec3> broken_off_, gaps_;
};

}  // namespace

CutPlan cuts_of(const WaterlineOptions& options, const Site& site, const Progress& progress) {
  require(!options.stepdown_mm || *options.stepdown_mm > 0, "stepdown_mm", "must be above 0");
  require(options.scallop_mm > 0, "scallop_mm", "must be above 0");
  require(options.least_slope_deg >= 3 && options.least_slope_deg <= 90, "least_slope_deg",
          "must be 3 to 90");
  if (site.area.empty()) return {};
  return WaterlinePlanner(options, site, progress).plan();
}

}  // namespace yardpass
