#include "yardpass/geom/edge_section.h"

#include <cmath>
#include <numbers>

namespace yardpass {

namespace {

/// In the face with this normal, square to the edge, away from it: the one that leads below the other face.
Vec3 into_face(const EdgeSection& section, const Vec3& face, const Vec3& beyond) {
  const Vec3 side = section.along.cross(face);
  return side.dot(beyond) < 0 ? side : Vec3(-side);
}

}  // namespace

double EdgeSection::material_rad() const {
  return std::numbers::pi - std::atan2(one.cross(other).norm(), one.dot(other));
}

Vec3 EdgeSection::into_one() const { return into_face(*this, one, other); }

Vec3 EdgeSection::into_other() const { return into_face(*this, other, one); }

bool EdgeSection::one_is_steeper() const { return std::abs(one.z()) < std::abs(other.z()); }

}  // namespace yardpass
