#include "strategy/groove_cuts.h"

#include <algorithm>
#include <cmath>

#include "geom/more_points.h"
#include "geom/parallel_for.h"
#include "plan/sunk_line.h"
#include "strategy/lifted_lines.h"
#include "yardpass/contact/lift.h"
#include "yardpass/plan/grooves.h"

namespace yardpass::detail {

namespace {

constexpr double kFine = 0.05;  // mm: between places of a groove

/// A line in plan that the tip runs along.
struct GrooveLine {
  Polyline2 points;
  bool closed = false;
};

class Groover {
 public:
  Groover(const Region& area, double deepest_mm, const Site& site)
      : site_(site),
        area_(area),
        deepest_(deepest_mm),
        part_(site.surface.shared_part(), Profile::needle()),
        rim_(make_contact_part(rim_walls(site.surface.shared_part(), area, 2 * deepest_mm + 1)),
             site.surface.cutter(), {.allowance_mm = site.surface.rounding_reserve_mm()}) {}

  CutPlan plan(const Progress& progress) {
    const double reach = site_.surface.cutter().radius_at_height(deepest_);
    for (const std::vector<MiddlePlace>& line : middle_lines(area_, {.most_mm = reach}))
      lines_.push_back({evened(line), false});
    // Wider than the cutter at its deepest: along the sides.
    const Region wide = offset(area_, -reach);
    for (const Polyline2& loop : wide.loops) lines_.push_back({loop, true});
    CutPlan plan;
    plan.groups.emplace_back();
    plan.groups.front().keep_order = plan.groups.front().keep_direction = false;
    std::vector<std::vector<std::pair<Cut, DepthLine>>> cuts(lines_.size());
    parallel_for(lines_.size(), progress, [&](std::size_t i) { cuts[i] = cuts_of(lines_[i]); });
    double deepest = 0;
    for (auto& of_line : cuts)
      for (auto& [cut, depths] : of_line) {
        deepest = std::max(deepest, depths.greatest_mm());
        plan.sunk.push_back(std::move(depths));
        cut.pass = static_cast<std::int32_t>(plan.sunk.size());
        plan.groups.front().cuts.push_back(std::move(cut));
      }
    tell(plan, wide, deepest);
    return plan;
  }

 private:
  [[nodiscard]] double ground(const Vec2& p) const { return part_.height(p); }

  /// On ground that is not level both rims are touched a little off the middle, towards the lower one.
  [[nodiscard]] Polyline2 evened(const std::vector<MiddlePlace>& line) const {
    Polyline2 points;
    for (const MiddlePlace& place : line) {
      const double high = ground(place.one), other = ground(place.other);
      Vec2 at = place.at;
      const Vec2 across = place.other - place.one;
      const double size = across.norm();
      if (high > kNothingBelow && other > kNothingBelow && size > 1e-6 && place.off_mm > 1e-6) {
        const double run = 1 / std::max(site_.surface.cutter().slope(place.off_mm), 1e-3);
        const double by = 0.5 * run * (high - other) * 2 * place.off_mm / size;
        const double most = 0.25 * place.off_mm;
        at += std::clamp(by, -most, most) * across / size;
      }
      points.push_back(at);
    }
    return points;
  }

  [[nodiscard]] double depth_at(const Vec2& p) const {
    const double surface = site_.surface.height(p), rim = rim_.height(p);
    if (!(surface > kNothingBelow)) return 0;
    const double free = rim > kNothingBelow ? surface - rim : deepest_;
    return std::clamp(free, 0.0, deepest_);
  }

  /// Pieces where the cutter gets below the surface at all.
  [[nodiscard]] std::vector<std::pair<Cut, DepthLine>> cuts_of(const GrooveLine& line) const {
    constexpr double kNothing = 1e-4;  // mm
    Polyline2 fine = with_more_points(line.points, line.closed, kFine);
    if (line.closed) fine.push_back(fine.front());
    std::vector<double> all_depths;
    for (const Vec2& p : fine) all_depths.push_back(depth_at(p));
    const auto deep = [&](std::size_t i) { return i < fine.size() && all_depths[i] > kNothing; };
    std::vector<DepthLine> pieces;
    for (std::size_t i = 0; i < fine.size(); ++i) {
      // The place before and after belong: there the groove comes up to the surface.
      const bool goes_on = i > 0 && (deep(i - 1) || deep(i));
      if (!deep(i) && !goes_on && !deep(i + 1)) continue;
      if (!goes_on) pieces.emplace_back();
      pieces.back().points.push_back(fine[i]);
      pieces.back().depth_mm.push_back(all_depths[i]);
    }
    std::vector<std::pair<Cut, DepthLine>> cuts;
    for (DepthLine& piece : pieces) {
      if (piece.points.size() < 2) continue;
      LiftedLine lifted{piece.points};
      lifted.pieces =
          lift(site_.surface, piece.points, {.tolerance_mm = std::min(0.003, site_.tolerance_mm)});
      std::vector<Cut> made;
      add_cuts(made, std::move(lifted));
      for (Cut& cut : made) {
        DepthLine depths = piece;
        keep_off_rim(cut.points, depths);
        if (depths.greatest_mm() > kNothing) cuts.emplace_back(std::move(cut), std::move(depths));
      }
    }
    return cuts;
  }

  /// Between its places too, and over steps of the ground: shallower where a chord would enter the rim.
  void keep_off_rim(const Polyline3& line, DepthLine& depths) const {
    constexpr int kRounds = 12;
    constexpr double kFree = 1e-4;  // mm
    for (int round = 0; round < kRounds; ++round) {
      const Polyline3 deep = sunk_line(line, depths);
      bool entered = false;
      std::vector<double> raise(depths.points.size(), 0);
      for (std::size_t i = 0; i + 1 < deep.size(); ++i) {
        const double room = rim_.clearance(deep[i], deep[i + 1], 0.0).room;
        if (room >= -kFree) continue;
        entered = true;
        // All places that bear on the chord; both run the same way or against each other.
        const Vec2 a = yardpass::plan(deep[i]), b = yardpass::plan(deep[i + 1]);
        for (std::size_t at = 0; at < depths.points.size(); ++at)
          if (distance_to_segment(depths.points[at], a, b) <= 1.5 * kFine)
            raise[at] = std::max(raise[at], -room + kFree);
      }
      if (!entered) return;
      for (std::size_t k = 0; k < raise.size(); ++k)
        depths.depth_mm[k] = std::max(0.0, depths.depth_mm[k] - raise[k]);
    }
    // A step too high for that: on the surface, then.
    const Polyline3 deep = sunk_line(line, depths);
    for (std::size_t i = 0; i + 1 < deep.size(); ++i)
      if (rim_.clearance(deep[i], deep[i + 1], 0.0).room < -10 * kFree)
        for (std::size_t k = 0; k < depths.points.size(); ++k)
          if (distance_to_segment(depths.points[k], yardpass::plan(deep[i]), yardpass::plan(deep[i + 1])) <=
              2 * kFine)
            depths.depth_mm[k] = 0;
  }

  void tell(CutPlan& plan, const Region& wide, double deepest) const {
    plan.facts.push_back({"grooves", count_of(std::ssize(pieces(area_))), "outlines that are filled"});
    plan.facts.push_back({"deepest", length_of(deepest), "below the surface, straight down"});
    const double tip = site_.surface.cutter().radius_at_height(0);
    const Region floor = offset(wide, -std::max(tip, 1e-3));
    if (floor.area_mm2() > 0.01)
      plan.notes.push_back(
          {"floor",
           "{} are wider than the cutter at its deepest: their sides are cut, the middle stays",
           {number_of(floor.area_mm2(), Unit::mm2)}});
    if (tip > 0.005)
      plan.notes.push_back({"tip",
                            "the tip is {} wide: what is narrower stays, and sharp corners are not filled",
                            {length_of(2 * tip)}});
    if (plan.empty())
      plan.notes.push_back({"nothing", "nothing to cut: the cutter gets into no outline over the part"});
  }

  const Site& site_;
  const Region& area_;
  double deepest_;
  TipSurface part_, rim_;
  std::vector<GrooveLine> lines_;
};

}  // namespace

Region inside_of(const GivenCurves& curves) {
  constexpr double kFiner = 0.0005;  // mm: no form
  Region area;
  for (const Curve& curve : curves.curves) {
    if (!curve.closed) continue;
    const Polyline2 loop = in_plan(curve);
    area.loops.push_back(simplify_loop(std::span<const Vec2>(loop), kFiner));
  }
  return area.empty() ? area : unite(area, {});
}

CutPlan groove_cuts(const Region& area, double deepest_mm, const Site& site, const Progress& progress) {
  const Region inside = intersect(area, site.area);
  if (inside.empty()) {
    CutPlan plan;
    plan.notes.push_back({"nothing", "nothing to cut: no outline lies in the area"});
    return plan;
  }
  return Groover(inside, deepest_mm, site).plan(progress);
}

}  // namespace yardpass::detail
