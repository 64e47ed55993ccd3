/// From cuts to a toolpath: leads, links, approach, retracts.
#pragma once

#include "yardpass/contact/tool_surface.h"
#include "yardpass/keys/keys.h"
#include "yardpass/link/lead.h"
#include "yardpass/link/order.h"
#include "yardpass/path/toolpath.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/site.h"
#include "yardpass/stock/stock.h"

namespace yardpass {

/// How the tool gets from the end of one cut to the start of the next, by their distance in plan. Of the
/// rungs that reach so far, the first is taken that is proven free of the part, with the surface's allowance,
/// for all its points, and does not take longer than the way over the clearance plane:
///  - stay down, at feed: a straight line where that is free, else a line along the surface;
///  - hop, at feed: a smooth curve that goes on along the one cut, over what is in between, and comes down
///    along the other, nowhere higher than a radius above both ends, and through no more material than 0.3 of
///    the radius;
///  - lift, at rapid: straight up just high enough over material and part in between, across, and down;
///  - the same by way of the clearance plane, however far.
struct LinkLadder {
  double stay_down_mm = 5;  ///< REQUIRES: each at least 0; 0 leaves the rung out
  double hop_mm = 0;
  double lift_mm = std::numeric_limits<double>::infinity();

  friend bool operator==(const LinkLadder&, const LinkLadder&) = default;
};

/// What lies between two cuts of one kind.
struct Between {
  LinkLadder ladder = {};
  Leads leads = {};
};

struct LinkOptions {
  double plane_z = 0;         ///< rapids across run here [mm]; REQUIRES: above stock and part
  double feed_height_mm = 1;  ///< so far above the material rapid turns into feed; REQUIRES: above 0
  /// From one pass to another, and, where it is said, from one piece of a pass to its next. The leads of
  /// `steps` are those of every place where the tool comes from the air and leaves into it.
  Between steps = {};
  std::optional<Between> gaps = {};
  CutOrder order = CutOrder::quickest;  ///< of cuts that their plan leaves free
  std::optional<Vec2> start_near = {};  ///< the first cut is the one nearest to it, of those left free
  /// From a way through the air the tool comes down over the first of these and goes on at feed from one to
  /// the next; on its last way out it goes through the others. Throws Error if that is not free.
  Polyline3 approach = {}, exit = {};
  double ramp_angle_deg = 3;     ///< steepest way down into solid material; REQUIRES: above 0, at most 45
  double tolerance_mm = 0.01;    ///< of links drawn along the surface; REQUIRES: above 0
  double plunge_slope_deg = 85;  ///< cutting moves steeper downwards than this run at plunge feed
  /// Links at feed only rise, or only fall, within the tolerance.
  HeightWays ways = HeightWays::any;
  Region keep_out = {};  ///< moves at feed between cuts do not lead the tool's axis over it
  double bottom_z = -std::numeric_limits<double>::infinity();  ///< nor its tip below this
  /// The control moves each axis at its own speed: a rapid near material moves one axis at a time.
  bool dog_leg_rapids = false;
  /// For choosing the quicker way: speeds of the axes at rapid, and how they speed up; REQUIRES: above 0
  Vec3 rapid_mm_min{15000, 15000, 15000};
  double acceleration_mm_s2 = 2000;

  [[nodiscard]] const Between& between(bool of_one_pass) const { return of_one_pass && gaps ? *gaps : steps; }
};

/// `feed_height`, `link_distance`, `hop_distance`, `lift_distance`, the leads, `gaps`, `cut_order`,
/// `start_near`, `way_in`, `way_out`.
void keys_of(LinkOptions& options, const Usual& usual, const Tool& tool, Keys& keys);

/// How cuts were joined.
struct LinkCounts {
  std::int64_t stay_down = 0, hops = 0, lifts = 0, planes = 0;  ///< by rung, between two cuts
  std::int64_t leads_wanted = 0, leads = 0;  ///< in and out; those that fitted, some of them smaller
  /// Between cuts, without leads and plunges: as it is, and as it would be in the plan's own order by way of
  /// the clearance plane every time [s].
  double between_s = 0, plain_between_s = 0;

  void add(const LinkCounts& more);
};

struct LinkedCuts {
  Toolpath path;
  Stock stock;  ///< what the toolpath leaves
  LinkCounts counts = {};
  std::vector<Note> notes = {};  ///< what the user should know
};

/// Joins the cuts, group by group, in the order that `order` gives them. Between two cuts see LinkLadder;
/// rapids keep `feed_height_mm` above the material as it then is, and never enter stock or part, and from
/// there the tool goes on at plunge feed, by a lead or along a ramp. `before` is the material before this
/// toolpath; if the work is stopped or refused, nothing half carved is left. Throws Error if an option breaks
/// what it asks for, the clearance plane is not above stock and part, the tool lacks a feed, or a group is to
/// come after one that is not before it.
[[nodiscard]] LinkedCuts link_cuts(const CutPlan& plan, const ToolSurface& surface, Stock before,
                                   const LinkOptions& options, const Progress& progress = {});

/// The same in the plan's own order, by way of the clearance plane every time, without leads: what better
/// links are held against.
[[nodiscard]] LinkOptions plain(LinkOptions options);

}  // namespace yardpass
