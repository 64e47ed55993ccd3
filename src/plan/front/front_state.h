// What fronts have done so far, and one step more.
#pragma once

#include <functional>

#include "plan/front/rays.h"
#include "yardpass/plan/fronts.h"

namespace yardpass::detail {

class FrontState {
 public:
  /// `lives`: whether fronts advance at a place.
  FrontState(const Ground& ground, const FrontOptions& options, std::function<bool(const Vec2&)> lives)
      : ground_(ground), options_(options), lives_(std::move(lives)) {}

  /// `lives`: the area of places where they advance.
  void start(const FrontStart& start, const Region& lives);
  /// False once nothing moves any more.
  bool step();

  /// What is done lies on their left.
  std::vector<FrontLoop> loops;
  FrontCounts counts;
  /// Of the last step, for what looks at what went missing: from what, to which raw lines.
  std::vector<FrontChain> before;
  std::vector<Heads> heads;

 private:
  void add_far_box();
  void add(const Polyline2& loop);
  [[nodiscard]] FrontPoint point_at(const Vec2& place, std::int32_t near);
  [[nodiscard]] FrontLoop with_points_on_long_pieces(const FrontLoop& loop);
  std::vector<FrontLoop> united(std::vector<Heads>& raw);

  const Ground& ground_;
  const FrontOptions& options_;
  std::function<bool(const Vec2&)> lives_;
};

}  // namespace yardpass::detail
