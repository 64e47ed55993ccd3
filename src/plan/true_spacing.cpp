#include "yardpass/plan/true_spacing.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <unordered_map>

#include "geom/parallel_for.h"
#include "plan/places_along.h"

namespace yardpass {

namespace {

constexpr double kSeen = 8;  // times what was asked, in plan

/// The pieces of one pass, sorted into squares in plan.
class PassSquares {
 public:
  explicit PassSquares(double size) : size_(size) {}

  void add(const Vec3& a, const Vec3& b, bool ends_at_a, bool ends_at_b) {
    // Long pieces pass many cubes: cut up, so that each lies in few.
    const int count = std::max(1, static_cast<int>(std::ceil((plan(b) - plan(a)).norm() / size_)));
    for (int k = 0; k < count; ++k) {
      const Vec3 from = a + (b - a) * (1.0 * k / count), to = a + (b - a) * (1.0 * (k + 1) / count);
      const auto number = static_cast<std::int32_t>(pieces_.size());
      pieces_.push_back({from, to, ends_at_a && k == 0, ends_at_b && k + 1 == count});
      for_squares(plan(from).cwiseMin(plan(to)), plan(from).cwiseMax(plan(to)),
                  [&](std::uint64_t square) { squares_[square].push_back(number); });
    }
  }
  /// Distance in space to the nearest place that is within reach in plan; nothing where that is an end of
  /// the pass.
  [[nodiscard]] std::optional<double> beside(const Vec3& p, double reach) const {
    double least = std::numeric_limits<double>::infinity();
    bool ends = true;
    for (double within = std::min(size_, reach);; within = reach) {
      for_squares(plan(p).array() - within, plan(p).array() + within, [&](std::uint64_t square) {
        if (const auto found = squares_.find(square); found != squares_.end())
          for (const std::int32_t number : found->second) look(number, p, least, ends);
      });
      if (least <= within || within >= reach) break;
    }
    if (ends) return std::nullopt;
    return least;
  }

 private:
  struct Piece {
    Vec3 a, b;
    bool ends_at_a, ends_at_b;
  };
  template <typename Visit>
  void for_squares(const Vec2& low, const Vec2& high, const Visit& visit) const {
    const auto at = [&](double x) { return static_cast<std::int32_t>(std::floor(x / size_)); };
    for (std::int32_t x = at(low.x()); x <= at(high.x()); ++x)
      for (std::int32_t y = at(low.y()); y <= at(high.y()); ++y)
        visit((static_cast<std::uint64_t>(static_cast<std::uint32_t>(x)) << 32) |
              static_cast<std::uint32_t>(y));
  }
  void look(std::int32_t number, const Vec3& p, double& least, bool& ends) const {
    const Piece& piece = pieces_[static_cast<std::size_t>(number)];
    const Vec3 way = piece.b - piece.a;
    const double share = std::clamp((p - piece.a).dot(way) / std::max(way.squaredNorm(), 1e-300), 0.0, 1.0);
    const double far = (piece.a + share * way - p).norm();
    if (far >= least) return;
    least = far;
    ends = (piece.ends_at_a && share == 0) || (piece.ends_at_b && share == 1);
  }

  double size_;
  std::vector<Piece> pieces_;
  std::unordered_map<std::uint64_t, std::vector<std::int32_t>> squares_;
};

std::map<std::int32_t, PassSquares> squares_of_passes(const CutPlan& cuts, double size) {
  std::map<std::int32_t, PassSquares> passes;
  for (const CutGroup& group : cuts.groups)
    for (const Cut& cut : group.cuts) {
      if (cut.pass <= 0) continue;
      PassSquares& pass = passes.try_emplace(cut.pass, size).first->second;
      const std::size_t n = cut.points.size(), segments = n - (cut.closed ? 0 : 1);
      for (std::size_t i = 0; n > 1 && i < segments; ++i)
        pass.add(cut.points[i], cut.points[(i + 1) % n], !cut.closed && i == 0,
                 !cut.closed && i + 1 == segments);
    }
  return passes;
}

}  // namespace

TrueSpacing true_spacing(const CutPlan& plan, double asked_mm, std::size_t places) {
  require(asked_mm > 0, "asked_mm", "must be above 0");
  TrueSpacing result;
  result.asked_mm = asked_mm;
  const auto passes = squares_of_passes(plan, 2 * asked_mm);
  const auto along = detail::places_along(plan, 0.25 * asked_mm, places);
  std::vector<std::optional<double>> spacing(along.size());
  detail::parallel_for(along.size(), [&](std::size_t i) {
    const std::int32_t pass = plan.groups[along[i].group].cuts[along[i].cut].pass;
    if (const auto next = passes.find(pass + 1); pass > 0 && next != passes.end())
      spacing[i] = next->second.beside(along[i].tip, kSeen * asked_mm);
  });
  std::vector<double> sorted;
  for (std::size_t i = 0; i < along.size(); ++i) {
    if (!spacing[i]) continue;
    result.places.push_back({along[i].tip, *spacing[i]});
    sorted.push_back(*spacing[i]);
    if (*spacing[i] > result.greatest_mm) result.greatest_mm = *spacing[i], result.at = along[i].tip;
  }
  if (sorted.empty()) return result;
  std::sort(sorted.begin(), sorted.end());
  result.half_mm = sorted[sorted.size() / 2];
  result.most_mm = sorted[sorted.size() * 95 / 100];
  const auto above = sorted.end() - std::upper_bound(sorted.begin(), sorted.end(), 1.02 * asked_mm);
  result.share_above = static_cast<double>(above) / static_cast<double>(sorted.size());
  return result;
}

namespace {

/// How the tip surface rises at a place that passes come by.
using Rises = std::vector<Vec2>;

double times_farther(const Vec2& rise, double angle_deg) {
  const double angle = angle_deg * std::numbers::pi / 180;
  return std::hypot(1, rise.dot(Vec2(-std::sin(angle), std::cos(angle))));
}

/// Where passes at an angle lie farther apart on the surface than in plan by over a quarter, and how much
/// farther they lie on the mean.
struct TooFar {
  double share = 0, mean = 0;
};
TooFar too_far(const Rises& rises, double angle_deg) {
  TooFar result;
  for (const Vec2& rise : rises) {
    const double times = times_farther(rise, angle_deg);
    result.mean += times - 1;
    result.share += times > 1.25;
  }
  const double all = std::max(1.0, static_cast<double>(rises.size()));
  return {result.share / all, result.mean / all};
}

/// By differences over a distance, as wide as it takes to see a step between two passes.
Rises rises_along(const CutPlan& cuts, const TipSurface& surface, double distance) {
  constexpr double kSteepest = 30;  // rise over run: upright
  std::vector<Vec2> places;
  for (const detail::PlaceAlong& place : detail::places_along(cuts, 0.05, 4000)) {
    // Evenly in plan: of a way up a wall only what it is long from above counts.
    const double from_above = plan(place.way).norm();
    if (from_above > 0.1) places.push_back(plan(place.tip));
  }
  std::vector<std::optional<Vec2>> found(places.size());
  detail::parallel_for(places.size(), [&](std::size_t i) {
    Vec2 rise;
    for (int k = 0; k < 2; ++k) {
      const Vec2 step = k == 0 ? Vec2(distance, 0) : Vec2(0, distance);
      const double low = surface.height(places[i] - step), high = surface.height(places[i] + step);
      if (low == kNothingBelow || high == kNothingBelow) return;
      rise[k] = (high - low) / (2 * distance);
    }
    if (rise.norm() > kSteepest) rise *= kSteepest / rise.norm();
    found[i] = rise;
  });
  Rises rises;
  for (const std::optional<Vec2>& rise : found)
    if (rise) rises.push_back(*rise);
  return rises;
}

}  // namespace

PatternHint pattern_hint(const CutPlan& plan, const ToolSurface& surface, double angle_deg,
                         double stepover_mm) {
  require(stepover_mm > 0, "stepover_mm", "must be above 0");
  constexpr double kFew = 0.1, kSteep = 1.2, kLevel = 0.002;  // rises
  const Rises rises = rises_along(plan, surface, 0.5 * stepover_mm);
  PatternHint hint;
  if (rises.empty()) return hint;
  const TooFar now = too_far(rises, angle_deg);
  hint.share_above = now.share;
  const auto count = [&](const auto& wanted) {
    return static_cast<double>(std::count_if(rises.begin(), rises.end(), wanted)) /
           static_cast<double>(rises.size());
  };
  const Profile::Piece& tip = surface.cutter().pieces().front();
  const bool flat_end = tip.arc == 0 && tip.z1 == tip.z0;
  if (flat_end && count([](const Vec2& rise) { return rise.norm() < kLevel; }) > 0.95) {
    hint.better = PatternHint::Better::flats;
    return hint;
  }
  if (now.share <= kFew) return hint;
  TooFar best{2, 0};
  for (int k = 0; k < 12; ++k) {
    const double other = angle_deg + 15 * k;
    const TooFar found = too_far(rises, other);
    // Many leave next to nothing: of those the one that leaves passes nearest to each other.
    const bool as_good = std::abs(found.share - best.share) < 0.01;
    if (as_good ? found.mean < best.mean : found.share < best.share) best = found, hint.angle_deg = other;
  }
  hint.angle_deg = std::remainder(hint.angle_deg, 180);
  if (best.share <= now.share / 3)
    hint.better = PatternHint::Better::other_angle, hint.share_better = best.share;
  else if (count([](const Vec2& rise) { return rise.norm() > kSteep; }) > 0.5)
    hint.better = PatternHint::Better::waterline;
  else
    hint.better = PatternHint::Better::scallop;
  return hint;
}

}  // namespace yardpass
