// Where uncleared ground can be got to: a grid of nodes over an area.
#pragma once

#include <vector>

#include "plan/walk/front.h"

namespace yardpass::detail {

class Nodes {
 public:
  enum class State : std::uint8_t { outside, uncleared, cleared };

  Nodes(const Front& front, double spacing);

  [[nodiscard]] std::size_t size() const { return states_.size(); }
  [[nodiscard]] Vec2 place(int node) const;
  [[nodiscard]] State state(int node) const { return states_[static_cast<std::size_t>(node)]; }
  [[nodiscard]] std::uint8_t& tries(int node) { return tries_[static_cast<std::size_t>(node)]; }
  /// Nothing is tried again at a node that was tried so often.
  static constexpr std::uint8_t kMostTries = 3;
  [[nodiscard]] bool worn(int node) const { return tries_[static_cast<std::size_t>(node)] >= kMostTries; }
  /// Cleared, and next to ground that is not.
  [[nodiscard]] bool at_front(int node) const;
  /// In which direction the uncleared neighbours lie; nothing if there are none.
  [[nodiscard]] std::optional<Vec2> towards_uncleared(int node) const;

  /// The nearest node at the front that cleared ground leads to, in nodes and diagonals; -1 for none.
  [[nodiscard]] int nearest_front(const Vec2& from);
  /// The nearest in a straight line.
  [[nodiscard]] int front_by_air(const Vec2& from) const;
  /// Along the front with the material on the other hand, to where it ends at a wall.
  [[nodiscard]] int back_along_front(int node, MaterialHand hand) const;
  /// The way through cleared nodes, pulled straight; nothing if none is clear all along.
  [[nodiscard]] std::optional<Polyline2> way(const Vec2& from, int to);

  /// What was passed within a box is looked at again.
  void update(const Box2& passed);
  /// All that hangs together with an uncleared node.
  [[nodiscard]] std::vector<int> uncleared_around(int node) const;

 private:
  [[nodiscard]] int neighbour(int node, int k) const;
  /// Through cleared nodes, nearest first, until `found`.
  template <typename Found>
  int search(const Vec2& from, const Found& found);
  [[nodiscard]] std::pair<int, int> nearest(const Vec2& p) const;

  const Front& front_;
  double spacing_;
  Vec2 origin_;
  int columns_, rows_;
  std::vector<State> states_;
  std::vector<std::uint8_t> tries_;
  struct Reached {
    double far = 0;
    int parent = -1;
    std::uint32_t search = 0;
  };
  std::vector<Reached> reached_;
  std::uint32_t searches_ = 0;
};

}  // namespace yardpass::detail
