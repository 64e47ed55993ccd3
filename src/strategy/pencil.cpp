#include "yardpass/strategy/pencil.h"

#include <algorithm>
#include <cmath>

#include "geom/bands.h"
#include "geom/more_points.h"
#include "geom/parallel_for.h"
#include "strategy/lifted_lines.h"
#include "yardpass/contact/lift.h"
#include "yardpass/plan/fronts.h"
#include "yardpass/plan/touch_rule.h"
#include "yardpass/plan/valleys.h"

namespace yardpass {

void keys_of(PencilOptions& options, const Tool& tool, Keys& keys) {
  const double round = round_end_mm(profile_of(completed(tool)));
  keys.refuse_if(
      !(round > 0), {"strategy"},
      "\"pencil\" needs a tool that ends in a round: shape \"ball\", or \"taper\" with a round tip");
  keys.number(
      "threshold", options.threshold_mm, {0.02, "0.02 mm"},
      {.says = "what the tool leaves in a corner, from its round to the part, for the corner to count; a "
               "fillet as wide as the tool leaves nothing",
       .usual = "0.02",
       .low = 0.001,
       .high = 100});
  keys.number("shortest", options.shortest_mm, {tool.diameter_mm, "the tool's diameter"},
              {.says = "corners that are shorter are left out",
               .usual = "the tool's diameter",
               .low = 0,
               .high = 1e4,
               .of_tool = true});
  keys.whole("beside", options.beside, 0,
             {.says = "so many passes more on each side of the corner",
              .usual = "0",
              .unit = Unit::none,
              .low = 0,
              .high = 1000});
  keys.number("stepover", options.stepover_mm, {0.04 * tool.diameter_mm, "0.04 of the diameter"},
              {.says = "between passes beside each other, in space",
               .usual = "0.04 of the diameter",
               .low = 0,
               .high = 1e4,
               .above_low = true,
               .of_tool = true,
               .coarsened = Coarsened::spacing});
  keys.idle_if(options.beside == 0, "stepover", "there is one pass a corner");
  constexpr std::pair<PencilOrder, const char*> orders[] = {{PencilOrder::outside_in, "outside-in"},
                                                            {PencilOrder::inside_out, "inside-out"}};
  keys.choice("order", options.order, orders, PencilOrder::outside_in, "each pass takes little",
              {.says = "whether the corner itself is cut last or first", .usual = "`\"outside-in\"`"});
  keys.idle_if(options.beside == 0, "order", "there is one pass a corner");
}

Usual usual_of(const PencilOptions& options, const Tool&) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spacing_mm = options.stepover_mm;
  usual.tells_spacing = false;
  usual.touches_twice = true;
  usual.corner_left_mm = options.threshold_mm;
  usual.rows_a_corner = 1 + 2 * options.beside;
  usual.spread = Spread::in_corners;
  return usual;
}

namespace {

/// The pieces of valleys that touch an area with one of their sides at least.
class TouchedValleys {
 public:
  TouchedValleys(const ToolSurface& surface, const Region& touched)
      : surface_(surface), inside_(offset(touched, 0.002)), step_(0.1 * surface.tool().diameter_mm) {}

  [[nodiscard]] std::vector<Valley> of(const Valley& valley) const {
    const Polyline2 fine = detail::with_more_points(valley.line, valley.closed, step_);
    const std::size_t count = fine.size();
    std::vector<bool> holds(count);
    for (std::size_t i = 0; i < count; ++i) {
      const Vec2& next = fine[(i + 1) % count];
      const Vec2& before = fine[(i + count - 1) % count];
      const Vec2 along = i + 1 < count || valley.closed ? Vec2(next - fine[i]) : Vec2(fine[i] - before);
      holds[i] = touches(fine[i], along);
    }
    if (std::all_of(holds.begin(), holds.end(), [](bool one) { return one; })) return {valley};
    // A ring that is cut begins where it does not hold.
    std::size_t first = 0;
    if (valley.closed)
      first = static_cast<std::size_t>(std::find(holds.begin(), holds.end(), false) - holds.begin());
    std::vector<Valley> pieces;
    bool open = false;
    for (std::size_t k = 0; k < count; ++k) {
      const std::size_t i = (first + k) % count;
      if (!holds[i]) {
        open = false;
        continue;
      }
      if (!open) pieces.push_back({{}, false, valley.length_mm, valley.left_mm});
      open = true;
      pieces.back().line.push_back(fine[i]);
    }
    std::erase_if(pieces, [](const Valley& piece) { return piece.line.size() < 2; });
    return pieces;
  }

 private:
  [[nodiscard]] bool touches(const Vec2& place, const Vec2& along) const {
    constexpr double kBeside = 0.002;  // mm
    if (along.norm() == 0) return false;
    const Vec2 side = Vec2(-along.y(), along.x()).normalized() * kBeside;
    for (const Vec2& at : {Vec2(place + side), Vec2(place - side)})
      if (const auto touch = surface_.touch(at); touch && inside_.contains(plan(touch->point))) return true;
    return false;
  }
  const ToolSurface& surface_;
  detail::Bands inside_;
  double step_;
};

/// Valleys that are near each other, by index, and passes of theirs.
struct Cluster {
  std::vector<Valley> valleys;
  Region near;  // where their passes lie
};

std::vector<Cluster> clusters(const std::vector<Valley>& valleys, double reach) {
  std::vector<Cluster> all;
  if (!(reach > 0)) {
    all.push_back({valleys, {}});
    return all;
  }
  std::vector<Polyline2> open;
  Region region;
  for (const Valley& valley : valleys) {
    Polyline2 line = valley.line;
    if (valley.closed) line.push_back(line.front());
    region = unite(region, around({line}, false, reach));
  }
  for (Region& piece : pieces(region)) all.push_back({{}, std::move(piece)});
  for (const Valley& valley : valleys)
    for (Cluster& cluster : all)
      if (cluster.near.contains(valley.line.front())) {
        cluster.valleys.push_back(valley);
        break;
      }
  return all;
}

class Penciller {
 public:
  Penciller(const PencilOptions& options, const Site& site) : options_(options), site_(site) {}

  CutPlan plan(const Progress& progress) {
    Valleys found = valleys(site_.surface, site_.area,
                            {options_.threshold_mm, options_.shortest_mm, 0.5 * site_.tolerance_mm, 0},
                            part_of(progress, 0, 0.5));
    std::vector<Valley> lines;
    if (site_.touched) {
      const TouchedValleys touched(site_.surface, *site_.touched);
      for (const Valley& valley : found.lines)
        for (Valley& piece : touched.of(valley)) lines.push_back(std::move(piece));
    } else {
      lines = std::move(found.lines);
    }
    const double reach = options_.beside > 0 ? (options_.beside + 0.2) * options_.stepover_mm : 0;
    for (const Cluster& cluster : clusters(lines, reach)) add(cluster);
    detail::parallel_for(lifted_.size(), part_of(progress, 0.6, 1), [&](std::size_t i) {
      Polyline2 whole = lifted_[i].points;
      if (lifted_[i].closed) whole.push_back(whole.front());
      lifted_[i].pieces =
          lift(site_.surface, whole, {.tolerance_mm = site_.tolerance_mm, .floor_z = floor()});
    });
    for (detail::LiftedLine& line : lifted_) detail::add_cuts(plan_.groups[line.group].cuts, std::move(line));
    tell(lines, found);
    return std::move(plan_);
  }

 private:
  [[nodiscard]] double floor() const {
    return site_.bottom_z > kNothingBelow ? site_.bottom_z - 2 * site_.tolerance_mm : kNothingBelow;
  }

  void add(const Cluster& cluster) {
    plan_.keep_group_order = false;
    const auto first = static_cast<std::int32_t>(plan_.groups.size());
    const int steps = options_.beside + 1;
    for (int k = 0; k < steps; ++k) {
      CutGroup group;
      group.keep_order = group.keep_direction = false;
      if (k > 0) group.after = {first + k - 1};
      plan_.groups.push_back(std::move(group));
    }
    const bool inside_first = options_.order == PencilOrder::inside_out;
    const auto group_of = [&](int step) {
      return static_cast<std::size_t>(first + (inside_first ? step : options_.beside - step));
    };
    for (const Valley& valley : cluster.valleys)
      lifted_.push_back({valley.line, valley.closed, ++pass_, group_of(0)});
    if (options_.beside == 0) return;
    FrontStart start;
    for (const Valley& valley : cluster.valleys) {
      start.open.push_back(valley.line);
      if (valley.closed) start.open.back().push_back(valley.line.front());
    }
    FrontOptions fronts;
    fronts.stepover_mm = options_.stepover_mm;
    fronts.farthest = 0;
    for (const FrontPass& pass :
         fronts_from(site_.surface, intersect(site_.area, cluster.near), start, fronts).passes)
      if (pass.step > 0 && pass.step <= options_.beside && !pass.middle)
        lifted_.push_back({pass.line, pass.closed, ++pass_, group_of(pass.step)});
  }

  void tell(const std::vector<Valley>& lines, const Valleys& found) {
    double whole = 0, left = 0;
    for (const Valley& valley : lines) left = std::max(left, valley.left_mm);
    for (const Valley& valley : lines) {
      Polyline2 line = valley.line;
      if (valley.closed) line.push_back(line.front());
      whole += length(std::span<const Vec2>(line));
    }
    plan_.facts.push_back({"corners", count_of(std::ssize(lines)), "that the tool touches on two sides"});
    plan_.facts.push_back({"corners, length", length_of(whole), "in plan"});
    if (!lines.empty())
      plan_.facts.push_back(
          {"left in them", length_of(left), "by this tool, at most: a smaller one takes it"});
    if (found.too_short > 0)
      plan_.notes.push_back(
          {"short",
           "{} corners are left out: they are shorter than {}, {} in all",
           {count_of(found.too_short), length_of(options_.shortest_mm), length_of(found.too_short_mm)}});
    if (lines.empty())
      plan_.notes.push_back({"nothing",
                             "nothing to cut: in no corner does this tool leave more than {}",
                             {length_of(options_.threshold_mm)}});
  }

  const PencilOptions& options_;
  const Site& site_;
  CutPlan plan_;
  std::vector<detail::LiftedLine> lifted_;
  std::int32_t pass_ = 0;
};

}  // namespace

CutPlan cuts_of(const PencilOptions& options, const Site& site, const Progress& progress) {
  require(options.beside >= 0, "beside", "must not be negative");
  require(options.stepover_mm > 0, "stepover_mm", "must be above 0");
  if (site.area.empty()) return {};
  return Penciller(options, site).plan(progress);
}

}  // namespace yardpass
