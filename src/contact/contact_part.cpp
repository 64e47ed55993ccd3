#include "yardpass/contact/contact_part.h"

#include <algorithm>
#include <numeric>

#include "contact/triangle_tree.h"

namespace yardpass {

namespace detail {

namespace {
constexpr std::int32_t kLeaf = 4;
}

TriangleTree::TriangleTree(const Mesh& mesh, const Progress& progress) {
  const auto count = static_cast<std::int32_t>(mesh.triangles.size());
  if (count == 0) return;
  std::vector<Box3> boxes(mesh.triangles.size());
  for (std::size_t i = 0; i < boxes.size(); ++i)
    for (int k = 0; k < 3; ++k) boxes[i].extend(mesh.corner(i, k));
  order_.resize(boxes.size());
  std::iota(order_.begin(), order_.end(), 0);
  nodes_.reserve(boxes.size());
  report(progress, 0.1);
  build(boxes, 0, count);
  report(progress, 1.0);
}

// Halves by the median of the box centres along the wider side in plan, so the depth stays below log2 of the
// count.
std::int32_t TriangleTree::build(std::vector<Box3>& boxes, std::int32_t first, std::int32_t count) {
  const auto index = static_cast<std::int32_t>(nodes_.size());
  nodes_.emplace_back();
  Node node;
  Box2 centres;
  for (std::int32_t i = first; i < first + count; ++i) {
    const Box3& box = boxes[static_cast<std::size_t>(order_[static_cast<std::size_t>(i)])];
    node.box.extend(box);
    centres.extend(plan(box.center()));
  }
  if (count <= kLeaf) {
    node.first = first;
    node.count = count;
  } else {
    const Eigen::Index axis = centres.sizes().x() >= centres.sizes().y() ? 0 : 1;
    const std::int32_t half = count / 2;
    const auto begin = order_.begin() + first;
    std::nth_element(begin, begin + half, begin + count, [&](std::int32_t a, std::int32_t b) {
      const double ca = boxes[static_cast<std::size_t>(a)].center()[axis];
      const double cb = boxes[static_cast<std::size_t>(b)].center()[axis];
      return ca != cb ? ca < cb : a < b;
    });
    build(boxes, first, half);
    node.first = build(boxes, first + half, count - half);
  }
  nodes_[static_cast<std::size_t>(index)] = node;
  return index;
}

}  // namespace detail

namespace {

/// C. Ericson, "Real-Time Collision Detection", 2005, section 5.1.5.
double distance_to_triangle(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 ab = b - a, ac = c - a, ap = p - a;
  const double d1 = ab.dot(ap), d2 = ac.dot(ap);
  if (d1 <= 0 && d2 <= 0) return ap.norm();
  const Vec3 bp = p - b;
  const double d3 = ab.dot(bp), d4 = ac.dot(bp);
  if (d3 >= 0 && d4 <= d3) return bp.norm();
  const double vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return (p - (a + ab * (d1 == d3 ? 0 : d1 / (d1 - d3)))).norm();
  const Vec3 cp = p - c;
  const double d5 = ab.dot(cp), d6 = ac.dot(cp);
  if (d6 >= 0 && d5 <= d6) return cp.norm();
  const double vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return (p - (a + ac * (d2 == d6 ? 0 : d2 / (d2 - d6)))).norm();
  const double va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const double sum = (d4 - d3) + (d5 - d6);
    return (p - (b + (c - b) * (sum == 0 ? 0 : (d4 - d3) / sum))).norm();
  }
  const double scale = 1 / (va + vb + vc);
  return (p - (a + ab * (vb * scale) + ac * (vc * scale))).norm();
}

}  // namespace

ContactPart::ContactPart(Mesh mesh, const Progress& progress)
    : mesh_(std::move(mesh)),
      box_(mesh_.box()),
      tree_(std::make_unique<detail::TriangleTree>(mesh_, progress)) {}

ContactPart::~ContactPart() = default;

double ContactPart::distance(const Vec3& p, double at_most_mm) const {
  double best = at_most_mm;
  tree_->walk(
      [&](const Box3& box) { return -box.exteriorDistance(p); }, [&](double value) { return -value < best; },
      [&](std::int32_t i) {
        const auto t = static_cast<std::size_t>(i);
        best = std::min(best,
                        distance_to_triangle(p, mesh_.corner(t, 0), mesh_.corner(t, 1), mesh_.corner(t, 2)));
      });
  return best;
}

std::shared_ptr<const ContactPart> make_contact_part(Mesh mesh, const Progress& progress) {
  return std::make_shared<const ContactPart>(std::move(mesh), progress);
}

}  // namespace yardpass
