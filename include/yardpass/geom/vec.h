/// Vectors and boxes. All lengths are millimetres; Z points up along the spindle, away from the table.
#pragma once

#include <Eigen/Core>
#include <Eigen/Geometry>

namespace yardpass {

using Vec2 = Eigen::Vector2d;
using Vec3 = Eigen::Vector3d;
using Box2 = Eigen::AlignedBox2d;
using Box3 = Eigen::AlignedBox3d;

/// The position in plan (seen from above).
inline Vec2 plan(const Vec3& p) { return p.head<2>(); }

inline Vec3 with_z(const Vec2& p, double z) { return {p.x(), p.y(), z}; }

/// Z of the cross product of two plan vectors: positive if b lies to the left of a.
inline double cross2(const Vec2& a, const Vec2& b) { return a.x() * b.y() - a.y() * b.x(); }

inline Box2 plan(const Box3& box) { return Box2(box.min().head<2>(), box.max().head<2>()); }

}  // namespace yardpass
