/// The tip surface: how low a turning cutter can stand over every place of a part.
///
/// Source of the idea: the inverse tool offset / cutter-location surface; see B. K. Choi and R. B. Jerard,
/// "Sculptured Surface Machining", 1998. Here it is evaluated exactly, triangle by triangle: the positions at
/// which a convex tool meets a triangle form a convex set, so over each triangle the surface is concave and a
/// straight move has one least clearance, found in closed form.
#pragma once

#include <algorithm>
#include <limits>
#include <memory>
#include <optional>
#include <span>

#include "yardpass/contact/contact_part.h"
#include "yardpass/tool/profile.h"

namespace yardpass {

namespace detail {
/// A convex profile that nowhere lies above the cutter's: flat to `disc`, an arc of radius `corner` up to
/// radius `arc_end`, from there a cone. All cutters but free profiles are of this kind (but for rounded upper
/// rims).
struct BoundProfile {
  float disc, corner, arc_end, arc_end_z, cone_slope, radius;
};
}  // namespace detail

/// Which part of a triangle is touched.
enum class Feature { facet, edge, corner };

struct Touch {
  double height = 0;  ///< Z of the tip [mm]
  Vec3 point;   ///< where cutter and part meet. With an allowance: where the thicker cutter meets the part
  Vec3 normal;  ///< unit vector from the part into the cutter at that place
  Feature feature = Feature::facet;
  std::int32_t triangle = -1;
  std::int32_t body = 0;  ///< of the tool: 0 the cutter, from 1 what is above it, see TipSurface::with_body
};

/// The least room of a move above the tip surface.
struct Clearance {
  /// Least Z(tip) - tip surface along the move [mm]; negative: the cutter enters the part. Infinite if the
  /// move meets nothing even far below. Beside walls this is no measure of distance; see `room_around`.
  double room = std::numeric_limits<double>::infinity();
  double share = 0;            ///< where along the move, 0 at its start to 1 at its end
  Vec3 tip = Vec3::Zero();     ///< tip position there
  std::int32_t triangle = -1;  ///< met there, -1 if none
  std::int32_t body = 0;       ///< of the tool that meets it
};

/// Lowest value of a tip height: nothing below.
inline constexpr double kNothingBelow = -std::numeric_limits<double>::infinity();

/// Largest rounding error of tip heights measured normal to the surface, for coordinates up to 1e4 mm.
inline constexpr double kTouchError = 1e-9;

struct TipSurfaceOptions {
  /// Leave at least this much on the part [mm]; negative: cut as much into it, down to the smallest corner
  /// radius.
  double allowance_mm = 0;
  /// More than that on walls, or more on floors; both at least 0, and only one of them above 0. A slope of
  /// angle t gets allowance + extra sin(t), or allowance + extra cos(t).
  double wall_extra_mm = 0;
  double floor_extra_mm = 0;
  /// More than all that on the triangles of a group, by group number; groups beyond the list get nothing
  /// extra. At least 0.
  std::vector<double> group_extra_mm = {};
  /// No index: test every triangle. Same bits, for tests and benchmarks.
  bool brute_force = false;
};

/// The tip surface of one cutter over one part. Cheap to copy; immutable, so any number of threads may ask
/// it. Properties (each tested):
///  (1) never gouges: at `touch` the cutter, thinner by kTouchError all round, is free of the part
///  (2) never floats: thicker by kTouchError it is not
///  (3) the order, the facing and the splitting of triangles do not matter (beyond rounding)
/// With bodies above the cutter (neck, shank, holder) it is the greatest of all their surfaces, each lower by
/// how far its body lies above the tip; then all of this holds for the tool as a whole. Only where the cutter
/// itself has nothing below there is no touch, whatever a holder would meet beside the part; `clearance` sees
/// that too.
class TipSurface {
 public:
  TipSurface(std::shared_ptr<const ContactPart> part, const Profile& cutter,
             const TipSurfaceOptions& options = {});

  /// The same surface with one more body: the tool has this profile too, from `above_tip_mm` up, and keeps
  /// `clearance_mm` more from the part than the allowance says. Bodies in the shadow of the cutter cost
  /// nothing.
  [[nodiscard]] TipSurface with_body(const Profile& profile, double above_tip_mm, double clearance_mm) const;
  /// How many bodies it has, the cutter (body 0) included.
  [[nodiscard]] std::int32_t bodies() const;
  /// The surface of one body alone, measured at the body's own tip, and how far that lies above the cutter's.
  [[nodiscard]] const TipSurface& body(std::int32_t number) const;
  [[nodiscard]] double body_above_tip(std::int32_t number) const;

  /// The highest touch at this place; nothing if no triangle lies below or above the cutter there. A corner
  /// exactly below the rim counts as below.
  /// `near_triangle`: one that is probably touched, for example the one of the touch before on a pass; it
  /// saves time and changes nothing else.
  [[nodiscard]] std::optional<Touch> touch(const Vec2& xy, std::int32_t near_triangle = -1) const;
  /// Only its height; kNothingBelow if there is no touch.
  [[nodiscard]] double height(const Vec2& xy, std::int32_t near_triangle = -1) const;
  /// The height over one triangle alone.
  [[nodiscard]] double height_over(std::int32_t triangle, const Vec2& xy, std::int32_t body = 0) const;
  /// The least room of a move over one triangle alone; room is infinite if it is never met.
  [[nodiscard]] Clearance clearance_over(std::int32_t triangle, const Vec3& a, const Vec3& b,
                                         std::int32_t body = 0) const;
  /// The cutter as it meets this triangle: thicker by the allowance, standing so much lower with its own tip.
  [[nodiscard]] const Profile& contact_profile(std::int32_t triangle, std::int32_t body = 0) const {
    return body == 0 ? for_triangle(triangle).profile : this->body(body).contact_profile(triangle);
  }
  [[nodiscard]] double contact_lift(std::int32_t triangle, std::int32_t body = 0) const {
    return body == 0 ? for_triangle(triangle).lift
                     : this->body(body).contact_lift(triangle) - body_above_tip(body);
  }
  /// All triangles that a body enters along the move of the tip, and perhaps some more, in no order.
  [[nodiscard]] std::vector<std::int32_t> triangles_met(const Vec3& a, const Vec3& b,
                                                        std::int32_t body = 0) const;

  /// The least room along the straight move of the tip from a to b, ends included. Rooms above `up_to` may be
  /// told as `up_to` (with no triangle), which saves time: 0 asks just "is it free".
  [[nodiscard]] Clearance clearance(const Vec3& a, const Vec3& b,
                                    double up_to = std::numeric_limits<double>::infinity(),
                                    std::int32_t near_triangle = -1) const;

  /// The same cutter and part with the allowance changed by `by_mm`.
  /// Throws Error if that is an overcut deeper than the cutter allows.
  [[nodiscard]] TipSurface with_more_allowance(double by_mm) const;

  [[nodiscard]] const ContactPart& part() const { return *part_; }
  [[nodiscard]] const std::shared_ptr<const ContactPart>& shared_part() const { return part_; }
  [[nodiscard]] const Profile& cutter() const { return cutter_; }  ///< without the allowance
  [[nodiscard]] double allowance_mm() const { return options_.allowance_mm; }
  /// Left on floors, of every group of triangles.
  [[nodiscard]] std::vector<double> floor_allowances_mm() const {
    std::vector<double> all = options_.group_extra_mm;
    if (all.empty()) all.push_back(0);
    for (double& one : all) one += options_.allowance_mm + options_.floor_extra_mm;
    return all;
  }

 private:
  /// The cutter as it meets the triangles of a group: thicker by the allowance, and so much lower with its
  /// tip.
  struct Thickened {
    Profile profile;
    double lift;
  };
  [[nodiscard]] std::optional<Touch> touch_of_cutter(const Vec2& xy, std::int32_t near_triangle) const;
  [[nodiscard]] Clearance clearance_of_cutter(const Vec3& a, const Vec3& b, double up_to,
                                              std::int32_t near_triangle) const;
  /// No tip stands higher.
  [[nodiscard]] double highest() const;
  [[nodiscard]] const Thickened& for_triangle(std::int32_t triangle) const {
    return thickened_[std::min(part_->group(triangle), thickened_.size() - 1)];
  }

  std::shared_ptr<const ContactPart> part_;
  Profile cutter_;                    // as the tool is
  std::vector<Thickened> thickened_;  // by group; the last one is for all other groups
  detail::BoundProfile bounds_;       // of the thickest one, which bounds the others too
  double bounds_lift_;
  TipSurfaceOptions options_;
  struct Upper;
  std::vector<Upper> uppers_;
};

/// What is above the cutter.
struct TipSurface::Upper {
  TipSurface surface;
  double above_tip, clearance;
};

/// The heights at many places, on all cores; quicker where successive places are near each other.
/// kNothingBelow where there is no touch. The result does not depend on the number of cores.
[[nodiscard]] std::vector<double> heights(const TipSurface& surface, std::span<const Vec2> places,
                                          const Progress& progress = {});

/// The same with the triangle of each touch, for leaps along the lines between places; -1: no touch.
struct HeightAt {
  double z = kNothingBelow;
  std::int32_t triangle = -1;
  std::int32_t body = 0;
};
[[nodiscard]] std::vector<HeightAt> heights_with_triangles(const TipSurface& surface,
                                                           std::span<const Vec2> places,
                                                           const Progress& progress = {});

/// How much room the cutter has in space, in all directions, along the move from a to b: the most it could be
/// thicker all round and still be free of the part, or, negative, minus the gouge depth: the least it must be
/// thinner to be free. Where the cutter would have to vanish, its middle is followed: so much more as that
/// lies inside the part, at its place deepest below the part's upper side. Exact within 1e-9 mm up to there;
/// room above `up_to_mm` is told as `up_to_mm`. The allowance of the surface is left out, and so are bodies
/// above the cutter: this measures from the cutter itself.
[[nodiscard]] double room_around(const TipSurface& surface, const Vec3& a, const Vec3& b, double up_to_mm);

}  // namespace yardpass
