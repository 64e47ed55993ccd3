// The way of the tool so far, and what may be asked before it goes on.
#pragma once

#include "link/material.h"
#include "yardpass/link/link.h"

namespace yardpass::detail {

class Trail {
 public:
  Trail(const ToolSurface& surface, Stock before, const LinkOptions& options);

  [[nodiscard]] bool started() const { return started_; }
  [[nodiscard]] const Vec3& at() const { return at_; }  ///< where the tool is, once it has started
  [[nodiscard]] Material& material() { return material_; }
  [[nodiscard]] LinkCounts& counts() { return counts_; }  ///< lifts and ways by the plane are counted here

  /// What follows belongs to this cut.
  void begin_cut(const CutOrigin& origin) { path_.cuts.push_back(origin); }
  void go(const Vec3& to, MoveKind kind);
  void go_along(const Polyline3& line, MoveKind kind) {
    for (const Vec3& p : without_dust(line)) go(p, kind);
  }
  /// The line without points that make pieces shorter than controls like, where what remains is as free and
  /// as near to the surface.
  [[nodiscard]] Polyline3 without_dust(const Polyline3& line) const;

  /// Through the air to a little above material and part at a place, and above z. If that is near enough for
  /// a lift, no higher than what is in between asks for.
  void come_over(const Vec2& place, double z, double lift_up_to_mm);
  void retract();

  /// So near in plan, once it has started.
  [[nodiscard]] bool is_near(const Vec3& place, double reach_mm) const {
    return started_ && (plan(place) - plan(at_)).norm() <= reach_mm;
  }

  // Moves at feed:

  [[nodiscard]] bool is_free(const Vec3& a, const Vec3& b) const;
  [[nodiscard]] bool is_free(const Polyline3& line) const;
  /// How much room the part leaves, and none over what is kept out of and below the bottom.
  [[nodiscard]] double room(const Vec3& a, const Vec3& b) const;
  [[nodiscard]] bool crosses_keep_out(const Vec3& a, const Vec3& b) const;
  /// Whether a way on from here only rises or falls, if that is asked for.
  [[nodiscard]] bool goes_right_way(const Polyline3& line) const;
  /// More material under the tool's axis than it takes on a way that is steeper than it says.
  [[nodiscard]] bool too_much_under(const Vec3& place);
  [[nodiscard]] bool too_steep(const Vec3& from, const Vec3& to) const;

  [[nodiscard]] LinkedCuts take();

 private:
  /// The least height at which a rapid may run straight across from here, with the height that it keeps.
  [[nodiscard]] double height_across(const Vec2& from, const Vec2& to, double least);
  void across(const Vec2& place, double z);
  [[nodiscard]] bool quicker_than_plane(const Vec2& place, double up, double down_to) const;
  [[nodiscard]] double feed_of(MoveKind kind) const;

  const ToolSurface& surface_;
  const Tool& tool_;
  Material material_;
  const LinkOptions& options_;
  std::optional<TipSurface> uncut_;  // the part itself, for overcuts
  Toolpath path_;
  LinkCounts counts_;
  Vec3 at_ = Vec3::Zero();
  bool started_ = false;
};

/// Seconds of the rapids from one place to another by way of the clearance plane, each from rest to rest.
double seconds_by_plane(const Vec3& from, const Vec3& to, const LinkOptions& options);
/// Of one straight rapid.
double seconds_of_rapid(const Vec3& from, const Vec3& to, const LinkOptions& options);

/// Of a whole toolpath, feeds without speeding up and slowing down.
double seconds_of(const Toolpath& path, const LinkOptions& options);

/// Fall over distance in plan.
double slope_of(double degrees);

}  // namespace yardpass::detail
