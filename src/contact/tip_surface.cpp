#include "yardpass/contact/tip_surface.h"

#include <cmath>

#include "contact/best_touch.h"
#include "contact/triangle_tree.h"
#include "geom/parallel_for.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

constexpr float kNothing = -std::numeric_limits<float>::infinity();

Resized thicker(const Profile& cutter, double by) {
  if (by < 0 && -by > smallest_corner(cutter) * (1 - 1e-12))
    throw Error("an overcut of " + std::to_string(-by) +
                " mm is deeper than the cutter's smallest corner radius, " +
                std::to_string(smallest_corner(cutter)) + " mm");
  // The rim of a taper's cone is sharp; what goes beyond it is out of reach of what is shrunk.
  return *resized(by < 0 ? with_longer_cone(cutter, -2 * by) : cutter, by);
}

}  // namespace

TipSurface::TipSurface(std::shared_ptr<const ContactPart> part, const Profile& cutter,
                       const TipSurfaceOptions& options)
    : part_(std::move(part)), cutter_(cutter), bounds_(), bounds_lift_(0), options_(options) {
  if (options.wall_extra_mm < 0 || options.floor_extra_mm < 0 ||
      (options.wall_extra_mm > 0 && options.floor_extra_mm > 0))
    throw Error("extra allowances on walls and floors must be at least 0, and only one of them above 0");
  std::vector<double> extras = options.group_extra_mm;
  extras.push_back(0);
  std::size_t thickest = 0;
  for (std::size_t k = 0; k < extras.size(); ++k) {
    if (extras[k] < 0) throw Error("the extra allowance of a group must be at least 0");
    const Resized grown = thicker(cutter, options.allowance_mm + extras[k]);
    thickened_.push_back(
        {widened(grown.profile, options.wall_extra_mm), -grown.tip_z_mm + options.floor_extra_mm});
    if (extras[k] > extras[thickest]) thickest = k;
  }
  bounds_ = detail::bound_profile(thickened_[thickest].profile);
  bounds_lift_ = thickened_[thickest].lift;
}

TipSurface TipSurface::with_more_allowance(double by_mm) const {
  TipSurfaceOptions options = options_;
  options.allowance_mm += by_mm;
  TipSurface result(part_, cutter_, options);
  for (const Upper& upper : uppers_)
    result = result.with_body(upper.surface.cutter_, upper.above_tip, upper.clearance);
  return result;
}

TipSurface TipSurface::with_body(const Profile& profile, double above_tip_mm, double clearance_mm) const {
  require(above_tip_mm >= 0, "above_tip_mm", "must be at least 0");
  require(clearance_mm >= 0, "clearance_mm", "must be at least 0");
  // Overcuts and allowances by slope are the cutter's; what is above it keeps at least its clearance.
  TipSurfaceOptions options;
  options.allowance_mm = std::max(0.0, options_.allowance_mm) + clearance_mm;
  options.group_extra_mm = options_.group_extra_mm;
  options.brute_force = options_.brute_force;
  TipSurface result = *this;
  // It goes up as wide as it is, and so does the cutter: what begins within the cutter is never met first.
  const double reach = profile.radius() + options.allowance_mm;
  const bool in_shadow = reach <= cutter_.radius() + std::min(0.0, options_.allowance_mm) &&
                         cutter_.height(reach) + options.allowance_mm <= above_tip_mm;
  if (!in_shadow) result.uppers_.push_back({TipSurface(part_, profile, options), above_tip_mm, clearance_mm});
  return result;
}

std::int32_t TipSurface::bodies() const { return 1 + static_cast<std::int32_t>(uppers_.size()); }

const TipSurface& TipSurface::body(std::int32_t number) const {
  return number == 0 ? *this : uppers_[static_cast<std::size_t>(number) - 1].surface;
}

double TipSurface::body_above_tip(std::int32_t number) const {
  return number == 0 ? 0 : uppers_[static_cast<std::size_t>(number) - 1].above_tip;
}

std::optional<Touch> TipSurface::touch_of_cutter(const Vec2& xy, std::int32_t near_triangle) const {
  detail::BestTouch best(*this, xy);
  const Mesh& mesh = part_->mesh();
  if (options_.brute_force) {
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) best.offer(static_cast<std::int32_t>(i));
  } else {
    const detail::TriangleTree& tree = part_->tree();
    const Vec3 place = with_z(xy, tree.origin().z() - bounds_lift_);
    const auto floor = [&] { return detail::limit_for_bounds(best.best().height - tree.origin().z()); };
    float wanted = kNothing;
    if (near_triangle >= 0) best.offer(near_triangle), wanted = floor();
    const auto improve = [&](std::int32_t i) { best.offer(i), wanted = floor(); };
    tree.search(bound_query(bounds_, tree.origin(), place, place), wanted, improve,
                [&](std::int32_t i) { detail::fetch(mesh, i); });
  }
  if (best.triangle() < 0) return std::nullopt;
  Touch result;
  result.height = best.best().height;
  result.point = best.best().point;
  result.feature = best.best().feature;
  result.triangle = best.triangle();
  // The cutter's own normal where it touches, turned round; on a sharp rim the one of its bottom.
  const Vec2 out = plan(result.point) - xy;
  const Profile& contact = for_triangle(result.triangle).profile;
  const double r = std::min(out.norm(), contact.radius());
  const double slope = contact.slope(r);
  const double length = std::sqrt(1 + slope * slope);
  const Vec2 side = r > 0 ? Vec2(out * (-slope / (length * r))) : Vec2(0, 0);
  result.normal = Vec3(side.x(), side.y(), 1 / length).normalized();
  return result;
}

std::optional<Touch> TipSurface::touch(const Vec2& xy, std::int32_t near_triangle) const {
  std::optional<Touch> best = touch_of_cutter(xy, near_triangle);
  if (!best) return best;
  for (std::size_t k = 0; k < uppers_.size(); ++k) {
    const Upper& upper = uppers_[k];
    // Nothing of the part reaches so high.
    if (best->height + upper.above_tip > upper.surface.highest()) continue;
    std::optional<Touch> other = upper.surface.touch(xy);
    if (!other || other->height - upper.above_tip <= best->height) continue;
    best = other;
    best->height -= upper.above_tip;
    best->body = static_cast<std::int32_t>(k) + 1;
  }
  return best;
}

double TipSurface::highest() const {
  double lift = 0;
  for (const Thickened& cutter : thickened_) lift = std::max(lift, cutter.lift);
  return part_->box().max().z() + lift;
}

double TipSurface::height(const Vec2& xy, std::int32_t near_triangle) const {
  const auto found = touch(xy, near_triangle);
  return found ? found->height : kNothingBelow;
}

double TipSurface::height_over(std::int32_t triangle, const Vec2& xy, std::int32_t body) const {
  if (body > 0) return this->body(body).height_over(triangle, xy) - body_above_tip(body);
  const Thickened& cutter = for_triangle(triangle);
  return detail::touch_triangle(cutter.profile, xy, detail::corners_of(part_->mesh(), triangle)).height +
         cutter.lift;
}

Clearance TipSurface::clearance_over(std::int32_t triangle, const Vec3& a, const Vec3& b,
                                     std::int32_t body) const {
  if (body > 0) {
    const Vec3 up(0, 0, body_above_tip(body));
    Clearance result = this->body(body).clearance_over(triangle, a + up, b + up);
    result.tip -= up;
    result.body = body;
    return result;
  }
  const Thickened& cutter = for_triangle(triangle);
  const Vec3 down(0, 0, cutter.lift);
  const auto room = detail::room_over_triangle(cutter.profile, a - down, b - down,
                                               detail::corners_of(part_->mesh(), triangle));
  return {room.room, room.share, a + room.share * (b - a), triangle};
}

std::vector<std::int32_t> TipSurface::triangles_met(const Vec3& a, const Vec3& b, std::int32_t body) const {
  if (body > 0) {
    const Vec3 up(0, 0, body_above_tip(body));
    return this->body(body).triangles_met(a + up, b + up);
  }
  std::vector<std::int32_t> met;
  const auto take = [&](std::int32_t i) { met.push_back(i); };
  if (options_.brute_force) {
    for (std::size_t i = 0; i < part_->mesh().triangles.size(); ++i) take(static_cast<std::int32_t>(i));
  } else {
    const Vec3 down(0, 0, bounds_lift_);
    part_->tree().search(bound_query(bounds_, part_->tree().origin(), a - down, b - down), -1e-6f, take);
  }
  return met;
}

Clearance TipSurface::clearance_of_cutter(const Vec3& a, const Vec3& b, double up_to,
                                          std::int32_t near_triangle) const {
  detail::MoveRoom best;
  best.room = up_to;
  std::int32_t best_triangle = -1;
  const Mesh& mesh = part_->mesh();
  const auto visit = [&](std::int32_t i) {
    const Thickened& cutter = for_triangle(i);
    const Vec3 down(0, 0, cutter.lift);
    const detail::Corners corners = detail::corners_of(mesh, i);
    const double least = detail::least_room(a - down, b - down, corners);
    if (least > best.room || (least == best.room && i > best_triangle)) return;
    const detail::MoveRoom room = detail::room_over_triangle(cutter.profile, a - down, b - down, corners);
    if (room.room > best.room || (room.room == best.room && i > best_triangle)) return;
    best = room;
    best_triangle = i;
  };
  if (options_.brute_force) {
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) visit(static_cast<std::int32_t>(i));
  } else {
    const detail::TriangleTree& tree = part_->tree();
    const auto deepest = [&] { return detail::limit_for_bounds(-best.room); };
    if (near_triangle >= 0) visit(near_triangle);
    const Vec3 down(0, 0, bounds_lift_);
    float wanted = deepest();
    tree.search(bound_query(bounds_, tree.origin(), a - down, b - down), wanted, [&](std::int32_t i) {
      visit(i);
      wanted = deepest();
    });
  }
  Clearance result;
  result.room = best.room;
  result.share = best.share;
  result.tip = best_triangle >= 0 ? Vec3(a + best.share * (b - a)) : a;
  result.triangle = best_triangle;
  return result;
}

Clearance TipSurface::clearance(const Vec3& a, const Vec3& b, double up_to,
                                std::int32_t near_triangle) const {
  Clearance least = clearance_of_cutter(a, b, up_to, near_triangle);
  for (std::size_t k = 0; k < uppers_.size(); ++k) {
    const Upper& upper = uppers_[k];
    const Vec3 up(0, 0, upper.above_tip);
    if (std::min(a.z(), b.z()) + upper.above_tip - upper.surface.highest() > std::min(least.room, up_to))
      continue;
    Clearance other = upper.surface.clearance(a + up, b + up, least.room);
    if (other.triangle < 0 || other.room >= least.room) continue;
    least = other;
    least.tip -= up;
    least.body = static_cast<std::int32_t>(k) + 1;
  }
  return least;
}

std::vector<HeightAt> heights_with_triangles(const TipSurface& surface, std::span<const Vec2> places,
                                             const Progress& progress) {
  constexpr std::size_t kTogether = 512;
  std::vector<HeightAt> result(places.size());
  detail::parallel_for((places.size() + kTogether - 1) / kTogether, progress, [&](std::size_t chunk) {
    std::int32_t near = -1;
    for (std::size_t i = chunk * kTogether; i < std::min((chunk + 1) * kTogether, places.size()); ++i) {
      const auto touch = surface.touch(places[i], near);
      if (!touch) continue;
      if (touch->body == 0) near = touch->triangle;
      result[i] = {touch->height, touch->triangle, touch->body};
    }
  });
  return result;
}

std::vector<double> heights(const TipSurface& surface, std::span<const Vec2> places,
                            const Progress& progress) {
  std::vector<double> result;
  result.reserve(places.size());
  for (const HeightAt& height : heights_with_triangles(surface, places, progress)) result.push_back(height.z);
  return result;
}

}  // namespace yardpass
