// Upper bounds of the tip height over the children of a node, eight at a time, in single precision with the
// rounding added on the safe side. Compiled for several instruction sets; the best one the processor has is
// taken at run time.
#pragma once

#include <cstdint>

#include "yardpass/contact/tip_surface.h"

namespace yardpass::detail {

/// All coordinates are measured from the middle of the mesh, so that single precision loses little.
struct alignas(64) Node8 {
  float low_x[8], high_x[8], low_y[8], high_y[8];  // rectangle in plan, rounded outwards
  float top[8];                                    // greatest Z, rounded up
  float slope_x[8], slope_y[8], level[8];          // z <= slope . (x, y) + level everywhere in the child
  std::int32_t child[8];                           // node, or triangle in a leaf; -1: none
  bool leaf;
};

BoundProfile bound_profile(const Profile& cutter);

/// A move of the tip, or a place (half and climb 0).
struct BoundQuery {
  BoundProfile cutter;
  float x, y;            // middle of the move
  float half_x, half_y;  // from there to its end
  float z, climb;        // Z at the middle, and from there to its end
  float pad;             // rounding of the coordinates
};
BoundQuery bound_query(const BoundProfile& cutter, const Vec3& origin, const Vec3& a, const Vec3& b);

/// For each child: a value that (tip height over the child) - (Z of the move) never exceeds along the move;
/// minus infinity if the cutter cannot meet the child.
/// Returns a bit for each child whose bound is at least `wanted` (and finite).
unsigned bounds_of(const Node8& node, const BoundQuery& query, float wanted, float* out);

/// Name of the instruction set in use, for benchmarks.
const char* bounds_target();

}  // namespace yardpass::detail
