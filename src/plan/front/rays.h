// From a front to the next one: rays across it, each exactly a step long on the tip surface.
#pragma once

#include "plan/front/ground.h"

namespace yardpass::detail {

/// A line that advances to its right.
struct FrontChain {
  FrontLoop points;
  bool closed = true;
  std::vector<double> steps = {};  // by point; empty: a stepover each
};

/// Where the points of a chain come to, in its order.
struct Heads {
  FrontLoop points;
  std::vector<std::size_t> base;        // the point each comes from; one between two: the first of them
  std::vector<std::uint8_t> kept = {};  // whether they lie on the new front, set by whoever unites them
};

/// The head of a ray from `base`, whose front runs along the unit vector `along`: as far in space as `step`,
/// and square to `along`, so that `base` is the nearest place of its front. By Newton's method on the slopes
/// that touches tell; where that fails (creases, cliffs) by bisection straight across. What is upright has no
/// width: a ray that meets it early ends at its foot, one that begins there goes on beyond it.
[[nodiscard]] FrontPoint head_of(const Ground& ground, const FrontPoint& base, const Vec3& along, double step,
                                 FrontCounts& counts);

/// Every live point of the chains advances; the others stay. On all cores; the same whatever their number.
[[nodiscard]] std::vector<Heads> heads_of(const Ground& ground, const std::vector<FrontChain>& chains,
                                          double stepover, FrontCounts& counts);

}  // namespace yardpass::detail
