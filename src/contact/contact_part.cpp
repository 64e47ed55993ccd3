#include "yardpass/contact/contact_part.h"

#include <algorithm>
#include <cmath>

#include "contact/triangle_tree.h"

namespace yardpass {

ContactPart::ContactPart(Mesh mesh, const Progress& progress, std::vector<std::uint8_t> groups)
    : mesh_(std::move(mesh)),
      box_(mesh_.box()),
      groups_(std::move(groups)),
      tree_(std::make_unique<detail::TriangleTree>(mesh_, progress)) {
  if (!groups_.empty() && groups_.size() != mesh_.triangles.size())
    throw Error("there must be one group number for each triangle, or none at all");
}

ContactPart::~ContactPart() = default;

std::size_t ContactPart::bytes() const {
  return tree_->bytes() + mesh_.points.capacity() * sizeof(Vec3) +
         mesh_.triangles.capacity() * sizeof(mesh_.triangles[0]);
}

double ContactPart::distance(const Vec3& p, double at_most_mm) const {
  const auto found = nearest(p, at_most_mm);
  return found ? found->distance_mm : at_most_mm;
}

std::optional<ContactPart::Nearest> ContactPart::nearest(const Vec3& p, double at_most_mm) const {
  std::optional<Nearest> result;
  double best = at_most_mm;
  const Vec3 at = p - tree_->origin();
  // Minus the distance to the column below each child's top; nearly all points asked for lie above the part.
  // In floats, which is enough for a bound once it allows for their rounding.
  const auto x = static_cast<float>(at.x()), y = static_cast<float>(at.y()), z = static_cast<float>(at.z());
  const auto slack = static_cast<float>(1e-6 * (at.cwiseAbs().sum() + box_.sizes().sum()) + 1e-6);
  float wanted = static_cast<float>(-best) - slack;
  const auto bounds = [&](const detail::Node8& node, float* out) {
    for (int k = 0; k < 8; ++k) {
      const float dx = std::max(std::max(node.low_x[k] - x, 0.0f), x - node.high_x[k]),
                  dy = std::max(std::max(node.low_y[k] - y, 0.0f), y - node.high_y[k]),
                  dz = std::max(0.0f, z - node.top[k]);
      out[k] = slack - std::sqrt(dx * dx + dy * dy + dz * dz);
    }
    unsigned mask = 0;
    for (int k = 0; k < 8; ++k)
      if (node.child[k] >= 0 && out[k] >= wanted) mask |= 1u << k;
    return mask;
  };
  tree_->walk(bounds, wanted, [&](std::int32_t i) {
    const auto t = static_cast<std::size_t>(i);
    const Vec3 point = nearest_on_triangle(p, mesh_.corner(t, 0), mesh_.corner(t, 1), mesh_.corner(t, 2));
    const double distance = (p - point).norm();
    if (distance > best || (distance == best && (!result || i > result->triangle))) return;
    best = distance;
    result = {point, distance, i};
    wanted = static_cast<float>(-best) - slack;
  });
  return result;
}

std::shared_ptr<const ContactPart> make_contact_part(Mesh mesh, const Progress& progress,
                                                     std::vector<std::uint8_t> groups) {
  return std::make_shared<const ContactPart>(std::move(mesh), progress, std::move(groups));
}

}  // namespace yardpass
