#include "yardpass/strategy/roughing.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "yardpass/contact/lift.h"
#include "yardpass/geom/text.h"
#include "yardpass/plan/cut_area.h"
#include "yardpass/plan/level_area.h"

namespace yardpass {

namespace {

std::vector<double> levels_between(const Site& site, double top, double stepdown, double lowest) {
  const TipSurface& surface = site.surface;
  const double flat_radius = surface.cutter().radius();
  std::vector<double> levels;
  for (int k = 1; top - k * stepdown > lowest + 1e-6; ++k) levels.push_back(top - k * stepdown);
  for (const Flat& flat : flats(surface.part().mesh(), flat_radius * flat_radius)) {
    const double z = flat.z_mm + surface.floor_allowance_mm();
    if (z < top - 1e-6 && z > lowest - 1e-6) levels.push_back(z);
  }
  if (site.bottom_z > lowest - 1e-6 && site.bottom_z < top - 1e-6) levels.push_back(site.bottom_z);
  std::erase_if(levels, [&](double z) { return z < site.bottom_z; });
  std::sort(levels.rbegin(), levels.rend());
  levels.erase(std::unique(levels.begin(), levels.end(), [](double a, double b) { return a - b < 1e-3; }),
               levels.end());
  return levels;
}

class LevelRougher {
 public:
  LevelRougher(const Site& site, const RoughingOptions& options)
      : site_(site), stepover_(options.stepover_mm), direction_(options.direction) {}

  /// One group for each area of the level that has cuts.
  std::vector<CutGroup> level(const Region& region, double z, std::int32_t number) {
    std::vector<CutGroup> groups;
    for (const Region& piece : pieces(region)) {
      loops_.clear();
      rings(piece);
      if (stepover_ > site_.surface.cutter().radius()) pegs(piece);
      CutGroup group;
      group.level_z = z;
      if (const std::optional<WayIn> way_in = from_air(piece, z))
        inwards(*way_in, z, number, group);
      else
        for (const Polyline2& loop : loops_) emit(loop, z, number, {}, group);
      if (!group.cuts.empty()) groups.push_back(std::move(group));
    }
    return groups;
  }
  [[nodiscard]] std::int64_t pegs_found() const { return pegs_; }

 private:
  /// The loops of what is left after a stepover first, so that the cut widens from the inside.
  void rings(const Region& piece) {
    for (const Region& inner : pieces(offset(piece, -stepover_))) rings(inner);
    for (const Polyline2& loop : piece.loops)
      loops_.push_back(simplify_loop(loop, 0.25 * site_.tolerance_mm));
  }

  /// What no loop comes near enough to: cut its outline too (it lies inside the area), again until nothing is
  /// left.
  void pegs(const Region& piece) {
    for (int round = 0; round < 4; ++round) {
      const double reach = site_.surface.cutter().radius() - 0.5 * site_.tolerance_mm;
      Region left = subtract(piece, around(loops_, true, reach));
      left = offset(offset(left, -0.005), 0.005);  // dust of the planar operations
      left = intersect(left, piece);
      if (left.empty()) return;
      for (const Polyline2& loop : left.loops) {
        if (signed_area(loop) > 0) ++pegs_;
        loops_.push_back(simplify_loop(loop, 0.25 * site_.tolerance_mm));
      }
    }
  }

  /// From a place where nothing stands at the level straight to a place of a loop.
  struct WayIn {
    Vec2 from, to;
  };

  /// From beside the stock inwards along its outlines, then on to what stands inside. Each loop is entered
  /// from one that is cut already.
  void inwards(const WayIn& first, double z, std::int32_t number, CutGroup& group) {
    std::vector<Polyline2> order;
    for (auto loop = loops_.rbegin(); loop != loops_.rend(); ++loop)
      if (signed_area(*loop) > 0) order.push_back(*loop);
    for (const Polyline2& loop : loops_)
      if (!(signed_area(loop) > 0)) order.push_back(loop);
    for (std::size_t k = 0; k < order.size(); ++k) {
      const std::optional<WayIn> way_in =
          k == 0 ? first : from_cut_loops(std::span(order).first(k), order[k]);
      emit(order[k], z, number, way_in, group, true);
      at_ = way_in ? way_in->to : order[k].front();
    }
  }

  /// The shortest way from the loops before it, the last ones first; nothing if none is a stepover away.
  [[nodiscard]] std::optional<WayIn> from_cut_loops(std::span<const Polyline2> cut,
                                                    const Polyline2& loop) const {
    constexpr std::size_t kPlaces = 24, kBack = 40;
    const double reach = 1.1 * stepover_ + site_.tolerance_mm;
    // Best from where the last loop ended: without any way at all.
    if (const NearestOnLoop near = nearest_on_loop(loop, at_); near.distance_mm <= reach)
      return WayIn{at_, near.at};
    for (std::size_t k = cut.size(); k-- > (cut.size() > kBack ? cut.size() - kBack : 0);) {
      WayIn best;
      double least = std::numeric_limits<double>::infinity();
      for (std::size_t i = 0; i < loop.size(); i += std::max<std::size_t>(1, loop.size() / kPlaces))
        if (const NearestOnLoop near = nearest_on_loop(cut[k], loop[i]); near.distance_mm < least)
          least = near.distance_mm, best = {near.at, loop[i]};
      if (least <= reach) return best;
    }
    return std::nullopt;
  }

  [[nodiscard]] std::optional<WayIn> from_air(const Region& piece, double z) const {
    if (!site_.may_leave || !site_.before || loops_.empty()) return std::nullopt;
    const Box2 block(plan(site_.before->block().min()), plan(site_.before->block().max()));
    const double radius = site_.surface.cutter().radius(), clear = radius + kBesideStock;
    for (const Polyline2& loop : piece.loops)
      for (std::size_t i = 0; i < loop.size(); ++i) {
        const Vec2 &a = loop[i], &b = loop[(i + 1) % loop.size()];
        const Vec2 along = b - a;
        if (along.norm() < 1e-3) continue;
        const Vec2 at = 0.5 * (a + b),
                   out = Vec2(along.y(), -along.x()).normalized();  // the area is on the left
        const Vec2 outside = at + (clear + radius) * out;
        if (block.exteriorDistance(outside) < clear) continue;
        if (site_.surface.clearance(with_z(outside, z), with_z(at, z), 0.0).room >= 0)
          return WayIn{outside, at};
      }
    return std::nullopt;
  }

  /// The loop from its place nearest to another one.
  static Polyline2 starting_near(const Polyline2& loop, const Vec2& place) {
    const auto [start, best, distance] = nearest_on_loop(loop, place);
    Polyline2 result{start};
    for (std::size_t k = 1; k <= loop.size(); ++k) {
      const Vec2& p = loop[(best + k) % loop.size()];
      if ((p - result.back()).norm() > 1e-9 && (p - start).norm() > 1e-9) result.push_back(p);
    }
    return result;
  }

  /// Proven by lifting: where the area's outline was not exact enough, the loop goes up by what is missing.
  void emit(const Polyline2& loop, double z, std::int32_t number, const std::optional<WayIn>& way_in,
            CutGroup& group, bool inwards = false) const {
    Polyline2 curve = way_in ? starting_near(loop, way_in->to) : loop;
    // Inwards the material lies on the other hand.
    const bool back = (direction_ == LoopDirection::conventional) != inwards ||
                      (direction_ == LoopDirection::zigzag && group.cuts.size() % 2 == 1);
    if (back) std::reverse(curve.begin() + (way_in ? 1 : 0), curve.end());
    curve.push_back(curve.front());
    const double around_loop = length(std::span<const Vec2>(curve));
    if (around_loop < 0.05 * site_.surface.cutter().radius()) return;
    auto lines = lift(site_.surface, curve, {.tolerance_mm = site_.tolerance_mm, .floor_z = z});
    for (auto& line : lines) {
      const bool closed = lines.size() == 1 && plan(line.front()) == plan(line.back());
      if (way_in && &line == &lines.front() &&
          site_.surface.clearance(with_z(way_in->from, line.front().z()), line.front(), 0.0).room >= 0) {
        line.insert(line.begin(), with_z(way_in->from, line.front().z()));
        group.cuts.push_back({.points = std::move(line), .entry = Entry::ramp, .pass = number});
        continue;
      }
      if (closed && line.front().z() != line.back().z())
        line.back().z() = line.front().z() = std::max(line.front().z(), line.back().z());
      if (closed) line.pop_back();
      if (line.size() >= 2)
        group.cuts.push_back(
            {.points = std::move(line), .closed = closed, .entry = Entry::ramp, .pass = number});
    }
  }

  static constexpr double kBesideStock = 1;  // mm between the tool and the stock where it comes down

  const Site& site_;
  double stepover_;
  LoopDirection direction_;
  std::int64_t pegs_ = 0;
  Vec2 at_{0, 0};  // where the last loop that was led into began and ended
  std::vector<Polyline2> loops_;
};

/// A group comes after all of the level above.
void append_level(CutPlan& plan, std::vector<CutGroup> groups, std::vector<std::int32_t>& above) {
  std::vector<std::int32_t> here;
  for (CutGroup& group : groups) {
    group.after = above;
    here.push_back(static_cast<std::int32_t>(plan.groups.size()));
    plan.groups.push_back(std::move(group));
  }
  if (!here.empty()) above = std::move(here);
}

double top_of(const Site& site) {
  if (std::isfinite(site.top_z)) return site.top_z;
  if (!site.before)
    throw Error("roughing needs the top of what is to be cut: a site with top_z or with material");
  return site.before->block().max().z();
}

void tell_levels(CutPlan& plan) {
  std::vector<double> levels;
  for (const CutGroup& group : plan.groups)
    if (levels.empty() || levels.back() != group.level_z) levels.push_back(group.level_z);
  if (levels.empty()) return;
  plan.facts.push_back({"levels", count_of(static_cast<std::int64_t>(levels.size())),
                        "from the top of the stock, and one on each flat"});
  plan.facts.push_back({"highest level", length_of(levels.front()), "in Z"});
  plan.facts.push_back({"lowest level", length_of(levels.back()), "in Z"});
}

void note_what_matters(CutPlan& plan, const Site& site, double top, double stepdown, std::int64_t pegs) {
  if (site.before && top < site.before->block().max().z())
    plan.notes.push_back({"top",
                          "the levels start {} below the top of the stock",
                          {length_of(site.before->block().max().z() - top)}});
  if (pegs > 0)
    plan.notes.push_back({"pegs", "{} pegs between loops were cut on their own", {count_of(pegs)}});
  const double flutes = site.surface.tool().flute_length_mm;
  if (flutes < stepdown)
    plan.notes.push_back({"flutes", "the stepdown is deeper than the flutes, {}", {length_of(flutes)}});
}

}  // namespace

void keys_of(RoughingOptions& options, const Tool& tool, Keys& keys) {
  const double d = tool.diameter_mm;
  const bool short_flutes = tool.flute_length_mm > 0 && tool.flute_length_mm < 0.25 * d;
  keys.number("stepdown", options.stepdown_mm,
              short_flutes ? Derived{tool.flute_length_mm, "the flute length"}
                           : Derived{0.25 * d, "a quarter of the tool's diameter"},
              {.says = "between levels",
               .usual = "a quarter of the diameter, at most the flute length",
               .low = 0,
               .high = 1e4,
               .above_low = true,
               .of_tool = true});
  keys.number("stepover", options.stepover_mm,
              {0.45 * d, "0.45 of the tool's diameter, so that no peg stays"},
              {.says = "between loops; below the tool's diameter",
               .usual = "0.45 of the diameter, so that no peg stays",
               .low = 0,
               .high = 1e4,
               .above_low = true,
               .of_tool = true});
  keys.refuse_if(options.stepover_mm >= d, {"stepover"},
                 "is " + short_number(options.stepover_mm) + ", but must be below the tool's diameter, " +
                     short_number(d));
  const bool gentle = tool.steepest_entry_deg < 3;
  keys.number("ramp_angle", options.ramp_angle_deg,
              gentle ? Derived{tool.steepest_entry_deg, "the tool's steepest entry"}
                     : Derived{3, "3 degrees, which cutters take in steel"},
              {.says = "steepest way down into the material",
               .usual = "3, at most the tool's `steepest_entry`",
               .unit = Unit::degrees,
               .low = 0,
               .high = 45,
               .above_low = true});
  keys.refuse_if(options.ramp_angle_deg > tool.steepest_entry_deg, {"ramp_angle"},
                 "is " + short_number(options.ramp_angle_deg) +
                     ", steeper than the tool's \"steepest_entry\", " +
                     short_number(tool.steepest_entry_deg));
  constexpr std::pair<LoopDirection, const char*> directions[] = {
      {LoopDirection::climb, "climb"},
      {LoopDirection::conventional, "conventional"},
      {LoopDirection::zigzag, "zigzag"}};
  keys.choice("direction", options.direction, directions, LoopDirection::climb,
              "chips get thinner, not thicker",
              {.says = "the material on the right of the way (climb), on its left, or every second loop back",
               .usual = "`\"climb\"`"});
  keys.number(
      "thinnest", options.thinnest_mm, {0.05 * d, "a twentieth of the tool's diameter"},
      {.says = "material that earlier operations left is left again where it is thinner than this, sideways",
       .usual = "a twentieth of the diameter",
       .low = 0,
       .high = 1e3,
       .of_tool = true});
}

Usual usual_of(const RoughingOptions& options, const Tool& tool) {
  Usual usual;
  usual.allowance_mm = {std::max(0.1, 0.03 * tool.diameter_mm),
                        "0.03 of the tool's diameter, at least 0.1 mm"};
  usual.tolerance_mm = {std::clamp(usual.allowance_mm.value / 6, 0.01, 0.1), "a sixth of the allowance"};
  usual.spacing_mm = options.stepover_mm;
  usual.at_levels = true;
  usual.ramp_angle_deg = options.ramp_angle_deg;
  return usual;
}

CutPlan cuts_of(const RoughingOptions& options, const Site& site, const Progress& progress) {
  const double radius = site.surface.cutter().radius(), tolerance = site.tolerance_mm;
  require(options.stepdown_mm > 0, "stepdown_mm", "must be above 0");
  require(options.stepover_mm > 0 && options.stepover_mm < 2 * radius, "stepover_mm",
          "must be above 0 and below the tool's diameter");
  require(tolerance > 0, "tolerance_mm", "must be above 0");
  require(options.thinnest_mm >= 0, "thinnest_mm", "must be at least 0");
  CutPlan plan;
  const double top = top_of(site);
  if (site.area.empty()) return plan;
  const LevelAreas areas(site.surface, site.area.box(), {.tolerance_mm = tolerance},
                         part_of(progress, 0, 0.3));
  const double foot = site.surface.part().box().min().z();
  double lowest = areas.lowest(site.area);
  if (lowest == kNothingBelow) lowest = foot;
  lowest = std::max({lowest, foot, site.bottom_z});
  const auto levels = levels_between(site, top, options.stepdown_mm, lowest - tolerance);
  LevelRougher rougher(site, options);
  std::vector<std::int32_t> above;
  std::int32_t number = 0;
  std::vector<Vec3> necks;
  // Nothing thinner than some cells is sure to be there.
  const double thinnest =
      site.before ? std::max(options.thinnest_mm, 2.5 * site.before->cell_mm()) : options.thinnest_mm;
  double left_out = 0;
  for (std::size_t i = 0; i < levels.size(); ++i) {
    report(part_of(progress, 0.3, 1), static_cast<double>(i) / static_cast<double>(levels.size()));
    const LevelArea level = areas.at(levels[i]);
    for (const Vec2& neck : level.closed_necks) necks.push_back(with_z(neck, levels[i]));
    Region free = intersect(level.area, site.area);
    if (site.before) {
      CutArea to_cut = cut_area(*site.before, levels[i], free, {radius, thinnest, tolerance});
      free = std::move(to_cut.axis);
      left_out = std::max(left_out, to_cut.left_out_mm2);
    }
    std::vector<CutGroup> groups = rougher.level(free, levels[i], number + 1);
    number += groups.empty() ? 0 : 1;
    append_level(plan, std::move(groups), above);
  }
  tell_levels(plan);
  if (site.before && plan.empty())
    plan.notes.push_back({"nothing",
                          "nothing to cut: on none of its levels the tool reaches material thicker than {}",
                          {length_of(thinnest)}});
  if (left_out > 0)
    plan.facts.push_back({"left thin", number_of(left_out, Unit::mm2),
                          "in plan, most on a level: material thinner than asked for, sideways"});
  if (!necks.empty())
    plan.notes.push_back(
        {"necks",
         "{} necks with less play than {} are closed: the tool does not pass; the first at {}",
         {count_of(static_cast<std::int64_t>(necks.size())), length_of(LevelAreaOptions{}.least_play_mm),
          place_at(necks[0].x(), necks[0].y(), necks[0].z())}});
  note_what_matters(plan, site, top, options.stepdown_mm, rougher.pegs_found());
  return plan;
}

}  // namespace yardpass
