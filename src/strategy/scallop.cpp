#include "yardpass/strategy/scallop.h"

#include <algorithm>
#include <cmath>

#include "geom/parallel_for.h"
#include "plan/touched_area.h"
#include "strategy/lifted_lines.h"
#include "strategy/pattern_keys.h"
#include "yardpass/contact/lift.h"
#include "yardpass/plan/spacing.h"

namespace yardpass {

namespace {

constexpr const char* kNoInside =
    "says where passes go from closed curves, but a curve of \"start\" is open and has no inside; valid: "
    "\"both\" (keep_inside can keep passes off one side)";

bool has_no_inside(const ScallopOptions& options) {
  const std::vector<Curve>& curves = options.start.curves;
  return options.side && *options.side != FrontSide::both &&
         std::any_of(curves.begin(), curves.end(), [](const Curve& curve) { return !curve.closed; });
}

}  // namespace

void keys_of(ScallopOptions& options, const Tool& tool, Keys& keys) {
  detail::scallop_keys(options, tool, keys);
}

void detail::scallop_keys(ScallopOptions& options, const Tool& tool, Keys& keys) {
  const bool asked = detail::stepover_keys(options.stepover_mm, tool, keys,
                                           "from each pass to the next, in space, not in plan");
  constexpr std::pair<FrontMeasure, const char*> measures[] = {
      {FrontMeasure::tip, "tip"}, {FrontMeasure::part, "part"}, {FrontMeasure::scallop, "scallop"}};
  keys.choice(
      "measured", options.measure, measures, asked ? FrontMeasure::scallop : FrontMeasure::tip,
      asked ? "so that the scallop height holds on hollow and on round ground" : "even passes of the tip",
      {.says = "where the stepover holds: between positions of the tip, between the places that it "
               "touches, or so that ridges are as high everywhere as on flat ground",
       .usual = "`\"scallop\"` with a scallop height, else `\"tip\"`"});
  keys.curves("start", options.start,
              {.says = "curves that are the first pass, seen from above; open or closed, anywhere",
               .usual = "the outline of the area"});
  constexpr std::pair<FrontSide, const char*> sides[] = {
      {FrontSide::inward, "inward"}, {FrontSide::outward, "outward"}, {FrontSide::both, "both"}};
  keys.choice("side", options.side, sides,
              {.says = "where passes go from closed curves", .usual = "`\"both\"`", .belongs_to = "start"});
  keys.refuse_if(has_no_inside(options), {"side"}, kNoInside);
  constexpr std::pair<FrontPattern, const char*> patterns[] = {
      {FrontPattern::zigzag, "zigzag"}, {FrontPattern::loops, "loops"}, {FrontPattern::spiral, "spiral"}};
  keys.choice("pattern", options.pattern, patterns, FrontPattern::zigzag, "less air",
              {.says = "passes that the border cuts run to and fro; or all run the same way; or closed ones "
                       "follow each other as one unbroken line",
               .usual = "`\"zigzag\"`"});
  constexpr std::pair<bool, const char*> directions[] = {{true, "climb"}, {false, "conventional"}};
  keys.choice("direction", options.climb, directions, true, "cleaner walls",
              {.says = "what is still to be cut lies on the right of the passes, or on the left",
               .usual = "`\"climb\"`"});
  keys.flag("middle_passes", options.middle_passes, true,
            {.says = "places farther than 0.6 of the stepover from every pass, where passes meet, in sharp "
                     "corners and along the border, get passes of their own",
             .usual = "true"});
  keys.flag("round_corners", options.round_corners, true,
            {.says = "corners of all passes but the first are rounded as far as the ridges there allow",
             .usual = "true"});
}

Usual usual_of(const ScallopOptions& options, const Tool& tool) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spacing_mm = options.stepover_mm;
  usual.tells_spacing = options.measure == FrontMeasure::tip;
  if (leaves_scallops(tool)) usual.scallop_mm = scallop_height(tool, options.stepover_mm);
  return usual;
}

namespace {

/// Passes each of which comes from the one before alone.
struct Branch {
  std::vector<std::size_t> passes;  // by step, with the middle passes beside them
  std::vector<std::int32_t> after;  // branches that it goes on from
  bool closed = false;
};

std::vector<Branch> branches_of(const std::vector<FrontPass>& passes) {
  std::vector<int> children(passes.size(), 0);
  for (const FrontPass& pass : passes)
    if (!pass.middle)
      for (const std::int32_t from : pass.from) ++children[static_cast<std::size_t>(from)];
  std::vector<Branch> branches;
  std::vector<std::int32_t> branch_of(passes.size(), -1);
  for (std::size_t i = 0; i < passes.size(); ++i) {
    const FrontPass& pass = passes[i];
    const auto parent = pass.from.empty() ? i : static_cast<std::size_t>(pass.from.front());
    const bool goes_on =
        !pass.from.empty() && (pass.middle || (pass.from.size() == 1 && children[parent] == 1 &&
                                               passes[parent].closed == pass.closed));
    if (goes_on) {
      branch_of[i] = branch_of[parent];
    } else {
      branch_of[i] = static_cast<std::int32_t>(branches.size());
      branches.emplace_back();
      branches.back().closed = pass.closed && !pass.middle;
      for (const std::int32_t from : pass.from)
        branches.back().after.push_back(branch_of[static_cast<std::size_t>(from)]);
      std::sort(branches.back().after.begin(), branches.back().after.end());
      branches.back().after.erase(std::unique(branches.back().after.begin(), branches.back().after.end()),
                                  branches.back().after.end());
    }
    branches[static_cast<std::size_t>(branch_of[i])].passes.push_back(i);
  }
  return branches;
}

class ScallopPlanner {
 public:
  ScallopPlanner(const ScallopOptions& options, const Site& site, const Progress& progress)
      : options_(options), site_(site), progress_(progress), area_(site.area) {
    if (site.touched)
      area_ = detail::touched_area(site.surface, site.area, TouchRule(*site.touched, {}, site.tolerance_mm));
  }

  CutPlan plan() {
    FrontOptions options;
    options.stepover_mm = options_.stepover_mm;
    options.measure = options_.measure;
    options.farthest = options_.middle_passes ? options.farthest : 0;
    options.round_corners = options_.round_corners && options_.pattern != FrontPattern::spiral;
    fronts_ = fronts_from(site_.surface, area_, start(), options, part_of(progress_, 0, 0.5));
    options.round_corners = options_.round_corners;
    const std::vector<Branch> branches = branches_of(fronts_.passes);
    make_lines(branches, options);
    const double floor =
        site_.bottom_z > kNothingBelow ? site_.bottom_z - 2 * site_.tolerance_mm : kNothingBelow;
    detail::parallel_for(lines_.size(), part_of(progress_, 0.5, 1), [&](std::size_t i) {
      Polyline2 whole = lines_[i].points;
      if (lines_[i].closed) whole.push_back(whole.front());
      lines_[i].pieces = lift(site_.surface, whole, {.tolerance_mm = site_.tolerance_mm, .floor_z = floor});
    });
    CutPlan plan = groups(branches);
    tell(branches, plan);
    return plan;
  }

 private:
  [[nodiscard]] FrontStart start() const {
    FrontStart start;
    if (!options_.start.given()) {
      start.closed = area_;
      start.side = FrontSide::inward;
      return start;
    }
    for (const Curve& curve : options_.start.curves) {
      if (curve.closed)
        start.closed.loops.push_back(in_plan(curve));
      else
        start.open.push_back(in_plan(curve));
    }
    require(!has_no_inside(options_), "side", kNoInside);
    start.side = options_.side.value_or(FrontSide::both);
    return start;
  }

  /// The way it is cut: fronts advance to the right of their passes.
  void add(Polyline2 line, bool closed, std::int32_t pass, std::size_t branch, bool turned,
           bool joined = false) {
    if (turned) std::reverse(line.begin(), line.end());
    lines_.push_back({std::move(line), closed, pass, branch, joined});
  }

  void make_lines(const std::vector<Branch>& branches, const FrontOptions& options) {
    std::vector<FrontSpiral> spirals(branches.size());
    if (options_.pattern == FrontPattern::spiral)
      detail::parallel_for(branches.size(), [&](std::size_t r) {
        if (!branches[r].closed) return;
        std::vector<FrontPass> lines;
        for (const std::size_t i : branches[r].passes)
          if (!fronts_.passes[i].middle) lines.push_back(fronts_.passes[i]);
        spirals[r] = front_spiral(site_.surface, lines, options_.climb, options);
      });
    for (std::size_t r = 0; r < branches.size(); ++r) {
      const FrontSpiral& spiral = spirals[r];
      if (!spiral.line.empty()) add_spiral(spiral, r);
      std::int32_t number = 0;
      for (const std::size_t i : branches[r].passes) {
        const FrontPass& pass = fronts_.passes[i];
        if (pass.middle) {
          add(pass.line, pass.closed, 0, branches.size() + r, !options_.climb);
          continue;
        }
        const std::int32_t in_branch = number++;
        // A spiral's last turn ends on the pass of its number.
        if (!spiral.line.empty() && in_branch < std::max(1, spiral.turns)) continue;
        if (!spiral.line.empty() && in_branch == spiral.turns) {
          add_last(spiral, pass, r);
          continue;
        }
        const bool to_and_fro = !pass.closed && options_.pattern != FrontPattern::loops;
        if (!spiral.line.empty()) ++short_;
        add(pass.line, pass.closed, pass.step + 1, r,
            (!options_.climb) != (to_and_fro && in_branch % 2 == 1));
      }
    }
  }

  /// Turn by turn, so that they are lifted at once.
  void add_spiral(const FrontSpiral& spiral, std::size_t branch) {
    std::size_t from = 0;
    for (std::size_t k = 0; k <= spiral.joints.size(); ++k) {
      const std::size_t to = k < spiral.joints.size() ? spiral.joints[k] : spiral.line.size() - 1;
      if (to <= from) continue;
      add({spiral.line.begin() + static_cast<std::ptrdiff_t>(from),
           spiral.line.begin() + static_cast<std::ptrdiff_t>(to) + 1},
          false, 0, branch, false, k > 0);
      from = to;
    }
    breaks_ += spiral.breaks;
  }

  /// The last closed pass whole, from where the spiral ends.
  void add_last(const FrontSpiral& spiral, const FrontPass& pass, std::size_t branch) {
    Polyline2 loop = pass.line;
    if (!options_.climb) std::reverse(loop.begin(), loop.end());
    const NearestOnLoop nearest = nearest_on_loop(loop, spiral.line.back());
    std::rotate(loop.begin(), loop.begin() + static_cast<std::ptrdiff_t>((nearest.piece + 1) % loop.size()),
                loop.end());
    Polyline2 lap{spiral.line.back(), nearest.at};
    lap.insert(lap.end(), loop.begin(), loop.end());
    lap.push_back(nearest.at);
    const bool near = nearest.distance_mm < 0.5 * options_.stepover_mm;
    add(std::move(lap), false, 0, branch, false, near);
  }

  [[nodiscard]] CutPlan groups(const std::vector<Branch>& branches) {
    CutPlan plan;
    plan.keep_group_order = false;
    // Middle passes of a branch after the branch itself, in any order.
    plan.groups.resize(2 * branches.size());
    for (std::size_t r = 0; r < branches.size(); ++r) {
      plan.groups[r].after = branches[r].after;
      plan.groups[r].keep_direction = branches[r].closed || options_.pattern == FrontPattern::loops;
      CutGroup& middles = plan.groups[branches.size() + r];
      middles.after = {static_cast<std::int32_t>(r)};
      middles.keep_order = middles.keep_direction = false;
    }
    for (detail::LiftedLine& line : lines_) detail::add_cuts(plan.groups[line.group].cuts, std::move(line));
    return plan;
  }

  void tell(const std::vector<Branch>& branches, CutPlan& plan) const {
    std::int32_t steps = 0;
    std::int64_t middles = 0, cut = 0, spirals = 0;
    for (const FrontPass& pass : fronts_.passes) {
      steps = std::max(steps, pass.step + 1);
      middles += pass.middle;
    }
    for (const Branch& branch : branches) (branch.closed ? spirals : cut) += 1;
    if (fronts_.passes.empty()) {
      plan.notes.push_back({"nothing", "nothing to cut: no pass from this start comes to the area"});
      return;
    }
    plan.facts.push_back({"steps", count_of(steps), "from the first pass to the farthest"});
    plan.facts.push_back(
        {"branches", count_of(std::ssize(branches)), "of passes, each from the one before alone"});
    if (middles > 0)
      plan.facts.push_back({"middle passes", count_of(middles), "where others would leave too much"});
    if (options_.pattern == FrontPattern::spiral) {
      plan.facts.push_back({"spirals", count_of(spirals), "branches of closed passes"});
      if (cut > 0 && spirals == 0)
        plan.notes.push_back({"spiral", "no pass is closed, so there is no spiral: passes run to and fro"});
      if (short_ > 0)
        plan.notes.push_back({"spiral",
                              "of {} passes what is ahead is too narrow for a spiral: they are loops",
                              {count_of(short_)}});
      if (breaks_ > 0)
        plan.notes.push_back({"spiral",
                              "at {} joints a spiral goes on from the nearest place of its next turn",
                              {count_of(breaks_)}});
    }
    constexpr double kWall = 0.5;  // mm
    const Vec3& at = fronts_.jump_at;
    if (fronts_.highest_jump_mm > std::max(kWall, options_.stepover_mm))
      plan.notes.push_back(
          {"walls",
           "walls up to {} high, the highest at {}, are upright: no pass lies on them. Waterlines cut those: "
           "strategy \"waterline\", or \"by-slope\" with a table \"scallop\"",
           {length_of(fronts_.highest_jump_mm), place_at(at.x(), at.y(), at.z())}});
  }

  const ScallopOptions& options_;
  const Site& site_;
  const Progress& progress_;
  Region area_;
  FrontPasses fronts_;
  std::vector<detail::LiftedLine> lines_;
  std::int64_t breaks_ = 0, short_ = 0;
};

}  // namespace

CutPlan cuts_of(const ScallopOptions& options, const Site& site, const Progress& progress) {
  require(options.stepover_mm > 0, "stepover_mm", "must be above 0");
  if (site.area.empty()) return {};
  return ScallopPlanner(options, site, progress).plan();
}

}  // namespace yardpass
