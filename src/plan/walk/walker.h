// One round of the walk over one raster.
#pragma once

#include "plan/walk/nodes.h"

namespace yardpass::detail {

struct RoundOptions {
  double least_turn_mm = 0;  ///< radius
  double step_mm = 0;
  double node_mm = 0;
  bool last = false;  ///< what is not entered now stays
};

class Walker {
 public:
  Walker(Front& front, const BoundedWalkOptions& options, const RoundOptions& round, const WaysDown& down,
         BoundedWalk& result);
  /// Until nothing is left to try, from a place; returns where it ended.
  Vec2 run(const Vec2& from);

 private:
  struct Step {
    Vec2 to;
    double engaged;        ///< by what it sees, its own late clearing included [radians]
    double taken_mm2 = 0;  ///< on the way to it
  };
  /// The first heading towards the material that walls and the angle let pass.
  struct Turn {
    double turn;  ///< against the hand [radians]
    double engaged;
  };
  [[nodiscard]] std::optional<Turn> next_turn(const Vec2& at, double heading, double last) const;
  /// Nothing where a wall or too much material is in the way.
  [[nodiscard]] std::optional<double> passable(const Vec2& at, double heading, double turn) const;
  void pass_from(int node);
  Vec2 walk(const Vec2& start, double heading, std::vector<Step>& steps, Box2& passed);
  void add_pass(const Vec2& start, std::vector<Step> steps);
  [[nodiscard]] std::vector<bool> idle_steps(const std::vector<Step>& steps) const;
  [[nodiscard]] bool come_down();
  [[nodiscard]] bool by_helix(int node, double room);
  [[nodiscard]] bool by_ramp(int node);
  void give_up_around(int node);
  void add_link(Polyline2 points);

  Front& front_;
  const BoundedWalkOptions& options_;
  RoundOptions round_;
  const WaysDown& down_;
  BoundedWalk& result_;
  Nodes nodes_;
  double limit_, hand_ = 1, most_turn_;
  Vec2 at_{0, 0};
  bool is_down_ = false;
  std::vector<float> room_;  // of the nodes, once it is needed
};

}  // namespace yardpass::detail
