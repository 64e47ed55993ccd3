#include "contact/bounds.h"

#include <bit>
#include <cmath>
#include <limits>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "contact/bounds.cpp"
#include <hwy/foreach_target.h>
// After foreach_target.h, which includes this file once for each instruction set.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace yardpass::detail::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

// Why these are bounds. Let p be a point of the child, u = p - axis in plan, and the cutter's height f(|u|)
// convex.
//  (1) f only rises outwards, so no tip stands higher than top - f(least distance to the rectangle).
//  (2) z(p) <= slope . p + level, and f lies above each of its tangent planes: f(|u|) >= k d . u - (k r -
//  f(r)) for a unit
//      vector d and k = f'(r). So tip <= level + slope . axis + (k r - f(r)) + max over the rectangle of
//      (slope - k d) . u. Any r and d will do; best are those of the place in the rectangle where the plane
//      would be touched.
// Along a move the axis and Z shift linearly, which adds |k d . half - climb| to (2).
unsigned Bounds(const Node8& node, const BoundQuery& query, float wanted, float* HWY_RESTRICT out) {
  unsigned mask = 0;
  const hn::CappedTag<float, 8> d;
  const BoundProfile& c = query.cutter;
  const auto zero = hn::Zero(d), one = hn::Set(d, 1.0f);
  const auto radius = hn::Set(d, c.radius), disc = hn::Set(d, c.disc), corner = hn::Set(d, c.corner);
  const auto corner2 = hn::Set(d, c.corner * c.corner), arc_end = hn::Set(d, c.arc_end);
  const auto arc_end_z = hn::Set(d, c.arc_end_z), cone = hn::Set(d, c.cone_slope);
  const auto half_x = hn::Set(d, query.half_x), half_y = hn::Set(d, query.half_y),
             climb = hn::Set(d, query.climb);
  const float half_length = std::sqrt(query.half_x * query.half_x + query.half_y * query.half_y);
  const auto slack_length = hn::Set(d, half_length * 1.00001f + query.pad);
  const float lowest = query.z - std::abs(query.climb);
  const float size = std::abs(query.x) + std::abs(query.y) + std::abs(query.z);
  // Height and slope of the bounding profile at r.
  const auto height = [&](auto r, auto& slope) {
    const auto over = hn::Min(hn::Max(hn::Sub(r, disc), zero), corner);
    const auto root = hn::Sqrt(hn::Max(hn::Sub(corner2, hn::Mul(over, over)), zero));
    const auto on_cone = hn::Gt(r, arc_end);
    const auto steep = hn::Div(over, hn::Max(root, hn::Set(d, 1e-30f)));
    slope = hn::IfThenElse(on_cone, cone, hn::IfThenElse(hn::Gt(over, zero), steep, zero));
    return hn::IfThenElse(on_cone, hn::Add(arc_end_z, hn::Mul(cone, hn::Sub(r, arc_end))),
                          hn::Sub(corner, root));
  };
  const auto bits_of = [&](auto lanes) {
    std::uint8_t bits[8] = {};
    hn::StoreMaskBits(d, lanes, bits);
    return static_cast<unsigned>(bits[0]) & ((1u << hn::Lanes(d)) - 1);
  };
  for (size_t i = 0; i < 8; i += hn::Lanes(d)) {
    const auto low_x = hn::Sub(hn::Load(d, node.low_x + i), hn::Set(d, query.x));
    const auto high_x = hn::Sub(hn::Load(d, node.high_x + i), hn::Set(d, query.x));
    const auto low_y = hn::Sub(hn::Load(d, node.low_y + i), hn::Set(d, query.y));
    const auto high_y = hn::Sub(hn::Load(d, node.high_y + i), hn::Set(d, query.y));
    // (1)
    const auto near_x = hn::Max(hn::Max(low_x, hn::Neg(high_x)), zero),
               near_y = hn::Max(hn::Max(low_y, hn::Neg(high_y)), zero);
    const auto far = hn::Sqrt(hn::Add(hn::Mul(near_x, near_x), hn::Mul(near_y, near_y)));
    const auto least = hn::Max(hn::Sub(hn::Mul(far, hn::Set(d, 0.999999f)), slack_length), zero);
    const auto reached = hn::Le(least, hn::Set(d, c.radius * 1.000001f));
    if (hn::Lanes(d) == 8 && !node.leaf) {
      // One way only: no need to know how good it is before its own children are bounded.
      const unsigned open = bits_of(reached);
      if (open == 0) return 0;
      if ((open & (open - 1)) == 0) {
        out[std::countr_zero(open)] = std::numeric_limits<float>::max();
        return open;
      }
    }
    const auto top = hn::Load(d, node.top + i);
    const auto gx = hn::Load(d, node.slope_x + i), gy = hn::Load(d, node.slope_y + i),
               level = hn::Load(d, node.level + i);
    auto unused = zero;
    auto by_top = hn::Sub(top, height(hn::Min(least, radius), unused));
    // (2)
    const auto m2 = hn::Add(hn::Mul(gx, gx), hn::Mul(gy, gy)), m = hn::Add(hn::Abs(gx), hn::Abs(gy));
    // Where the plane would be touched, as a multiple of the slope. It need not be exact, so quick roots will
    // do.
    const auto per_m = hn::ApproximateReciprocalSqrt(hn::Max(m2, hn::Set(d, 1e-20f)));
    const auto per_w = hn::ApproximateReciprocalSqrt(hn::Add(m2, one));
    const auto on_cone = hn::Gt(m2, hn::Mul(cone, cone));
    const auto on_arc =
        hn::Min(hn::Add(hn::Mul(disc, per_m), hn::Mul(corner, per_w)), hn::Mul(arc_end, per_m));
    const auto share = hn::IfThenElse(on_cone, hn::Mul(radius, per_m), on_arc);
    const auto tx = hn::Mul(gx, share), ty = hn::Mul(gy, share);
    const auto bx = hn::Min(hn::Max(tx, low_x), high_x), by = hn::Min(hn::Max(ty, low_y), high_y);
    const auto is_free = hn::And(hn::Eq(bx, tx), hn::Eq(by, ty));
    // On a side of the rectangle the best place lies elsewhere than the nearest to the plane's: in the
    // section of the cutter at that side, from the edge of its disc towards its rim with the slope.
    const auto widest = hn::IfThenElse(on_cone, radius, arc_end);
    const auto outer = hn::Add(disc, corner);
    const bool has_cone = c.cone_slope < 1e5f;  // else it is a wall in the guise of one
    const auto in_section = [&](auto at, auto slope) {
      const auto at2 = hn::Mul(at, at);
      const auto half = [&](auto r) { return hn::Sqrt(hn::Max(hn::Sub(hn::Mul(r, r), at2), zero)); };
      const auto inner = c.disc > 0 ? half(disc) : zero, full = half(outer);
      const auto sine =
          hn::Mul(hn::Abs(slope), hn::ApproximateReciprocalSqrt(hn::Add(hn::Mul(slope, slope), one)));
      const auto arc = hn::Add(inner, hn::Mul(hn::Sub(full, inner), sine));
      const auto reach = has_cone ? half(widest) : full;
      return hn::CopySign(hn::IfThenElse(on_cone, reach, hn::Min(arc, reach)), slope);
    };
    const auto sy = in_section(bx, gy);
    const auto cy = hn::Min(hn::Max(sy, low_y), high_y);
    const auto on_side_x = hn::Eq(sy, cy);
    const auto sx = in_section(cy, gx);
    const auto cx = hn::Min(hn::Max(sx, low_x), high_x);
    const auto ux = hn::IfThenElse(is_free, bx, hn::IfThenElse(on_side_x, bx, cx));
    const auto uy = hn::IfThenElse(is_free, by, cy);
    const auto length = hn::Sqrt(hn::Add(hn::Mul(ux, ux), hn::Mul(uy, uy)));
    const auto per_length = hn::Div(one, hn::Max(length, hn::Set(d, 1e-15f)));
    const auto dx = hn::Mul(ux, per_length), dy = hn::Mul(uy, per_length);
    const auto at_axis = hn::Add(hn::Mul(gx, hn::Set(d, query.x)), hn::Mul(gy, hn::Set(d, query.y)));
    // The bound for one tangent slope k; `tangent` is at least k r - f(r) for every r.
    const auto with_slope = [&](auto k, auto tangent) {
      const auto kx = hn::Mul(dx, k), ky = hn::Mul(dy, k);
      const auto qx = hn::Sub(gx, kx), qy = hn::Sub(gy, ky);
      const auto over_box = hn::Add(hn::Max(hn::Mul(qx, low_x), hn::Mul(qx, high_x)),
                                    hn::Max(hn::Mul(qy, low_y), hn::Mul(qy, high_y)));
      const auto along = hn::Abs(hn::Sub(hn::Add(hn::Mul(kx, half_x), hn::Mul(ky, half_y)), climb));
      // Rounding: a few units in the last place of every term that goes into the sums.
      const auto terms = hn::Add(hn::Add(hn::Abs(level), hn::Mul(hn::Add(hn::Add(m, k), one),
                                                                 hn::Set(d, size + half_length + c.radius))),
                                 hn::Add(hn::Abs(over_box), hn::Add(along, hn::Mul(k, radius))));
      const auto sum = hn::Add(hn::Add(hn::Add(level, at_axis), hn::Add(tangent, over_box)), along);
      return hn::Add(sum, hn::Mul(terms, hn::Set(d, 2e-6f)));
    };
    // The cutter's own slope there. Not quite at the rim: a ball's slope is infinite there.
    const auto r = hn::Min(length, hn::Mul(radius, hn::Set(d, 0.999f)));
    auto own = zero;
    const auto f = height(r, own);
    auto by_plane = with_slope(own, hn::Sub(hn::Mul(own, r), f));
    if (c.disc > 0) {
      // At sharp rims and small corners the slope that leaves the plane level along the side.
      const auto on_x = hn::Or(on_side_x, is_free);
      const auto needed = hn::IfThenElse(on_x, hn::Mul(hn::Abs(gy), length), hn::Mul(hn::Abs(gx), length));
      const auto part = hn::IfThenElse(on_x, hn::Abs(uy), hn::Abs(ux));
      const auto steepness = hn::Sqrt(m2);
      const auto other =
          hn::Min(hn::IfThenElse(is_free, steepness, hn::Div(needed, hn::Max(part, hn::Set(d, 1e-15f)))),
                  hn::Set(d, 100.0f));
      const auto arc_tangent = hn::Add(
          hn::Mul(disc, other), hn::Mul(corner, hn::Sub(hn::Sqrt(hn::Add(hn::Mul(other, other), one)), one)));
      const auto rim_z = hn::Add(arc_end_z, hn::Mul(cone, hn::Sub(radius, arc_end)));
      const auto tangent =
          hn::IfThenElse(hn::Ge(other, cone), hn::Sub(hn::Mul(other, radius), rim_z), arc_tangent);
      by_plane = hn::Min(by_plane, with_slope(other, tangent));
    }
    by_top = hn::Add(by_top, hn::Mul(hn::Add(hn::Abs(top), hn::Set(d, size + c.radius)), hn::Set(d, 1e-6f)));
    const auto bound = hn::Min(hn::Sub(by_plane, hn::Set(d, query.z)), hn::Sub(by_top, hn::Set(d, lowest)));
    hn::StoreU(hn::IfThenElse(reached, bound, hn::Set(d, -std::numeric_limits<float>::infinity())), d,
               out + i);
    const auto kept = hn::And(reached, hn::Ge(bound, hn::Set(d, wanted)));
    mask |= bits_of(kept) << i;
  }
  return mask;
}

const char* Target() { return hwy::TargetName(HWY_TARGET); }

}  // namespace yardpass::detail::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE

namespace yardpass::detail {

HWY_EXPORT(Bounds);
HWY_EXPORT(Target);

unsigned bounds_of(const Node8& node, const BoundQuery& query, float wanted, float* out) {
  return HWY_DYNAMIC_DISPATCH(Bounds)(node, query, wanted, out);
}

const char* bounds_target() { return HWY_DYNAMIC_DISPATCH(Target)(); }

BoundProfile bound_profile(const Profile& cutter) {
  const auto up = [](double value) { return static_cast<float>(value * (1 + 1e-6)); };
  const auto down = [](double value) { return static_cast<float>(value * (1 - 1e-6)); };
  const double steepest = 1e6;
  // Wider and lower than the cutter in every rounding.
  BoundProfile result{0, 0, 0, 0, 0, up(cutter.radius() + 1e-7)};
  const auto pieces = cutter.pieces();
  std::size_t i = 0;
  double disc = 0;
  if (i < pieces.size() && pieces[i].arc == 0 && pieces[i].slope0 == 0) disc = pieces[i++].r1;
  if (i < pieces.size() && pieces[i].arc > 0 && pieces[i].slope0 == 0) {
    const auto& arc = pieces[i++];
    result.disc = up(disc);
    result.corner = up(arc.arc);
    result.arc_end = up(arc.r1);
    result.arc_end_z = down(arc.z1);
    result.cone_slope = static_cast<float>(steepest);
    if (arc.slope1 < steepest && i < pieces.size())
      result.cone_slope = down(arc.slope1);
    else
      result.arc_end = result.radius;  // nothing beyond
    return result;
  }
  // No arc: flat, then the tangent of the next piece; free profiles are bounded so as well.
  result.disc = result.arc_end = up(disc);
  result.cone_slope = static_cast<float>(steepest);
  if (i < pieces.size())
    result.cone_slope = down(std::min(pieces[i].slope0, steepest));
  else
    result.disc = result.arc_end = result.radius;
  return result;
}

BoundQuery bound_query(const BoundProfile& cutter, const Vec3& origin, const Vec3& a, const Vec3& b) {
  const Vec3 middle = 0.5 * (a + b) - origin, half = 0.5 * (b - a);
  BoundQuery query{cutter,
                   static_cast<float>(middle.x()),
                   static_cast<float>(middle.y()),
                   static_cast<float>(half.x()),
                   static_cast<float>(half.y()),
                   static_cast<float>(middle.z()),
                   static_cast<float>(half.z()),
                   0};
  query.pad = static_cast<float>(1e-6 * (middle.cwiseAbs().sum() + half.cwiseAbs().sum()) + 1e-6);
  return query;
}

}  // namespace yardpass::detail

#endif  // HWY_ONCE
