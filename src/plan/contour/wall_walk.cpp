#include "plan/contour/wall_walk.h"

#include <algorithm>
#include <cmath>

#include "yardpass/contact/slope.h"

namespace yardpass::detail {

namespace {

constexpr double kInside = 1e-7;  // mm: so far into the material a touch is the wall's
constexpr double kNarrow = 1e-9;  // mm: narrower pieces of a line are not told

/// Where two lines meet, from the first one's point in its way.
std::optional<double> meeting(const Vec2& a, const Vec2& way_a, const Vec2& b, const Vec2& way_b) {
  const double sine = cross2(way_a, way_b);
  if (std::abs(sine) < 1e-9) return std::nullopt;
  return cross2(Vec2(b - a), way_b) / sine;
}

}  // namespace

std::optional<WallPlace> WallWalk::found_at(const Vec2& place, const Vec2& inwards, double z,
                                            std::int32_t near) const {
  const Vec2 inside = place + kInside * inwards;
  const auto touch = tube_.middle.touch(inside, near);
  if (!touch) return std::nullopt;
  const Vec2 slope = slope_at(tube_.middle, inside, *touch);
  const double steepness = slope.norm();
  Vec2 out = steepness > 1e-6 ? Vec2(-slope / steepness) : Vec2(-inwards);
  // A facet that leans over by a rounding error slopes the other way.
  if (out.dot(inside - plan(touch->point)) < 0) out = -out;
  return WallPlace{with_z(place, z), out, touch->triangle};
}

std::optional<WallPlace> WallWalk::meet(const Vec2& free, const Vec2& blocked, double z) const {
  const auto met = first_meeting(tube_.middle, with_z(free, z), with_z(blocked, z));
  if (!met || met->triangle < 0) return std::nullopt;
  const Vec2 way = blocked - free;
  return found_at(free + met->share * way, way.normalized(), z, met->triangle);
}

/// Onto the wall near a guess: on gentle slopes by Newton's method, out of what blocks by leaps, and from the
/// free side by the first meeting.
std::optional<WallPlace> WallWalk::settle(const Vec2& guess, const Vec2& out, double reach, double z,
                                          std::int32_t near) const {
  constexpr double kClose = 0.05;                      // of the tolerance
  constexpr double kGentlest = 0.02, kSteepest = 4.9;  // tangents
  constexpr int kRounds = 40;
  const TipSurface& surface = tube_.middle;
  Vec2 at = guess;
  for (int round = 0; round < kRounds; ++round) {
    if (std::abs((at - guess).dot(out)) > reach) return std::nullopt;
    const auto touch = surface.touch(at, near);
    if (touch) near = touch->triangle;
    const double over = touch ? touch->height - z : kNothingBelow;
    if (touch && std::abs(over) < 0.2 * radius_) {
      const Vec2 slope = slope_at(surface, at, *touch);
      const double steepness = slope.norm();
      if (steepness > kGentlest && steepness < kSteepest) {
        if (std::abs(over) < kClose * tube_.tolerance * std::hypot(1, steepness))
          return WallPlace{with_z(at, z), -slope / steepness, near};
        const double falls = -slope.dot(out), way = over / falls;
        if (falls > kGentlest && std::abs(way) < reach) {
          at += way * out;
          continue;
        }
      }
    }
    if (!(over > 0)) return meet(at, guess - reach * out, z);
    const Vec2 far = guess + reach * out;
    const auto blocked = piece_over(surface, near, with_z(at, z), with_z(far, z), touch->body);
    if (blocked && blocked->to >= 1) return std::nullopt;
    // What is narrower than is told: a hair.
    const Vec2 behind = blocked ? Vec2(at + blocked->to * (far - at)) : Vec2(at + 2 * kNarrow * out);
    const auto there = surface.touch(behind, near);
    if (!there || there->height <= z + kTouchError) return found_at(behind, -out, z, near);
    at = behind + 1e-12 * out;
    near = there->triangle;
  }
  return std::nullopt;
}

std::optional<WallPlace> WallWalk::barred(const WallPlace& from, double fall, double lowest) const {
  const Vec2 p = plan(from.tip), way = along(from.out);
  const double z = std::max(lowest, from.tip.z() - fall * step_);
  // In a narrow corner there is room only close to the wall.
  constexpr double kClosest = 1e-9;
  double aside = std::min(0.25 * tube_.tolerance, 0.1 * step_);
  while (aside > kClosest && tube_.middle.height(p + aside * from.out, from.triangle) > z) aside /= 8;
  if (!(aside > kClosest)) return std::nullopt;
  const Vec2 start = p + aside * from.out;
  const auto wall = meet(start, start + 1.3 * step_ * way, z);
  if (!wall || wall->out.dot(way) > -0.02) return std::nullopt;
  const auto share = meeting(p, way, plan(wall->tip), along(wall->out));
  if (!share || *share < -tube_.tolerance || *share > 3 * step_) return std::nullopt;
  const double ahead = std::max(0.0, *share);
  const Vec3 corner = with_z(p + ahead * way, std::max(lowest, from.tip.z() - fall * ahead));
  if (ahead > 1e-9 && !tube_.holds(from.tip, corner, from.triangle)) return std::nullopt;
  return WallPlace{corner, wall->out, wall->triangle};
}

std::optional<Vec3> WallWalk::corner_between(const WallPlace& from, const WallPlace& to, double fall,
                                             double lowest) const {
  const Vec2 p = plan(from.tip), way = along(from.out);
  if (std::abs(cross2(from.out, to.out)) < 0.02) return std::nullopt;
  const auto share = meeting(p, way, plan(to.tip), along(to.out));
  if (!share || *share <= 1e-7 || *share > 3 * step_) return std::nullopt;
  const Vec3 corner = with_z(p + *share * way, std::max({lowest, to.tip.z(), from.tip.z() - fall * *share}));
  if (!tube_.holds(from.tip, corner, from.triangle) || !tube_.holds(corner, to.tip, to.triangle))
    return std::nullopt;
  return corner;
}

std::optional<WallWalk::Step> WallWalk::next(const WallPlace& from, double fall, double lowest) {
  constexpr double kShorter = 0.6, kLonger = 1.7;
  constexpr int kTries = 60, kTurnsOnTheSpot = 4;
  const double tolerance = tube_.tolerance;
  const Vec2 p = plan(from.tip), way = along(from.out);
  const auto done = [&](Step step, int tries, bool straight) {
    const double size = (plan(step.end.tip) - p).norm();
    const double angle = hand_ * std::atan2(cross2(from.out, step.end.out), from.out.dot(step.end.out));
    bend_ = straight || size < 1e-12 ? 0 : std::clamp(angle / size, -2 / tolerance, 2 / tolerance);
    step_ = std::min(step_ * (tries > 0 ? 1.1 : kLonger), longest_);
    turns_on_the_spot_ = size < 1e-9 ? turns_on_the_spot_ + 1 : 0;
    return std::optional(std::move(step));
  };
  for (int tries = 0; tries < kTries && step_ > 0.02 * tolerance; ++tries) {
    const double z = std::max(lowest, from.tip.z() - fall * step_);
    const Vec2 guess = p + step_ * way + 0.5 * bend_ * step_ * step_ * from.out;
    const auto place = settle(guess, from.out, std::max(4 * tolerance, 0.25 * step_), z, from.triangle);
    if ((!place || from.out.dot(place->out) < 0.3) && turns_on_the_spot_ < kTurnsOnTheSpot)
      if (const auto wall = barred(from, fall, lowest)) return done({{}, *wall}, tries, true);
    if (place && (plan(place->tip) - p).norm() > 1e-9) {
      if (tube_.free(from.tip, place->tip, from.triangle)) {
        if (tube_.met(from.tip, place->tip, from.triangle)) return done({{}, *place}, tries, false);
        if (const auto corner = corner_between(from, *place, fall, lowest))
          return done({corner, *place}, tries, false);
      }
    }
    step_ *= kShorter;
    bend_ *= 0.8;
  }
  return std::nullopt;
}

}  // namespace yardpass::detail
