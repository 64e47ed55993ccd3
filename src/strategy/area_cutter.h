// The cuts of one area of one level: loops or lines, each led into from where it is safe.
#pragma once

#include <vector>

#include "strategy/ways_in.h"

namespace yardpass::detail {

/// What is told of ways in and of what is not cut.
struct AreaCounts {
  std::array<std::int64_t, 6> ways = {};  // by WayKind
  std::int64_t pegs = 0;

  [[nodiscard]] std::int64_t& of(WayKind kind) { return ways[static_cast<std::size_t>(kind)]; }
  AreaCounts& operator+=(const AreaCounts& other);
};

/// An area that nothing leads into.
struct RefusedArea {
  Vec3 at{0, 0, 0};
  double area_mm2 = 0, volume_mm3 = 0;
};

struct AreaCuts {
  Region area;             // for the tool's axis
  std::int32_t stage = 0;  // of its level, in the order in which levels are cut
  double upper_z = 0;      // what stands above that is cut before
  CutGroup group;          // without cuts if all of the area is refused
  AreaCounts counts;
  std::vector<RefusedArea> refused;
  double left_in_corners_mm3 = 0;  // where no loop fits
  [[nodiscard]] bool wholly_refused() const { return group.cuts.empty() && !refused.empty(); }
};

/// What lies so near to a pass counts as passed: under the flat of the cutter, or nearly as near as it must
/// be for passes a stepover apart.
[[nodiscard]] double passed_within(const Profile& cutter, double stepover, double tolerance);

/// What a refused area holds: `swept` lies nowhere under the tool.
[[nodiscard]] RefusedArea refused_area(const Site& site, const Region& swept, double z, double upper_z);

class AreaCutter {
 public:
  /// `upper_z`: of the level above.
  AreaCutter(const Site& site, const RoughingOptions& options, const Region& free, Region piece, double z,
             double upper_z);
  [[nodiscard]] AreaCuts cut();

 private:
  void loops();
  std::vector<Polyline2> rings(const Region& exact, double depth);
  void pegs_between(const Region& piece, const std::vector<Region>& inner,
                    const std::vector<Polyline2>& loops);
  void lines();
  void cut_all(bool inwards);
  [[nodiscard]] bool try_one(const LevelLine& line, bool may_go_down, bool inwards);
  void emit(const LevelLine& line, const WayIn& way, bool inwards);
  [[nodiscard]] double arc_tolerance() const;
  [[nodiscard]] bool leads_inside(const Vec2& a, const Vec2& b) const;
  [[nodiscard]] Region not_passed() const;
  void list_refused();

  const Site& site_;
  const RoughingOptions& options_;
  double z_, upper_z_, radius_, passed_;
  WaysIn ways_;
  AreaCuts result_;
  std::vector<LevelLine> lines_;  // in the order in which they should be cut
  std::vector<LevelLine> pegs_;   // what lies too far from all loops; cut last
  std::vector<Polyline2> done_closed_, done_open_;
  bool refused_some_ = false;
};

/// Lines a stepover apart at an angle across an area, which keep `inset` from its outline; in runs of lines
/// side by side, one after the other, the uncut ground on the left. `to_and_fro`: every second line of a run
/// leads back.
[[nodiscard]] std::vector<std::vector<Polyline2>> runs_of_lines(const Region& piece, double angle_deg,
                                                                double stepover, double inset,
                                                                bool to_and_fro);

}  // namespace yardpass::detail
