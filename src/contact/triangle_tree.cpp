#include "contact/triangle_tree.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "geom/parallel_for.h"

namespace yardpass::detail {

namespace {

float rounded_up(double value) {
  const auto near = static_cast<float>(value);
  return static_cast<double>(near) >= value ? near
                                            : std::nextafter(near, std::numeric_limits<float>::infinity());
}

float rounded_down(double value) { return -rounded_up(-value); }

}  // namespace

/// Splits by medians of the triangles' middles in plan, always at whole eights, so that all leaves but the
/// last are full.
class TreeBuilder {
 public:
  TreeBuilder(const Mesh& mesh, TriangleTree& tree)
      : mesh_(mesh), tree_(tree), order_(mesh.triangles.size()) {
    std::iota(order_.begin(), order_.end(), 0);
    middles_.resize(order_.size());
    parallel_for(order_.size(), [&](std::size_t i) {
      const auto [low, high] = ranges(static_cast<std::int32_t>(i));
      middles_[i] = (0.5 * (plan(low) + plan(high))).cast<float>();
    });
  }

  void run() {
    const std::size_t blocks = (order_.size() + 7) / 8;
    tree_.nodes_.resize(nodes_for(blocks));
    build(0, 0, blocks);
  }

 private:
  struct Span {
    std::size_t first, blocks;  // in blocks of eight triangles
  };

  [[nodiscard]] std::pair<Vec3, Vec3> ranges(std::int32_t triangle) const {
    const auto t = static_cast<std::size_t>(triangle);
    const Vec3 &a = mesh_.corner(t, 0), &b = mesh_.corner(t, 1), &c = mesh_.corner(t, 2);
    return {Vec3(a.cwiseMin(b).cwiseMin(c) - tree_.origin_), Vec3(a.cwiseMax(b).cwiseMax(c) - tree_.origin_)};
  }

  /// Halves three times.
  static std::array<Span, 8> eighths(const Span& whole) {
    std::array<Span, 8> parts{};
    parts[0] = whole;
    for (std::size_t count = 1; count < 8; count *= 2) {
      for (std::size_t k = count; k-- > 0;) {
        const Span span = parts[k];
        const std::size_t left = (span.blocks + 1) / 2;
        parts[2 * k + 1] = {span.first + left, span.blocks - left};
        parts[2 * k] = {span.first, left};
      }
    }
    return parts;
  }

  static std::size_t nodes_for(std::size_t blocks) {
    if (blocks <= 1) return blocks;
    std::size_t sum = 1;
    // Eighths differ by at most one block, so two sizes occur.
    const auto parts = eighths({0, blocks});
    const std::size_t large = parts[0].blocks, small = large - 1;
    std::size_t large_count = 0, small_count = 0;
    for (const Span& part : parts) (part.blocks == large ? large_count : small_count) += part.blocks > 0;
    sum += large_count * nodes_for(large);
    if (small_count > 0) sum += small_count * nodes_for(small);
    return sum;
  }

  void split(std::size_t first, std::size_t middle, std::size_t last) {
    Eigen::AlignedBox2f box;
    for (std::size_t i = first; i < last; ++i) box.extend(middles_[static_cast<std::size_t>(order_[i])]);
    const Eigen::Index axis = box.sizes().x() >= box.sizes().y() ? 0 : 1;
    const auto at = [&](std::size_t i) { return order_.begin() + static_cast<std::ptrdiff_t>(i); };
    std::nth_element(at(first), at(middle), at(last), [&](std::int32_t a, std::int32_t b) {
      const float ma = middles_[static_cast<std::size_t>(a)][axis],
                  mb = middles_[static_cast<std::size_t>(b)][axis];
      return ma != mb ? ma < mb : a < b;
    });
  }

  void build(std::size_t index, std::size_t first_block, std::size_t blocks) {
    Node8& node = tree_.nodes_[index];
    std::fill(std::begin(node.child), std::end(node.child), -1);
    node.leaf = blocks == 1;
    if (node.leaf) {
      const std::size_t first = first_block * 8, last = std::min(first + 8, order_.size());
      for (std::size_t i = first; i < last; ++i) {
        node.child[i - first] = order_[i];
        bound_child(node, i - first, i, i + 1);
      }
      clear_rest(node, last - first);
      return;
    }
    const auto parts = eighths({first_block, blocks});
    split_parts({first_block, blocks});
    std::array<std::size_t, 8> child_index{};
    std::size_t next = index + 1, count = 0;
    std::array<Span, 8> used{};
    for (const Span& part : parts) {
      if (part.blocks == 0) continue;
      used[count] = part;
      child_index[count++] = next;
      next += nodes_for(part.blocks);
    }
    const auto one = [&](std::size_t k) {
      node.child[k] = static_cast<std::int32_t>(child_index[k]);
      const std::size_t first = used[k].first * 8,
                        last = std::min((used[k].first + used[k].blocks) * 8, order_.size());
      bound_child(node, k, first, last);
      build(child_index[k], used[k].first, used[k].blocks);
    };
    if (blocks > 2000)
      parallel_for(count, one);
    else
      for (std::size_t k = 0; k < count; ++k) one(k);
    clear_rest(node, count);
  }

  /// Orders the triangles so that the eighths hold their parts.
  void split_parts(const Span& whole, int levels = 3) {
    if (levels == 0 || whole.blocks < 2) return;
    const std::size_t left = (whole.blocks + 1) / 2, first = whole.first * 8;
    const std::size_t last = std::min((whole.first + whole.blocks) * 8, order_.size());
    split(first, (whole.first + left) * 8, last);
    const auto lower = [&] { split_parts({whole.first, left}, levels - 1); };
    const auto upper = [&] { split_parts({whole.first + left, whole.blocks - left}, levels - 1); };
    if (whole.blocks > 4000)
      both_at_once(lower, upper);
    else
      lower(), upper();
  }

  void bound_child(Node8& node, std::size_t k, std::size_t first, std::size_t last) const {
    Vec3 low = Vec3::Constant(1e300), high = Vec3::Constant(-1e300), normal = Vec3::Zero();
    for (std::size_t i = first; i < last; ++i) {
      const auto [from, to] = ranges(order_[i]);
      low = low.cwiseMin(from), high = high.cwiseMax(to);
      const auto t = static_cast<std::size_t>(order_[i]);
      const Vec3 n = (mesh_.corner(t, 1) - mesh_.corner(t, 0)).cross(mesh_.corner(t, 2) - mesh_.corner(t, 0));
      if (n.z() < 0)
        normal -= n;
      else
        normal += n;
    }
    node.low_x[k] = rounded_down(low.x()), node.high_x[k] = rounded_up(high.x());
    node.low_y[k] = rounded_down(low.y()), node.high_y[k] = rounded_up(high.y());
    node.top[k] = rounded_up(high.z());
    // The mean slope, not too steep: a steep plane over a wide rectangle bounds nothing. Its level follows
    // from the slope as stored, so any slope is safe.
    Vec2 slope = normal.z() > 0 ? Vec2(-normal.head<2>() / normal.z()) : Vec2(0, 0);
    const double steepest = last - first == 1 ? 50 : 8, m = slope.norm();
    if (!(m <= steepest)) slope = m < 1e12 ? Vec2(slope * (steepest / m)) : Vec2(0, 0);
    node.slope_x[k] = static_cast<float>(slope.x()), node.slope_y[k] = static_cast<float>(slope.y());
    const Vec2 stored(static_cast<double>(node.slope_x[k]), static_cast<double>(node.slope_y[k]));
    double level = -1e300;
    for (std::size_t i = first; i < last; ++i)
      for (int corner = 0; corner < 3; ++corner) {
        const Vec3 p = mesh_.corner(static_cast<std::size_t>(order_[i]), corner) - tree_.origin_;
        level = std::max(level, p.z() - stored.dot(plan(p)));
      }
    node.level[k] = rounded_up(level);
  }

  static void clear_rest(Node8& node, std::size_t from) {
    for (std::size_t k = from; k < 8; ++k) {
      node.low_x[k] = node.low_y[k] = node.high_x[k] = node.high_y[k] = 1e30f;
      node.top[k] = node.level[k] = -1e30f;
      node.slope_x[k] = node.slope_y[k] = 0;
    }
  }

  const Mesh& mesh_;
  TriangleTree& tree_;
  std::vector<std::int32_t> order_;
  std::vector<Eigen::Vector2f> middles_;
};

TriangleTree::TriangleTree(const Mesh& mesh, const Progress& progress) {
  if (mesh.triangles.empty()) return;
  report(progress, 0.0);
  origin_ = mesh.box().center();
  TreeBuilder(mesh, *this).run();
  report(progress, 1.0);
}

}  // namespace yardpass::detail
