#include "plan/contour/helix_down.h"

#include <algorithm>

namespace yardpass::detail {

namespace {

double around(const Polyline2& loop) {
  return length(std::span<const Vec2>(loop)) + (loop.front() - loop.back()).norm();
}

/// On the wall at the start of a lap.
WallPlace start_of(const Contours::Lap& lap) {
  const Polyline2& loop = lap.contour.points;
  const Vec2 way = (loop[1] - loop[0]).normalized();  // the material on its right
  return {with_z(loop[0], lap.z), Vec2(-way.y(), way.x()), -1};
}

class HelixDown {
 public:
  HelixDown(const Tube& tube, double longest_step, const Contours::Lap& first, bool material_left)
      : tube_(tube),
        walk_(tube, longest_step, material_left),
        at_(start_of(first)),
        left_(material_left),
        line_{at_.tip} {}

  /// About once round `lap`, down to a height.
  bool fall(const Contours::Lap& lap, double to_z) {
    const double round = around(lap.contour.points), slope = (lap.z - to_z) / round;
    constexpr double kMuch = 4;  // laps: then it is lost
    for (double travelled = 0; at_.tip.z() > to_z;) {
      const Vec3 from = at_.tip;
      const auto step = walk_.next(at_, slope, to_z);
      if (!step || travelled > kMuch * round) return false;
      if (step->corner) line_.push_back(*step->corner);
      if ((step->end.tip - line_.back()).norm() > 1e-9) line_.push_back(step->end.tip);
      travelled += (plan(step->end.tip) - plan(from)).norm();
      at_ = step->end;
    }
    return true;
  }

  /// Level, once round the last one, from where it has come down.
  bool level(const Contours::Lap& lap) {
    const Polyline2& loop = lap.contour.points;
    const NearestOnLoop nearest = nearest_on_loop(loop, plan(at_.tip));
    const Vec3 begin = with_z(nearest.at, lap.z);
    if ((begin - at_.tip).norm() > 1e-9 && !tube_.holds(at_.tip, begin)) return false;
    const auto add = [&](const Vec2& p) {
      if ((with_z(p, lap.z) - line_.back()).norm() > 1e-9) line_.push_back(with_z(p, lap.z));
    };
    add(nearest.at);
    const std::size_t count = loop.size();
    for (std::size_t k = 0; k < count; ++k)
      add(loop[(left_ ? nearest.piece + count - k : nearest.piece + 1 + k) % count]);
    add(nearest.at);
    return true;
  }

  [[nodiscard]] Polyline3 take() { return std::move(line_); }

 private:
  const Tube& tube_;
  WallWalk walk_;
  WallPlace at_;
  bool left_;
  Polyline3 line_;
};

}  // namespace

std::optional<Polyline3> helix_down(const Tube& tube, double longest_step,
                                    std::span<const Contours::Lap> laps, bool material_left) {
  HelixDown helix(tube, longest_step, laps.front(), material_left);
  for (std::size_t k = 0; k + 1 < laps.size(); ++k)
    if (!helix.fall(laps[k], laps[k + 1].z)) return std::nullopt;
  if (!helix.level(laps.back())) return std::nullopt;
  return helix.take();
}

}  // namespace yardpass::detail
