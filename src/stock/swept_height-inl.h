// The lowest point of a swept body over eight places at once. Compiled once for each instruction set, inside
// the namespace of that set; without contraction, so the bits do not depend on it.
#if defined(YARDPASS_SWEPT_HEIGHT_INL) == defined(HWY_TARGET_TOGGLE)
#ifdef YARDPASS_SWEPT_HEIGHT_INL
#undef YARDPASS_SWEPT_HEIGHT_INL
#else
#define YARDPASS_SWEPT_HEIGHT_INL
#endif

#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace yardpass::detail::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using Lanes8 = hn::CappedTag<double, 8>;
using Vec = hn::Vec<Lanes8>;

constexpr double kFar = 1e300;

/// A straight move of a body, ready for the formula.
struct Line {
  double x, y, z;         // start
  double ux, uy, length;  // direction and length in plan
  double slope, lean;     // dz / ds, and slope / sqrt(1 + slope^2)
  double radius2, radius;
  double disc, corner, corner2;
  double low_z, high_z;
  bool ball;      // no flat middle
  bool searched;  // a flat middle and a round corner on a slope: no closed form
};

struct Swept {
  Vec z;       // lowest point of the swept body, kFar where it does not pass
  Vec dx, dy;  // from the axis to the place, where it is lowest
  Vec root;    // of corner^2 - (distance beyond the disc)^2
  Vec far;     // distance from the axis
};

// A round corner r around a flat middle rho on a slope m > 0: with y the squared sine of the contact's angle
// and w^2 = 1 + m^2, touching means G(y) = (rho + r sqrt y)^2 (w^2 y - m^2) - d^2 y = 0. G is convex, its
// greatest root lies at or below 1, so Newton's way from 1 comes down to it. Then s - t = q m sqrt(1 - y) /
// sqrt y with q = rho + r sqrt y. A lane stops on its own, so its bits do not depend on its neighbours.
HWY_INLINE Vec SearchedAlong(const Line& line, const Vec across2) {
  const Lanes8 d;
  const auto rho = hn::Set(d, line.disc), r = hn::Set(d, line.corner), one = hn::Set(d, 1.0);
  const auto m2 = hn::Set(d, line.slope * line.slope), w2 = hn::Set(d, 1 + line.slope * line.slope);
  auto y = one;
  auto active = hn::Eq(y, one);
  for (int i = 0; i < 60 && !hn::AllFalse(d, active); ++i) {
    const auto root = hn::Sqrt(y);
    const auto q = hn::Add(rho, hn::Mul(r, root)), rise = hn::Sub(hn::Mul(w2, y), m2);
    const auto value = hn::Sub(hn::Mul(hn::Mul(q, q), rise), hn::Mul(across2, y));
    const auto slope =
        hn::Sub(hn::Add(hn::Div(hn::Mul(hn::Mul(q, r), rise), root), hn::Mul(hn::Mul(q, q), w2)), across2);
    const auto next = hn::Sub(y, hn::Div(value, slope));
    active =
        hn::And(active, hn::And(hn::Lt(next, hn::Mul(y, hn::Set(d, 1 - 1e-14))), hn::Gt(next, hn::Zero(d))));
    y = hn::IfThenElse(active, next, y);
  }
  const auto root = hn::Sqrt(y);
  const auto q = hn::Add(rho, hn::Mul(r, root));
  return hn::Div(hn::Mul(hn::Mul(q, hn::Set(d, line.slope)), hn::Sqrt(hn::Max(hn::Sub(one, y), hn::Zero(d)))),
                 root);
}

// With s along the move and d across it, the body at t meets the vertical line at z(t) + f(|(s - t, d)|); of
// a ball this is least where s - t = slope sqrt(R^2 - d^2) / sqrt(1 + slope^2), or at the end of the range of
// t for which the line is below the body. Level moves: at the nearest t.
HWY_INLINE Swept SweptHeight(const Line& line, const Vec px, const Vec py) {
  const Lanes8 d;
  const auto zero = hn::Zero(d);
  const auto rx = hn::Sub(px, hn::Set(d, line.x)), ry = hn::Sub(py, hn::Set(d, line.y));
  const auto ux = hn::Set(d, line.ux), uy = hn::Set(d, line.uy);
  const auto s = hn::Add(hn::Mul(rx, ux), hn::Mul(ry, uy));
  const auto across = hn::Sub(hn::Mul(ry, ux), hn::Mul(rx, uy));
  const auto across2 = hn::Mul(across, across);
  const auto half2 = hn::Sub(hn::Set(d, line.radius2), across2);
  const auto half = hn::Sqrt(hn::Max(half2, zero));
  const auto low = hn::Max(zero, hn::Sub(s, half)), high = hn::Min(hn::Set(d, line.length), hn::Add(s, half));
  const auto passes = hn::And(hn::Ge(half2, zero), hn::Le(low, high));
  const auto best = line.searched ? SearchedAlong(line, across2) : hn::Mul(half, hn::Set(d, line.lean));
  const auto t = hn::Min(hn::Max(hn::Sub(s, best), low), high);
  const auto along = hn::Sub(s, t);
  Swept result;
  const auto far2 = hn::Add(hn::Mul(along, along), across2);
  const auto base = hn::Add(hn::Set(d, line.z), hn::Mul(hn::Set(d, line.slope), t));
  result.far = hn::Sqrt(far2);
  if (line.ball) {
    result.root = hn::Sqrt(hn::Max(hn::Sub(hn::Set(d, line.radius2), far2), zero));
  } else {
    const auto over = hn::Max(hn::Sub(result.far, hn::Set(d, line.disc)), zero);
    result.root = hn::Sqrt(hn::Max(hn::Sub(hn::Set(d, line.corner2), hn::Mul(over, over)), zero));
  }
  const auto z = hn::Add(base, hn::Sub(hn::Set(d, line.corner), result.root));
  result.z = hn::IfThenElse(passes, z, hn::Set(d, kFar));
  result.dx = hn::Sub(hn::Mul(along, ux), hn::Mul(across, uy));
  result.dy = hn::Add(hn::Mul(along, uy), hn::Mul(across, ux));
  return result;
}

/// A level arc of at most a quarter turn, ready for the formula.
struct Bow {
  double x, y, radius;    // of its circle
  double ax, ay, bx, by;  // its ends, from the centre
  double turn;            // 1 counter-clockwise, else -1
};

// Lowest where the place is nearest to the arc: on the ray through the place, or at an end.
HWY_INLINE Vec BowHeight(const Line& line, const Bow& bow, const Vec px, const Vec py) {
  const Lanes8 d;
  const auto zero = hn::Zero(d), turn = hn::Set(d, bow.turn);
  const auto rx = hn::Sub(px, hn::Set(d, bow.x)), ry = hn::Sub(py, hn::Set(d, bow.y));
  const auto ax = hn::Set(d, bow.ax), ay = hn::Set(d, bow.ay), bx = hn::Set(d, bow.bx),
             by = hn::Set(d, bow.by);
  const auto past_a = hn::Mul(turn, hn::Sub(hn::Mul(ax, ry), hn::Mul(ay, rx)));
  const auto before_b = hn::Mul(turn, hn::Sub(hn::Mul(rx, by), hn::Mul(ry, bx)));
  const auto square = [](auto x, auto y) HWY_ATTR { return hn::Add(hn::Mul(x, x), hn::Mul(y, y)); };
  const auto along = hn::Abs(hn::Sub(hn::Sqrt(square(rx, ry)), hn::Set(d, bow.radius)));
  const auto ends =
      hn::Sqrt(hn::Min(square(hn::Sub(rx, ax), hn::Sub(ry, ay)), square(hn::Sub(rx, bx), hn::Sub(ry, by))));
  const auto far = hn::IfThenElse(hn::And(hn::Ge(past_a, zero), hn::Ge(before_b, zero)), along, ends);
  const auto over = hn::Max(hn::Sub(far, hn::Set(d, line.disc)), zero);
  const auto root = hn::Sqrt(hn::Max(hn::Sub(hn::Set(d, line.corner2), hn::Mul(over, over)), zero));
  const auto z = hn::Add(hn::Set(d, line.z), hn::Sub(hn::Set(d, line.corner), root));
  return hn::IfThenElse(hn::Le(far, hn::Set(d, line.radius)), z, hn::Set(d, kFar));
}

}  // namespace yardpass::detail::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif
