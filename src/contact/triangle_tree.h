// Index over triangles. Internal to this layer.
//
// A tree with eight children a node; the children of the lowest nodes are triangles. Of each child the node
// keeps its rectangle in plan, its greatest Z and a plane that nothing of it rises above. From these follow
// bounds of the tip height for eight children at a time (see bounds.h). Bounds only ever leave out what
// cannot matter; heights come from triangle.h alone, so the result does not depend on the index.
#pragma once

#include <array>
#include <limits>
#include <vector>

#include "contact/bounds.h"
#include "contact/triangle.h"
#include "yardpass/geom/mesh.h"

namespace yardpass::detail {

class TriangleTree {
 public:
  TriangleTree(const Mesh& mesh, const Progress& progress);

  /// Calls visit(triangle) for every triangle whose bound is not excluded, the most promising first.
  /// `keep(bound)` says whether a child with this bound is still wanted; it may become stricter as triangles
  /// are visited.
  template <typename Keep, typename Visit>
  void search(const BoundQuery& query, const Keep& keep, const Visit& visit) const {
    walk([&](const Node8& node, float* bounds) { bounds_of(node, query, bounds); }, keep, visit);
  }

  /// The same with bounds from another source: bounds(node, out) fills eight values.
  template <typename Bounds, typename Keep, typename Visit>
  void walk(const Bounds& bounds, const Keep& keep, const Visit& visit) const {
    if (nodes_.empty()) return;
    struct Open {
      std::int32_t node;
      float bound;
    };
    std::array<Open, 8 * 24> stack;
    std::size_t depth = 0;
    stack[depth++] = {0, std::numeric_limits<float>::infinity()};
    while (depth > 0) {
      const Open top = stack[--depth];
      if (!keep(top.bound)) continue;
      const Node8& node = nodes_[static_cast<std::size_t>(top.node)];
      alignas(32) float value[8];
      bounds(node, value);
      // The wanted children in rising order of their bounds, by insertion: they are few.
      std::array<Open, 8> wanted;
      std::size_t count = 0;
      for (int k = 0; k < 8; ++k) {
        if (node.child[k] < 0 || !keep(value[k])) continue;
        std::size_t at = count++;
        for (; at > 0 && wanted[at - 1].bound > value[k]; --at) wanted[at] = wanted[at - 1];
        wanted[at] = {node.child[k], value[k]};
      }
      if (node.leaf) {
        while (count > 0 && keep(wanted[count - 1].bound)) visit(wanted[--count].node);
      } else {
        for (std::size_t k = 0; k < count; ++k) stack[depth++] = wanted[k];
      }
    }
  }

  /// Bytes held.
  [[nodiscard]] std::size_t bytes() const { return nodes_.capacity() * sizeof(Node8); }
  /// Middle of the mesh: the origin of all that the nodes hold.
  [[nodiscard]] const Vec3& origin() const { return origin_; }

 private:
  friend class TreeBuilder;
  std::vector<Node8> nodes_;
  Vec3 origin_ = Vec3::Zero();
};

}  // namespace yardpass::detail
