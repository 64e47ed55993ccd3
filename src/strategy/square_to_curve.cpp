#include "yardpass/strategy/square_to_curve.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "geom/along_line.h"
#include "geom/bands.h"
#include "geom/parallel_for.h"
#include "strategy/lifted_lines.h"
#include "strategy/pattern_keys.h"
#include "yardpass/contact/lift.h"
#include "yardpass/plan/spacing.h"

namespace yardpass {

void keys_of(SquareOptions& options, const Tool& tool, Keys& keys) {
  keys.curves("curves", options.curves,
              {.says = "the curves that passes are square to, seen from above", .required = true});
  const Derived usual{2 * tool.diameter_mm, "two diameters of the tool"};
  keys.number("left", options.left_mm, usual,
              {.says = "how far passes go to the left of the curve, as it is drawn",
               .usual = "two diameters of the tool",
               .low = 0,
               .high = 1e4,
               .of_tool = true});
  keys.number("right", options.right_mm, usual,
              {.says = "how far to its right",
               .usual = "two diameters of the tool",
               .low = 0,
               .high = 1e4,
               .of_tool = true});
  keys.refuse_if(options.left_mm == 0 && options.right_mm == 0, {"left", "right"},
                 "and the other side are 0: passes would have no length");
  detail::stepover_keys(options.stepover_mm, tool, keys,
                        "the widest from pass to pass, along the curve in plan");
  constexpr std::pair<bool, const char*> patterns[] = {{true, "zigzag"}, {false, "one-way"}};
  keys.choice("pattern", options.zigzag, patterns, true, "less air",
              {.says = "to and fro, or all from left to right", .usual = "`\"zigzag\"`"});
}

Usual usual_of(const SquareOptions& options, const Tool& tool) {
  Usual usual{{0, "finish to size"}, {0.01, "0.01 mm"}};
  usual.spacing_mm = options.stepover_mm;
  usual.spread = Spread::beside_lines;
  usual.beside_mm = options.left_mm + options.right_mm;
  usual.tells_spacing = false;  // it is even along the curve alone
  if (leaves_scallops(tool)) usual.scallop_mm = scallop_height(tool, options.stepover_mm);
  return usual;
}

std::vector<CurveRole> roles_of(const SquareOptions& options, const Region&) {
  std::vector<CurveRole> roles;
  for (const Curve& curve : options.curves.curves)
    roles.push_back({curve.name.empty() ? "square to it" : curve.name, in_plan(curve), curve.closed, false,
                     static_cast<std::int32_t>(roles.size()) + 1});
  return roles;
}

namespace {

constexpr double kSharp = 0.09;  // rad: what turns more at a point is a corner

/// A foot on the curve with the direction to its left there; on the inner side of a corner there is no room.
struct Foot {
  Vec2 at, left;
  bool to_left = true, to_right = true;
};

class SquarePasses {
 public:
  SquarePasses(const Curve& curve, const SquareOptions& options)
      : options_(options),
        line_(without_dust(in_plan(curve), curve.closed), curve.closed),
        closed_(curve.closed) {}

  void add_to(std::vector<Polyline2>& passes) const {
    if (line_.points().size() < 2) return;
    std::vector<std::pair<double, Foot>> feet;
    const double whole = line_.length();
    const int gaps = std::max(1, static_cast<int>(std::ceil(whole / options_.stepover_mm - 1e-9)));
    for (int k = 0; k < gaps + (closed_ ? 0 : 1); ++k) {
      const double way = whole * k / gaps;
      if (!near_corner(way)) feet.emplace_back(way, Foot{line_.at(way), left_at(way)});
    }
    add_corners(feet);
    std::stable_sort(feet.begin(), feet.end(),
                     [](const auto& a, const auto& b) { return a.first < b.first; });
    for (const auto& [way, foot] : feet) {
      Polyline2 pass;
      const double left = foot.to_left ? room(foot, options_.left_mm) : 0,
                   right = foot.to_right ? room({foot.at, -foot.left}, options_.right_mm) : 0;
      if (left > 0) pass.push_back(foot.at + left * foot.left);
      if (left == 0 || right == 0) pass.push_back(foot.at);
      if (right > 0) pass.push_back(foot.at - right * foot.left);
      if (pass.size() > 1 && (pass.front() - pass.back()).norm() > 1e-6) passes.push_back(std::move(pass));
    }
  }

 private:
  static Polyline2 without_dust(const Polyline2& line, bool closed) {
    Polyline2 kept;
    for (const Vec2& p : line)
      if (kept.empty() || (p - kept.back()).norm() > 1e-6) kept.push_back(p);
    if (closed && kept.size() > 1 && (kept.front() - kept.back()).norm() < 1e-6) kept.pop_back();
    return kept;
  }
  [[nodiscard]] std::size_t pieces() const { return line_.points().size() - 1; }
  [[nodiscard]] Vec2 direction(std::size_t piece) const {
    return (line_.points()[piece + 1] - line_.points()[piece]).normalized();
  }
  /// By how much it turns at the start of a piece, to the left positive.
  [[nodiscard]] double turn(std::size_t piece) const {
    if (piece == 0 && !closed_) return 0;
    const Vec2 before = direction(piece == 0 ? pieces() - 1 : piece - 1), after = direction(piece);
    return std::atan2(cross2(before, after), before.dot(after));
  }
  [[nodiscard]] bool near_corner(double way) const {
    for (std::size_t i = 0; i < pieces(); ++i)
      if (std::abs(turn(i)) > kSharp && std::abs(line_.ways()[i] - way) < 1e-6) return true;
    return false;
  }
  /// On chords of a smooth curve the direction turns evenly from point to point.
  [[nodiscard]] Vec2 left_at(double way) const {
    const auto [i, share] = line_.on(way);
    const std::size_t next = i + 1 < pieces() ? i + 1 : closed_ ? 0 : i;
    const auto half = [&](std::size_t piece, bool at_end) {
      const double here = at_end ? (next == i ? 0 : turn(next)) : turn(piece);
      return std::abs(here) > kSharp ? 0.0 : 0.5 * here;
    };
    const double tilt = -half(i, false) * (1 - share) + half(i, true) * share;
    const Vec2 along = Eigen::Rotation2Dd(tilt) * direction(i);
    return {-along.y(), along.x()};
  }
  /// Round the outer side of corners as near at their far ends as asked along the curve.
  void add_corners(std::vector<std::pair<double, Foot>>& feet) const {
    for (std::size_t i = 0; i < pieces(); ++i) {
      const double by = turn(i);
      if (std::abs(by) <= kSharp) continue;
      const double outer = by > 0 ? options_.right_mm : options_.left_mm;
      const int fan = std::max(1, static_cast<int>(std::ceil(std::abs(by) * outer / options_.stepover_mm)));
      const Vec2 before = direction(i == 0 ? pieces() - 1 : i - 1);
      for (int k = 0; k <= fan; ++k) {
        const Vec2 along = Eigen::Rotation2Dd(by * k / fan) * before;
        // In their order although they have one place.
        feet.emplace_back(line_.ways()[i] + 1e-9 * k,
                          Foot{line_.points()[i], Vec2(-along.y(), along.x()), by<0, by> 0});
      }
    }
  }
  [[nodiscard]] double distance(const Vec2& p) const {
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < pieces(); ++i)
      least = std::min(least, distance_to_segment(p, line_.points()[i], line_.points()[i + 1]));
    return least;
  }
  /// How far a pass may go until another place of the curve is nearer than its own foot.
  [[nodiscard]] double room(const Foot& foot, double wanted) const {
    constexpr double kChord = 0.0015, kShort = 0.002;  // mm
    constexpr double kTilt = 1e-3;  // between points directions turn evenly, so they are not square to chords
    if (!(wanted > 0)) return 0;
    const auto own = [&](double far) {
      return distance(foot.at + far * foot.left) > far * (1 - kTilt) - kChord;
    };
    if (own(wanted)) return wanted;
    double low = 0, high = wanted;
    for (int round = 0; round < 40; ++round) {
      const double middle = 0.5 * (low + high);
      (own(middle) ? low : high) = middle;
    }
    return std::max(0.0, low - kShort);
  }
  const SquareOptions& options_;
  detail::AlongLine line_;
  bool closed_;
};

/// What still crosses, where curves come near each other or chords deceive, ends before it does.
void end_before_crossings(std::vector<Polyline2>& passes) {
  constexpr double kShort = 0.002;  // mm
  std::vector<Box2> boxes;
  for (const Polyline2& pass : passes) {
    boxes.emplace_back();
    for (const Vec2& p : pass) boxes.back().extend(p);
  }
  // Of each end the way to the first crossing on it.
  for (std::size_t i = 0; i < passes.size(); ++i)
    for (std::size_t k = i + 1; k < passes.size(); ++k) {
      if (!boxes[i].intersects(boxes[k])) continue;
      const Vec2 a = passes[i].front(), along = passes[i].back() - a;
      const Vec2 b = passes[k].front(), other = passes[k].back() - b;
      const double cross = cross2(along, other);
      if (std::abs(cross) < 1e-12) continue;
      const double at = cross2(Vec2(b - a), other) / cross, at_other = cross2(Vec2(b - a), along) / cross;
      constexpr double kEnd = 1e-9;
      if (at <= kEnd || at >= 1 - kEnd || at_other <= kEnd || at_other >= 1 - kEnd) continue;
      const auto shorten = [&](Polyline2& pass, double share) {
        const double size = (pass.back() - pass.front()).norm(), back = kShort / size;
        const Vec2 from = pass.front(), to = pass.back();
        // The end that is nearer to the crossing gives way.
        if (share < 0.5)
          pass.front() = from + std::min(1.0, share + back) * (to - from);
        else
          pass.back() = from + std::max(0.0, share - back) * (to - from);
      };
      shorten(passes[i], at);
      shorten(passes[k], at_other);
    }
}

}  // namespace

std::vector<Polyline2> square_passes(const SquareOptions& options) {
  require(options.curves.given(), "curves", "must be at least one");
  require(options.left_mm >= 0 && options.right_mm >= 0 && options.left_mm + options.right_mm > 0,
          "left_mm, right_mm", "must not be negative, and not both 0");
  require(options.stepover_mm > 0, "stepover_mm", "must be above 0");
  std::vector<Polyline2> passes;
  for (const Curve& curve : options.curves.curves) {
    std::vector<Polyline2> of_curve;
    SquarePasses(curve, options).add_to(of_curve);
    end_before_crossings(of_curve);
    std::erase_if(of_curve, [](const Polyline2& pass) { return (pass.front() - pass.back()).norm() < 1e-6; });
    passes.insert(passes.end(), of_curve.begin(), of_curve.end());
  }
  return passes;
}

CutPlan cuts_of(const SquareOptions& options, const Site& site, const Progress& progress) {
  const std::vector<Polyline2> passes = square_passes(options);
  CutPlan plan;
  plan.groups.emplace_back();
  plan.groups.front().keep_direction = !options.zigzag;
  if (site.area.empty()) return plan;
  const double floor = site.bottom_z > kNothingBelow ? site.bottom_z - 2 * site.tolerance_mm : kNothingBelow;
  const detail::Bands inside(site.area);
  std::vector<std::vector<Cut>> cuts(passes.size());
  detail::parallel_for(passes.size(), progress, [&](std::size_t i) {
    Polyline2 pass = passes[i];
    if (options.zigzag && i % 2 == 1) std::reverse(pass.begin(), pass.end());
    for (const Polyline2& piece : inside.inside(pass)) {
      detail::LiftedLine line{piece, false, static_cast<std::int32_t>(i) + 1};
      line.pieces = lift(site.surface, piece, {.tolerance_mm = site.tolerance_mm, .floor_z = floor});
      detail::add_cuts(cuts[i], std::move(line));
    }
  });
  for (std::vector<Cut>& of_pass : cuts)
    for (Cut& cut : of_pass) plan.groups.front().cuts.push_back(std::move(cut));
  plan.facts.push_back({"passes", count_of(std::ssize(passes)), "square to the curve"});
  if (plan.empty())
    plan.notes.push_back({"nothing", "nothing to cut: no pass square to the curve lies in the area"});
  return plan;
}

}  // namespace yardpass
