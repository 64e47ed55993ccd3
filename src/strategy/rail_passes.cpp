#include "strategy/rail_passes.h"

#include <algorithm>
#include <cmath>

#include "geom/bands.h"
#include "geom/parallel_for.h"
#include "strategy/lifted_lines.h"
#include "strategy/pattern_keys.h"
#include "yardpass/contact/lift.h"
#include "yardpass/curve/close_loop.h"
#include "yardpass/geom/text.h"
#include "yardpass/plan/four_sides.h"
#include "yardpass/plan/spacing.h"

namespace yardpass::detail {

void rail_keys(RailOptions& options, const Tool& tool, Keys& keys, RailDirection direction,
               const char* because, const char* usual) {
  stepover_keys(options.stepover_mm, tool, keys,
                "the widest from each pass to the next, in space, not in plan");
  constexpr std::pair<RailPattern, const char*> patterns[] = {
      {RailPattern::zigzag, "zigzag"}, {RailPattern::one_way, "one-way"}, {RailPattern::spiral, "spiral"}};
  keys.choice(
      "pattern", options.pattern, patterns, RailPattern::zigzag, "less air",
      {.says = "to and fro (closed passes all the same way); all the same way; or closed passes as one "
               "unbroken line",
       .usual = "`\"zigzag\"`"});
  constexpr std::pair<RailDirection, const char*> directions[] = {
      {RailDirection::forward, "forward"},
      {RailDirection::backward, "backward"},
      {RailDirection::climb, "climb"},
      {RailDirection::conventional, "conventional"}};
  keys.choice(
      "direction", options.direction, directions, direction, because,
      {.says = "of the first pass, and of all that run the same way: as its curve runs (from the start "
               "to the end, if they are named), against it, or with what is still to be cut on its "
               "right, or on its left",
       .usual = usual});
  constexpr std::pair<RailBegin, const char*> begins[] = {{RailBegin::first, "first"},
                                                          {RailBegin::last, "last"}};
  keys.choice("begin", options.begin, begins, RailBegin::first, "as they are named",
              {.says = "which of the two outer curves is cut first", .usual = "`\"first\"`"});
}

Usual rail_usual(const RailOptions& options, const Tool& tool) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spacing_mm = options.stepover_mm;
  if (leaves_scallops(tool)) usual.scallop_mm = scallop_height(tool, options.stepover_mm);
  return usual;
}

namespace {

Curve side_of(const Rails& rails, bool last, std::string name) {
  Curve curve;
  curve.closed = rails.closed;
  curve.name = std::move(name);
  for (const Polyline2& line : rails.lines)
    curve.points.push_back(with_z(last ? line.back() : line.front(), 0));
  return curve;
}

/// Above 0: what comes after the first pass lies to the left of it, as the rails count.
double turn_of(const Rails& rails) {
  double sum = 0;
  const std::size_t n = rails.lines.size();
  for (std::size_t i = 0; i + 1 < n + (rails.closed ? 1 : 0); ++i) {
    const Polyline2 &a = rails.lines[i], &b = rails.lines[(i + 1) % n];
    const Vec2 along = b.front() - a.front() + b.back() - a.back(),
               across = a.back() - a.front() + b.back() - b.front();
    sum += along.x() * across.y() - along.y() * across.x();
  }
  return sum;
}

/// As they are to be cut: chained from the side that is first, rails in the direction of passes.
std::vector<Rails> as_cut(const RailOptions& options, std::vector<Rails> rails) {
  if (options.begin == RailBegin::last) {
    std::reverse(rails.begin(), rails.end());
    for (Rails& one : rails)
      for (Polyline2& line : one.lines) std::reverse(line.begin(), line.end());
  }
  bool back = options.direction == RailDirection::backward;
  if (options.direction == RailDirection::climb || options.direction == RailDirection::conventional) {
    double turn = 0;
    for (const Rails& one : rails) turn += turn_of(one);
    back = (turn > 0) == (options.direction == RailDirection::climb);
  }
  if (!back) return rails;
  for (Rails& one : rails) {
    std::reverse(one.lines.begin(), one.lines.end());
    if (one.closed) std::rotate(one.lines.begin(), one.lines.end() - 1, one.lines.end());
  }
  return rails;
}

class RailPlanner {
 public:
  RailPlanner(const RailOptions& options, const Site& site, const Progress& progress)
      : options_(options), site_(site), progress_(progress) {}

  CutPlan plan(std::vector<Rails> rails) {
    const std::size_t n = rails.size();
    closed_ = rails.front().closed;
    for (std::size_t i = 0; i < n; ++i) {
      const double from = 0.5 * static_cast<double>(i) / static_cast<double>(n);
      divided_.emplace_back(site_.surface, std::move(rails[i]), options_.stepover_mm,
                            part_of(progress_, from, from + 0.5 / static_cast<double>(n)), measure());
    }
    if (options_.pattern == RailPattern::spiral)
      add_spiral();
    else
      add_passes();
    lift_all();
    std::vector<Cut> cuts;
    for (LiftedLine& line : lines_) add_cuts(cuts, std::move(line));
    CutPlan plan = plan_of(std::move(cuts));
    for (CutGroup& group : plan.groups) {
      group.keep_order = true;
      group.keep_direction = options_.pattern != RailPattern::zigzag || closed_;
    }
    tell(plan);
    return plan;
  }

 private:
  /// In hollows hardly wider than a ball its contacts run far between two near places of the tip.
  [[nodiscard]] RailMeasure measure() const {
    const Shape shape = site_.surface.tool().shape;
    return shape == Shape::ball || shape == Shape::taper ? RailMeasure::ridges : RailMeasure::tip;
  }

  void add_passes() {
    for (std::size_t r = 0; r < divided_.size(); ++r)
      for (std::int32_t k = r == 0 ? 0 : 1; k <= divided_[r].steps(); ++k) {
        Polyline2 line = divided_[r].pass(static_cast<double>(k) / divided_[r].steps());
        const bool back = !closed_ && options_.pattern == RailPattern::zigzag && passes_ % 2 == 1;
        if (back) std::reverse(line.begin(), line.end());
        lines_.push_back({.points = std::move(line), .closed = closed_, .pass = ++passes_});
      }
  }

  void add_spiral() {
    const auto add = [&](const DividedRails& rails, double from_share, double to_share) {
      lines_.push_back({.points = rails.turn(from_share, to_share), .joined = !lines_.empty()});
      ++passes_;
    };
    add(divided_.front(), 0, 0);
    for (const DividedRails& rails : divided_) {
      for (std::int32_t k = 0; k < rails.steps(); ++k)
        add(rails, static_cast<double>(k) / rails.steps(), (k + 1.0) / rails.steps());
      add(rails, 1, 1);
    }
  }

  void lift_all() {
    const double floor =
        site_.bottom_z > kNothingBelow ? site_.bottom_z - 2 * site_.tolerance_mm : kNothingBelow;
    // A pass on the border itself belongs to the area.
    const Bands area(offset(site_.area, kOnBorder));
    std::vector<double> outside(lines_.size(), 0);
    parallel_for(lines_.size(), part_of(progress_, 0.5, 1), [&](std::size_t i) {
      Polyline2 whole = lines_[i].points;
      if (lines_[i].closed) whole.push_back(whole.front());
      // Points that blending put there, not the form: within a part of the tolerance they are not needed.
      whole = simplify(std::span<const Vec2>(whole), 0.1 * site_.tolerance_mm);
      double within = 0;
      const std::vector<Polyline2> inside =
          lines_[i].closed ? area.inside_loop({whole.begin(), whole.end() - 1}) : area.inside(whole);
      for (const Polyline2& piece : inside) {
        within += length(std::span<const Vec2>(piece));
        for (Polyline3& line :
             lift(site_.surface, piece, {.tolerance_mm = site_.tolerance_mm, .floor_z = floor}))
          lines_[i].pieces.push_back(std::move(line));
      }
      outside[i] = length(std::span<const Vec2>(whole)) - within;
    });
    for (std::size_t i = 0; i < lines_.size(); ++i) {
      outside_ += outside[i];
      length_ += length(std::span<const Vec2>(lines_[i].points));
    }
  }

  void tell(CutPlan& plan) const {
    plan.facts.push_back({"passes", count_of(passes_), "by the longest way between the curves"});
    DividedRails::Facts worst;
    double needed = 0, steps = 0, wall = 0;
    std::vector<double> gaps;
    for (const DividedRails& rails : divided_) {
      const DividedRails::Facts& facts = rails.facts();
      if (facts.longest_mm > worst.longest_mm) worst = facts;
      needed += facts.needed * rails.steps(), steps += rails.steps();
      if (facts.highest_wall_mm > wall) wall = facts.highest_wall_mm, worst.wall_at = facts.wall_at;
      gaps.push_back(facts.median_gap_mm);
    }
    std::nth_element(gaps.begin(), gaps.begin() + static_cast<std::ptrdiff_t>(gaps.size() / 2), gaps.end());
    const double gap = gaps[gaps.size() / 2], share = needed / steps;
    plan.facts.push_back({"median gap", length_of(gap), "from pass to pass in space, on half of the ground"});
    constexpr double kDense = 0.75, kWall = 0.5, kOutside = 0.02;
    if (share < kDense)
      plan.notes.push_back(
          {"dense",
           "{} passes are needed for the longest way between the curves, {} at {}; elsewhere "
           "they lie closer together, {} on half of the ground. Strategy \"scallop\" would "
           "need about {} of their length",
           {count_of(passes_), length_of(worst.longest_mm),
            place_at(worst.longest_at.x(), worst.longest_at.y(), worst.longest_at.z()), length_of(gap),
            number_of(share, Unit::share)}});
    if (wall > std::max(kWall, options_.stepover_mm))
      plan.notes.push_back(
          {"walls",
           "walls up to {} high, the highest at {}, are upright: no pass lies on them. "
           "Waterlines cut those: strategy \"waterline\"",
           {length_of(wall), place_at(worst.wall_at.x(), worst.wall_at.y(), worst.wall_at.z())}});
    tell_kinks(plan);
    if (length_ > 0 && outside_ > kOutside * length_)
      plan.notes.push_back({"outside",
                            "{} of the passes' length lies outside the area and is left out",
                            {number_of(outside_ / length_, Unit::share)}});
  }

  /// A kink of a curve dies away linearly towards the next.
  void tell_kinks(CutPlan& plan) const {
    constexpr double kLeast = 5;  // degrees
    Kink worst;
    std::int64_t count = 0;
    double passes = 0;
    for (std::size_t i = 0; i <= divided_.size(); ++i) {
      const Polyline2 guide = i == 0 ? divided_[0].pass(0) : divided_[i - 1].pass(1);
      const std::int32_t steps =
          (i > 0 ? divided_[i - 1].steps() : 0) + (i < divided_.size() ? divided_[i].steps() : 0);
      double sharpest = 0;
      for (const Kink& kink : kinks_of(guide, closed_, options_.stepover_mm, kLeast)) {
        ++count;
        sharpest = std::max(sharpest, kink.turn_deg);
        if (kink.turn_deg > worst.turn_deg) worst = kink;
      }
      if (sharpest > 0) passes += 1 + steps * (1 - kLeast / sharpest);
    }
    if (count == 0) return;
    const auto touch = site_.surface.touch(worst.at);
    plan.notes.push_back(
        {"kinks",
         "passes copy kinks of the curves beside them: {} of more than 5 degrees, the sharpest, of {}, at "
         "{}; up to {} passes have one",
         {count_of(count), number_of(worst.turn_deg, Unit::degrees),
          place_at(worst.at.x(), worst.at.y(), touch ? touch->height : 0),
          count_of(std::min<std::int64_t>(passes_, std::llround(passes)))}});
  }

  static constexpr double kOnBorder = 0.001;  // mm
  const RailOptions& options_;
  const Site& site_;
  const Progress& progress_;
  bool closed_ = false;
  std::int32_t passes_ = 0;
  double outside_ = 0, length_ = 0;
  std::vector<DividedRails> divided_;
  std::vector<LiftedLine> lines_;
};

}  // namespace

bool unfold(std::vector<Rails>& rails, const std::vector<std::string>& names) {
  bool any = false;
  for (std::size_t i = 0; i < rails.size(); ++i) {
    if (folds_of(rails[i]).folded == 0) continue;
    any = true;
    Rails better = relaxed(rails[i]);
    const RailFolds folds = folds_of(better);
    if (folds.folded > 0)
      throw LoopError("between \"" + names[i] + "\" and \"" + names[i + 1] +
                          "\" passes would fold over each other at X " + short_number(folds.at.x()) + " Y " +
                          short_number(folds.at.y()) +
                          "; a curve between them, or other matched places, can lead them round",
                      {side_of(rails[i], false, names[i]), side_of(rails[i], true, names[i + 1])},
                      {with_z(folds.at, 0)});
    rails[i] = std::move(better);
  }
  return any;
}

std::vector<CurveRole> roles_along(const RailOptions& options, const std::vector<Rails>& rails, bool ends) {
  const std::vector<Rails> cut = as_cut(options, rails);
  std::vector<CurveRole> roles;
  const auto add = [&](const Rails& one, bool last, const char* role) {
    roles.push_back({role, in_plan(side_of(one, last, role)), one.closed, true});
  };
  add(cut.front(), false, "first pass");
  for (std::size_t i = 1; i < cut.size(); ++i) add(cut[i], false, "between");
  add(cut.back(), true, "last pass");
  if (!ends) return roles;
  for (const bool end : {false, true}) {
    CurveRole role{end ? "end" : "start", {}};
    for (const Rails& one : cut) {
      const Polyline2& line = end ? one.lines.back() : one.lines.front();
      role.line.insert(role.line.end(), line.begin() + (role.line.empty() ? 0 : 1), line.end());
    }
    roles.push_back(std::move(role));
  }
  return roles;
}

CutPlan rail_cuts(const RailOptions& options, std::vector<Rails> rails, const Site& site,
                  const Progress& progress) {
  require(options.stepover_mm > 0, "stepover_mm", "must be above 0");
  require(!rails.empty(), "rails", "there must be some");
  require(options.pattern != RailPattern::spiral || rails.front().closed, "pattern",
          "a spiral needs closed curves");
  if (site.area.empty()) return {};
  return RailPlanner(options, site, progress).plan(as_cut(options, std::move(rails)));
}

}  // namespace yardpass::detail
