#include "yardpass/link/link.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "link/material.h"
#include "yardpass/contact/lift.h"

namespace yardpass {

namespace {

constexpr double kDegree = std::numbers::pi / 180;

class Linker {
 public:
  Linker(const ToolSurface& surface, Stock before, const LinkOptions& options)
      : surface_(surface), tool_(surface.tool()), material_(surface, std::move(before)), options_(options) {
    path_.tool = tool_;
    path_.rounding_reserve_mm = surface.rounding_reserve_mm();
    if (surface.allowance_mm() < 0) uncut_.emplace(surface.shared_part(), surface.cutter());
  }

  LinkedCuts run(const CutPlan& plan, const Progress& progress) {
    const auto count = static_cast<double>(plan.cut_count());
    std::size_t done = 0;
    for (std::size_t g = 0; g < plan.groups.size(); ++g)
      for (const Cut& cut : plan.groups[g].cuts) {
        if (done % 16 == 0) report(progress, static_cast<double>(done) / count);
        ++done;
        if (cut.points.size() < 2) continue;
        path_.cuts.push_back({static_cast<std::int32_t>(g), cut.pass});
        const Polyline3 line = oriented(cut);
        if (cut.entry == Entry::helix)
          by_helix(line, cut.helix);
        else if (cut.entry == Entry::ramp)
          by_ramp(line, cut.closed);
        else
          straight_in(line, cut.closed);
      }
    if (!path_.moves.empty()) retract();
    const auto deep = static_cast<std::int64_t>(material_.deep_cuts().size());
    LinkedCuts result{std::move(path_), material_.take()};
    if (deep > 0)
      result.notes.push_back({"flutes",
                              "{} of {} passes cut deeper than the flutes, {}",
                              {count_of(deep), count_of(static_cast<std::int64_t>(result.path.cuts.size())),
                               length_of(tool_.flute_length_mm)}});
    return result;
  }

 private:
  /// A closed cut as a line that begins and ends at its point nearest to where the tool is.
  [[nodiscard]] Polyline3 oriented(const Cut& cut) const {
    Polyline3 line = cut.points;
    if (!cut.closed) return line;
    if (started_) {
      const auto nearer = [&](const Vec3& a, const Vec3& b) {
        return (a - at_).squaredNorm() < (b - at_).squaredNorm();
      };
      std::rotate(line.begin(), std::min_element(line.begin(), line.end(), nearer), line.end());
    }
    line.push_back(line.front());
    return line;
  }

  void straight_in(const Polyline3& line, bool closed) {
    const Vec3& start = line.front();
    if (!link_to(start)) {
      if (too_much_under(start)) return by_ramp(line, closed);
      approach(plan(start), start.z());
      go(start, MoveKind::plunge);
    }
    cut_along(line);
  }

  /// More material under the tool's axis than it takes on a way that is steeper than it says.
  [[nodiscard]] bool too_much_under(const Vec3& start) {
    if (tool_.steepest_entry_deg >= 90) return false;
    material_.catch_up();
    return material_.under_axis(start) > 0.9 * tool_.plunge_through_mm;
  }
  [[nodiscard]] bool too_steep(const Vec3& from, const Vec3& to) const {
    return from.z() - to.z() > std::tan(tool_.steepest_entry_deg * kDegree) * (plan(to) - plan(from)).norm();
  }

  /// Down along the cut until its own height is reached, and then all of it.
  void by_ramp(const Polyline3& line, bool closed) {
    const Vec3& start = line.front();
    if (through_cleared(start)) return cut_along(line);
    material_.catch_up();
    // Air below the tool where the ramp begins; where all under it is cleared, the cut itself.
    const double above =
        material_.is_cleared(start) ? start.z() : material_.free_height(plan(start)) + kAboveSolid;
    ramp_down(line, closed, down_to(start, std::max(start.z(), above)));
  }

  /// Down round a helix, once round at its foot, and on to the start of the cut.
  void by_helix(const Polyline3& line, const Helix& helix) {
    const Vec3& start = line.front();
    const Vec2 out = plan(start) - helix.centre;
    // A cut that no longer begins on the circle, as after a limit by height, has no helix.
    if (std::abs(out.norm() - helix.radius_mm) > 1e-6) return by_ramp(line, false);
    if (through_cleared(start)) return cut_along(line);
    const double first = std::atan2(out.y(), out.x()), hand = helix.clockwise ? -1 : 1;
    const auto at = [&](double turned, double z) {
      const double angle = first + hand * turned;
      return with_z(Vec2(helix.centre + helix.radius_mm * Vec2(std::cos(angle), std::sin(angle))), z);
    };
    constexpr int kChords = 36;
    constexpr double kStep = 2 * std::numbers::pi / kChords;
    material_.catch_up();
    bool cleared = true;
    double above = start.z();
    for (int k = 0; k < kChords; k += 3) {
      const Vec3 place = at(k * kStep, start.z());
      cleared = cleared && material_.is_cleared(place);
      above = std::max(above, material_.free_height(plan(place)) + kAboveSolid);
    }
    const double fall = std::tan(std::min(options_.ramp_angle_deg, tool_.steepest_entry_deg) * kDegree);
    const double top = cleared ? start.z() : above;
    // It begins where it ends at the start of the cut.
    const double chord = 2 * helix.radius_mm * std::sin(0.5 * kStep);
    const double turns_down = (top - start.z()) / fall / chord * kStep;
    const double z_of_turn = turns_down > 0 ? (top - start.z()) / turns_down : 0;
    double turned = -turns_down;
    down_to(at(turned, start.z()), top);
    go(at(turned, top), MoveKind::plunge);
    double z = top;
    while (turned < -1e-9) {
      const double step = std::min(kStep, -turned);
      turned += step;
      z = turned < -1e-9 ? z - step * z_of_turn : start.z();
      go(at(turned, z), MoveKind::ramp);
    }
    if (turns_down > 0)
      for (int k = 1; k <= kChords; ++k) go(k == kChords ? start : at(k * kStep, start.z()), MoveKind::cut);
    go(start, MoveKind::cut);
    cut_along(line);
  }

  /// At feed to the start of the next cut, if that is near, level with the tool, and nothing is in between.
  bool through_cleared(const Vec3& start) {
    const bool level = is_near(start) && std::abs(at_.z() - start.z()) < 1e-6 && is_free(at_, start);
    if (!level || !material_.is_cleared(at_, start)) return false;
    go(start, MoveKind::link);
    return true;
  }
  [[nodiscard]] bool is_near(const Vec3& start) const {
    return started_ && (plan(start) - plan(at_)).norm() <= options_.link_distance_mm;
  }

  /// To a height over a place, at feed if that is near and nothing is in between; returns where it got to,
  /// at least `z`.
  double down_to(const Vec3& start, double z) {
    const Vec3 over(start.x(), start.y(), at_.z());
    if (is_near(start) && at_.z() >= z && at_.z() < z + options_.feed_height_mm && is_free(at_, over) &&
        material_.is_cleared(at_, over)) {
      go(over, MoveKind::link);
      return at_.z();
    }
    approach(plan(start), start.z());
    go(with_z(plan(start), z), MoveKind::plunge);
    return z;
  }

  void ramp_down(const Polyline3& line, bool closed, double top) {
    const double fall = std::tan(std::min(options_.ramp_angle_deg, tool_.steepest_entry_deg) * kDegree);
    const std::size_t last = line.size() - 1;
    double z = top;
    std::size_t i = 0;
    bool forward = true;
    while (z > line[i].z() + 1e-9) {
      if (!closed && (forward ? i == last : i == 0)) forward = !forward;
      std::size_t next = forward ? i + 1 : i - 1;
      const double step = (plan(line[next]) - plan(line[i])).norm();
      double lower = z - step * fall;
      // Where the cut's own height is reached within a piece, the ramp ends there and not at the piece's end.
      if (lower < line[next].z()) {
        const double own_fall = line[i].z() - line[next].z();
        const double share = std::clamp((z - line[i].z()) / (step * fall - own_fall), 0.0, 1.0);
        if (share > 0 && share < 1) go(line[i] + share * (line[next] - line[i]), MoveKind::ramp);
        lower = line[next].z();
      }
      z = lower;
      go(with_z(plan(line[next]), z), MoveKind::ramp);
      i = closed && next == last ? 0 : next;
    }
    if (closed) {
      Polyline3 rest(line.begin(), line.end() - 1);
      std::rotate(rest.begin(), rest.begin() + static_cast<std::ptrdiff_t>(i), rest.end());
      rest.push_back(rest.front());
      return cut_along(rest);
    }
    // Back to its start; where cuts only rise or fall, that is still the way in.
    while (i > 0) go(line[--i], options_.ways == HeightWays::any ? MoveKind::cut : MoveKind::ramp);
    cut_along(line);
  }

  void cut_along(const Polyline3& line) {
    const double steep = std::tan(options_.plunge_slope_deg * kDegree);
    for (std::size_t i = 1; i < line.size(); ++i) {
      const Vec3 step = line[i] - line[i - 1];
      go(line[i], -step.z() > steep * plan(step).norm() ? MoveKind::plunge : MoveKind::cut);
    }
  }

  /// To the start of the next cut without a retract, if that is near and proven free.
  bool link_to(const Vec3& start) {
    if (!started_ || (plan(start) - plan(at_)).norm() > options_.link_distance_mm) return false;
    if (is_free(at_, start) && goes_right_way(Polyline3{start})) {
      if (too_steep(at_, start) && too_much_under(start)) return false;
      go(start, MoveKind::link);
      return true;
    }
    if (crosses_keep_out(at_, start)) return false;
    const Vec2 ends[] = {plan(at_), plan(start)};
    const auto lines = lift(surface_, ends, {.tolerance_mm = options_.tolerance_mm});
    if (lines.size() != 1) return false;
    const Polyline3& line = lines.front();
    const double highest = std::max_element(line.begin(), line.end(), [](const Vec3& a, const Vec3& b) {
                             return a.z() < b.z();
                           })->z();
    const double lowest = std::min_element(line.begin(), line.end(), [](const Vec3& a, const Vec3& b) {
                            return a.z() < b.z();
                          })->z();
    if (lowest < options_.bottom_z || !goes_right_way(line)) return false;
    const bool same_ends = plan(line.front()) == ends[0] && plan(line.back()) == ends[1];
    if (!same_ends || highest > std::max(at_.z(), start.z()) + surface_.cutter().radius()) return false;
    // The cut's ends may stand higher than the line's, as links and cuts are raised apart; then go straight
    // up or down.
    for (const Vec3& p : line) go(p, MoveKind::link);
    go(start, MoveKind::link);
    return true;
  }

  /// Whether a way on from here only rises or falls, if that is asked for.
  [[nodiscard]] bool goes_right_way(const Polyline3& line) const {
    if (options_.ways == HeightWays::any) return true;
    const double sign = options_.ways == HeightWays::up ? 1 : -1;
    double farthest = sign * at_.z();
    for (const Vec3& p : line) {
      if (sign * p.z() < farthest - options_.tolerance_mm) return false;
      farthest = std::max(farthest, sign * p.z());
    }
    return true;
  }
  [[nodiscard]] bool is_free(const Vec3& a, const Vec3& b) const {
    return !crosses_keep_out(a, b) && surface_.clearance(a, b, 0.0).room >= -kTouchError;
  }
  [[nodiscard]] bool crosses_keep_out(const Vec3& a, const Vec3& b) const {
    if (options_.keep_out.empty()) return false;
    if (plan(a) == plan(b)) return options_.keep_out.contains(plan(a));
    const auto crossed = inside(options_.keep_out, plan(a), plan(b));
    return std::any_of(crossed.begin(), crossed.end(),
                       [](const Interval& piece) { return piece.to > piece.from; });
  }

  void retract() { go(with_z(plan(at_), options_.plane_z), MoveKind::rapid); }

  /// By way of the clearance plane to a little above the material (and above z).
  void approach(const Vec2& place, double z) {
    const Vec3 above = with_z(place, options_.plane_z);
    if (started_) {
      retract();
      go(above, MoveKind::rapid);
      material_.catch_up();
    } else {
      path_.start = at_ = above;
      started_ = true;
    }
    double safe =
        std::max({z, material_.free_height(place), material_.over_own_ribs(place)}) + options_.feed_height_mm;
    // A rapid does not enter the part, even where it is to be cut into and no stock stands over it.
    if (uncut_) safe = std::max(safe, uncut_->height(place) + *path_.rounding_reserve_mm);
    if (safe < options_.plane_z) go(with_z(place, safe), MoveKind::rapid);
  }

  void go(const Vec3& to, MoveKind kind) {
    if (to == at_) return;
    double feed = 0;
    switch (kind) {
      case MoveKind::rapid:
        break;
      case MoveKind::plunge:
        feed = tool_.plunge_feed_mm_min;
        break;
      case MoveKind::ramp:
        feed = tool_.ramp_feed_mm_min;
        break;
      case MoveKind::cut:
        feed = tool_.feed_mm_min;
        break;
      case MoveKind::link:
        feed = tool_.link_feed_mm_min;
        break;
    }
    path_.moves.push_back({to, kind, feed, static_cast<std::int32_t>(path_.cuts.size()) - 1});
    if (kind != MoveKind::rapid) material_.moved(at_, to, path_.moves.back().cut);
    at_ = to;
  }

  static constexpr double kAboveSolid = 0.1;  // mm: where ways down into solid begin

  const ToolSurface& surface_;
  const Tool& tool_;
  detail::Material material_;
  const LinkOptions& options_;
  std::optional<TipSurface> uncut_;  // the part itself, for overcuts
  Toolpath path_;
  Vec3 at_ = Vec3::Zero();
  bool started_ = false;
};

void check(const LinkOptions& options, const ToolSurface& surface, const Stock& before) {
  require(options.feed_height_mm > 0, "feed_height_mm", "must be above 0");
  require(options.link_distance_mm >= 0, "link_distance_mm", "must be at least 0");
  require(options.ramp_angle_deg > 0 && options.ramp_angle_deg <= 45, "ramp_angle_deg",
          "must be above 0 and at most 45 degrees");
  require(options.tolerance_mm > 0, "tolerance_mm", "must be above 0");
  const double top = std::max(before.block().max().z(), surface.part().box().max().z());
  if (!(options.plane_z > top))
    throw Error("the clearance plane at Z " + std::to_string(options.plane_z) +
                " is not above stock and part, Z " + std::to_string(top));
  require_feeds(surface.tool());
}

void check(const CutPlan& plan) {
  for (std::size_t g = 0; g < plan.groups.size(); ++g)
    for (const std::int32_t before : plan.groups[g].after)
      if (before < 0 || static_cast<std::size_t>(before) >= g)
        throw Error("group " + std::to_string(g) + " of the cuts is to come after group " +
                    std::to_string(before) + ", which is not before it");
}

}  // namespace

void keys_of(LinkOptions& options, const Usual& usual, Keys& keys) {
  keys.number("feed_height", options.feed_height_mm, {1, "above the material"},
              {.says = "height above the material where rapid turns into feed",
               .usual = "1",
               .low = 0.1,
               .high = 1000,
               .of_tool = true});
  keys.number("link_distance", options.link_distance_mm, {2.5 * usual.spacing_mm, "two and a half stepovers"},
              {.says = "up to this far the next pass is reached without a retract, if proven free",
               .usual = "2.5 stepovers",
               .low = 0,
               .high = 1e4,
               .of_tool = true});
}

LinkedCuts link_cuts(const CutPlan& plan, const ToolSurface& surface, Stock before,
                     const LinkOptions& options, const Progress& progress) {
  check(options, surface, before);
  check(plan);
  return Linker(surface, std::move(before), options).run(plan, progress);
}

}  // namespace yardpass
