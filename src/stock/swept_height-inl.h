// The lowest point of a swept body over eight places at once. Compiled once for each instruction set, inside
// the namespace of that set; without contraction, so the bits do not depend on it.
#if defined(YARDPASS_SWEPT_HEIGHT_INL) == defined(HWY_TARGET_TOGGLE)
#ifdef YARDPASS_SWEPT_HEIGHT_INL
#undef YARDPASS_SWEPT_HEIGHT_INL
#else
#define YARDPASS_SWEPT_HEIGHT_INL
#endif

#include <hwy/highway.h>

#include <cmath>
#include <span>

#include "yardpass/tool/profile.h"

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
  double slope;           // dz / ds
  double low_z;
  double radius, radius2;  // of the body
};

/// A body with a flat middle and a round corner: ball, bull, flat.
struct RoundShape {
  double disc, corner, corner2, radius2;
  double lean;    // of the move: slope / sqrt(1 + slope^2)
  bool ball;      // no flat middle
  bool searched;  // a flat middle and a round corner on a slope: no closed form
};

/// A body of straight and round pieces, none of them round about a centre beyond the axis.
struct PiecedShape {
  std::span<const Profile::Piece> pieces;
};

// A round corner r around a flat middle rho on a slope m > 0: with x the sine of the contact's angle, q = rho
// + r x and w^2 = 1 + m^2, touching means K(x) = q^2 (w^2 x^2 - m^2) - d^2 x^2 = 0. K has one root between m
// / w and 1 and is convex above it, so Newton's way comes down to it from any place above. Above it are a m /
// sqrt(a^2 w^2 - d^2) with a = rho + r m / w, the least q; and, x being at least b = (d / w - rho) / r, (d b
// / sqrt(w^2 b^2 - m^2) - rho) / r. Then s - t = q m sqrt(1 - x^2) / x. It is a least height that is looked
// for, so half the digits of x are enough for all of the height's. A lane stops on its own, so its bits do
// not depend on its neighbours.
HWY_INLINE Vec SearchedAlong(double disc, double corner, double move_slope, const Vec across2) {
  const Lanes8 d;
  const double m = std::abs(move_slope), w2 = 1 + m * m, w = std::sqrt(w2), a = disc + corner * m / w;
  const auto rho = hn::Set(d, disc), r = hn::Set(d, corner), one = hn::Set(d, 1.0), zero = hn::Zero(d);
  const auto square = hn::Set(d, m * m), rising = hn::Set(d, w2), per_corner = hn::Set(d, 1 / corner);
  const auto left = hn::Sub(hn::Set(d, a * a * w2), across2);
  const auto by_least = hn::Div(hn::Set(d, a * m), hn::Sqrt(hn::Max(left, zero)));
  const auto across = hn::Sqrt(across2);
  const auto b = hn::Mul(hn::Sub(hn::Mul(across, hn::Set(d, 1 / w)), rho), per_corner);
  const auto up = hn::Sub(hn::Mul(rising, hn::Mul(b, b)), square);
  const auto by_b =
      hn::Mul(hn::Sub(hn::Div(hn::Mul(across, b), hn::Sqrt(hn::Max(up, zero))), rho), per_corner);
  auto x = hn::IfThenElse(hn::Gt(left, zero), hn::Min(by_least, one), one);
  x = hn::IfThenElse(hn::And(hn::And(hn::Gt(b, zero), hn::Gt(up, zero)), hn::Lt(by_b, x)), by_b, x);
  auto active = hn::Eq(zero, zero);
  for (int i = 0; i < 60 && !hn::AllFalse(d, active); ++i) {
    const auto q = hn::Add(rho, hn::Mul(r, x)), q2 = hn::Mul(q, q), x2 = hn::Mul(x, x);
    const auto rise = hn::Sub(hn::Mul(rising, x2), square);
    const auto value = hn::Sub(hn::Mul(q2, rise), hn::Mul(across2, x2));
    const auto half_slope =
        hn::Add(hn::Mul(hn::Mul(r, q), rise), hn::Mul(hn::Sub(hn::Mul(q2, rising), across2), x));
    const auto next = hn::Sub(x, hn::Div(value, hn::Add(half_slope, half_slope)));
    const auto nearer = hn::And(active, hn::And(hn::Lt(next, x), hn::Gt(next, zero)));
    active = hn::And(nearer, hn::Lt(next, hn::Mul(x, hn::Set(d, 1 - 1e-7))));
    x = hn::IfThenElse(nearer, next, x);
  }
  const auto q = hn::Add(rho, hn::Mul(r, x));
  const auto level = hn::Sqrt(hn::Max(hn::Sub(one, hn::Mul(x, x)), zero));
  return hn::Div(hn::Mul(hn::Mul(q, hn::Set(d, move_slope)), level), x);
}

// How far behind the axis the section of the body at a distance across has the slope of the move: there its
// lowest point over a place is. `half`: where the section ends.
HWY_INLINE Vec AlongOf(const RoundShape& shape, const Line& line, const Vec across2, const Vec half) {
  if (shape.searched) return SearchedAlong(shape.disc, shape.corner, line.slope, across2);
  return hn::Mul(half, hn::Set(Lanes8(), shape.lean));
}

// The slope of the section rises outwards, so the pieces are gone through from the axis until one ends with
// more than the slope of the move.
HWY_INLINE Vec AlongOf(const PiecedShape& shape, const Line& line, const Vec across2, const Vec /*half*/) {
  const Lanes8 d;
  const auto zero = hn::Zero(d);
  auto along = zero;
  if (line.slope == 0) return along;
  const double m = std::abs(line.slope);
  const auto slope = hn::Set(d, m);
  auto open = hn::Eq(zero, zero);
  for (const Profile::Piece& piece : shape.pieces) {
    const auto end2 = hn::Sub(hn::Set(d, piece.r1 * piece.r1), across2);
    const auto here = hn::And(open, hn::Gt(end2, zero));
    if (hn::AllFalse(d, here)) continue;
    const auto end = hn::Sqrt(hn::Max(end2, zero));
    const auto start = hn::Sqrt(hn::Max(hn::Sub(hn::Set(d, piece.r0 * piece.r0), across2), zero));
    // At an upright end this is greater than any slope.
    const double end_slope = std::min(piece.slope1, 1e16) / piece.r1;
    const auto beyond = hn::Lt(hn::Mul(hn::Set(d, end_slope), end), slope);
    Vec found;
    if (piece.arc == 0) {
      const double rest = piece.slope1 * piece.slope1 - m * m;
      found = rest > 0 ? hn::Mul(hn::Sqrt(across2), hn::Set(d, m / std::sqrt(rest))) : end;
    } else if (piece.centre_r == 0) {
      const auto left = hn::Max(hn::Sub(hn::Set(d, piece.arc * piece.arc), across2), zero);
      found = hn::Mul(hn::Sqrt(left), hn::Set(d, m / std::sqrt(1 + m * m)));
    } else {
      found = SearchedAlong(piece.centre_r, piece.arc, m, across2);
    }
    found = hn::IfThenElse(beyond, end, hn::Min(hn::Max(found, start), end));
    along = hn::IfThenElse(here, found, along);
    open = hn::And(open, hn::Or(hn::Not(here), beyond));
  }
  return line.slope > 0 ? along : hn::Neg(along);
}

struct Rise {
  Vec height;  // over the tip
  Vec slope;   // outwards, at most about 1e9
};

HWY_INLINE Vec Upright(const Vec over, const Vec root) {
  return hn::Div(over, hn::Max(root, hn::Set(Lanes8(), 1e-9)));
}

// The body at a distance from its axis.
HWY_INLINE Rise RiseOf(const RoundShape& shape, const Vec far, const Vec far2) {
  const Lanes8 d;
  const auto zero = hn::Zero(d);
  if (shape.ball) {
    const auto root = hn::Sqrt(hn::Max(hn::Sub(hn::Set(d, shape.radius2), far2), zero));
    return {hn::Sub(hn::Set(d, shape.corner), root), Upright(far, root)};
  }
  const auto over = hn::Max(hn::Sub(far, hn::Set(d, shape.disc)), zero);
  const auto root = hn::Sqrt(hn::Max(hn::Sub(hn::Set(d, shape.corner2), hn::Mul(over, over)), zero));
  return {hn::Sub(hn::Set(d, shape.corner), root), Upright(over, root)};
}

HWY_INLINE Rise RiseOf(const PiecedShape& shape, const Vec far, const Vec /*far2*/) {
  const Lanes8 d;
  const auto zero = hn::Zero(d);
  Rise rise{zero, zero};
  for (const Profile::Piece& piece : shape.pieces) {
    const auto here = hn::Ge(far, hn::Set(d, piece.r0));
    if (hn::AllFalse(d, here)) break;
    Vec height, slope;
    if (piece.arc == 0) {
      const auto out = hn::Sub(hn::Min(far, hn::Set(d, piece.r1)), hn::Set(d, piece.r0));
      height = hn::Add(hn::Set(d, piece.z0), hn::Mul(out, hn::Set(d, piece.slope0)));
      slope = hn::Set(d, piece.slope0);
    } else {
      const auto over = hn::Sub(hn::Min(far, hn::Set(d, piece.r1)), hn::Set(d, piece.centre_r));
      const auto root =
          hn::Sqrt(hn::Max(hn::Sub(hn::Set(d, piece.arc * piece.arc), hn::Mul(over, over)), zero));
      height = hn::Sub(hn::Set(d, piece.centre_z), root);
      slope = Upright(over, root);
    }
    rise.height = hn::IfThenElse(here, height, rise.height);
    rise.slope = hn::IfThenElse(here, slope, rise.slope);
  }
  return rise;
}

struct Swept {
  Vec z;       // lowest point of the swept body, kFar where it does not pass
  Vec dx, dy;  // from the axis to the place, where it is lowest
  Vec far;     // distance from the axis
  Vec slope;   // of the swept body there, outwards from the axis
};

// With s along the move and d across it, the body at t meets the vertical line at z(t) + f(|(s - t, d)|);
// this is least where the section of the body has the slope of the move (of a ball: s - t = slope sqrt(R^2 -
// d^2) / sqrt(1 + slope^2)), or at the end of the range of t for which the line is below the body. Level
// moves: at the nearest t.
template <typename Shape>
HWY_INLINE Swept SweptHeight(const Line& line, const Shape& shape, const Vec px, const Vec py) {
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
  const auto best = AlongOf(shape, line, across2, half);
  const auto t = hn::Min(hn::Max(hn::Sub(s, best), low), high);
  const auto along = hn::Sub(s, t);
  const auto far2 = hn::Add(hn::Mul(along, along), across2);
  const auto base = hn::Add(hn::Set(d, line.z), hn::Mul(hn::Set(d, line.slope), t));
  Swept result;
  result.far = hn::Sqrt(far2);
  const Rise rise = RiseOf(shape, result.far, far2);
  // In mid-move the section of the body has the slope of the move at that place, also where it turns from one
  // slope into another, or ends: there the body alone has no one slope.
  const auto ended = hn::Or(hn::Le(t, zero), hn::Ge(t, hn::Set(d, line.length)));
  const auto carried = hn::Mul(hn::Set(d, line.slope), hn::Div(result.far, along));
  result.slope = line.slope == 0 ? rise.slope : hn::IfThenElse(ended, rise.slope, carried);
  result.z = hn::IfThenElse(passes, hn::Add(base, rise.height), hn::Set(d, kFar));
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
template <typename Shape>
HWY_INLINE Vec BowHeight(const Line& line, const Shape& shape, const Bow& bow, const Vec px, const Vec py) {
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
  const auto z = hn::Add(hn::Set(d, line.z), RiseOf(shape, far, hn::Mul(far, far)).height);
  return hn::IfThenElse(hn::Le(far, hn::Set(d, line.radius)), z, hn::Set(d, kFar));
}

}  // namespace yardpass::detail::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif
