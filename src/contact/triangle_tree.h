// Index over triangles. Internal to this layer.
//
// A tree with eight children a node; the children of the lowest nodes are triangles. Of each child the node
// keeps its rectangle in plan, its greatest Z and a plane that nothing of it rises above. From these follow
// bounds of the tip height for eight children at a time (see bounds.h). Bounds only ever leave out what
// cannot matter; heights come from triangle.h alone, so the result does not depend on the index.
#pragma once

#include <array>
#include <bit>
#include <limits>
#include <vector>

#include "contact/bounds.h"
#include "contact/triangle.h"
#include "yardpass/geom/mesh.h"

namespace yardpass::detail {

class TriangleTree {
 public:
  TriangleTree(const Mesh& mesh, const Progress& progress);

  /// Calls visit(triangle) for every triangle whose bound is not below `wanted`, the most promising first.
  /// `visit` may raise `wanted`, which is read again each time.
  template <typename Visit>
  void search(const BoundQuery& query, const float& wanted, const Visit& visit) const {
    search(query, wanted, visit, [](std::int32_t) {});
  }
  /// The same; coming(triangle) is called some time before visit(triangle), so that what it will read can be
  /// fetched.
  template <typename Visit, typename Coming>
  void search(const BoundQuery& query, const float& wanted, const Visit& visit, const Coming& coming) const {
    walk([&](const Node8& node, float* bounds) { return bounds_of(node, query, wanted, bounds); }, wanted,
         visit, coming);
  }

  /// The same with bounds from another source: bounds(node, out) fills eight values and returns a bit for
  /// each wanted one.
  template <typename Bounds, typename Visit>
  void walk(const Bounds& bounds, const float& wanted, const Visit& visit) const {
    walk(bounds, wanted, visit, [](std::int32_t) {});
  }
  template <typename Bounds, typename Visit, typename Coming>
  void walk(const Bounds& bounds, const float& wanted, const Visit& visit, const Coming& coming) const {
    if (nodes_.empty()) return;
    struct Open {
      std::int32_t node;
      float bound;
    };
    std::array<Open, std::size_t{8} * 24> stack;
    std::size_t depth = 0;
    stack[depth++] = {0, std::numeric_limits<float>::infinity()};
    while (depth > 0) {
      const Open top = stack[--depth];
      if (top.bound < wanted) continue;
      const Node8& node = nodes_[static_cast<std::size_t>(top.node)];
      alignas(32) float value[8];
      // The wanted children in rising order of their bounds, by insertion: they are few.
      std::array<Open, 8> found;
      std::size_t count = 0;
      for (unsigned mask = bounds(node, value); mask != 0; mask &= mask - 1) {
        const int k = std::countr_zero(mask);
        std::size_t at = count++;
        for (; at > 0 && found[at - 1].bound > value[k]; --at) found[at] = found[at - 1];
        found[at] = {node.child[k], value[k]};
      }
      if (node.leaf) {
        for (std::size_t k = 0; k < count; ++k) coming(found[k].node);
        while (count > 0 && found[count - 1].bound >= wanted) visit(found[--count].node);
        continue;
      }
      for (std::size_t k = 0; k < count; ++k) {
        stack[depth++] = found[k];
        const char* place = reinterpret_cast<const char*>(&nodes_[static_cast<std::size_t>(found[k].node)]);
        for (std::size_t line = 0; line < sizeof(Node8); line += 64) __builtin_prefetch(place + line);
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
