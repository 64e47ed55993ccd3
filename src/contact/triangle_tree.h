// Index over triangles: a binary tree of boxes. Internal to this layer.
#pragma once

#include <vector>

#include "contact/triangle.h"
#include "yardpass/geom/mesh.h"

namespace yardpass::detail {

class TriangleTree {
 public:
  explicit TriangleTree(const Mesh& mesh, const Progress& progress);

  struct Node {
    Box3 box;
    std::int32_t first =
        0;  // first triangle of a leaf, else index of the right child (the left one follows the node)
    std::int32_t count = 0;  // triangles of a leaf; 0 for an inner node
  };

  /// Visits leaves whose bound does not exclude them, the most promising child first.
  /// `bound(box)`: a value that nothing inside the box can exceed; `keep(value)`: whether such a value is
  /// still wanted; `visit(triangle)`.
  template <typename Bound, typename Keep, typename Visit>
  void walk(const Bound& bound, const Keep& keep, const Visit& visit) const {
    if (nodes_.empty()) return;
    struct Open {
      std::int32_t node;
      double value;
    };
    Open stack[64];
    int depth = 0;
    stack[depth++] = {0, bound(nodes_[0].box)};
    while (depth > 0) {
      const Open top = stack[--depth];
      if (!keep(top.value)) continue;
      const Node& node = nodes_[static_cast<std::size_t>(top.node)];
      if (node.count > 0) {
        for (std::int32_t i = node.first; i < node.first + node.count; ++i)
          visit(order_[static_cast<std::size_t>(i)]);
        continue;
      }
      const Open left{top.node + 1, bound(nodes_[static_cast<std::size_t>(top.node + 1)].box)};
      const Open right{node.first, bound(nodes_[static_cast<std::size_t>(node.first)].box)};
      const bool left_first = left.value >= right.value;
      stack[depth++] = left_first ? right : left;
      stack[depth++] = left_first ? left : right;
    }
  }

  [[nodiscard]] std::size_t triangles() const { return order_.size(); }

 private:
  std::int32_t build(std::vector<Box3>& boxes, std::int32_t first, std::int32_t count);
  std::vector<Node> nodes_;
  std::vector<std::int32_t> order_;
};

}  // namespace yardpass::detail
