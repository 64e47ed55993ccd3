#include "yardpass/contact/tip_surface.h"

#include <cmath>

#include "contact/triangle_tree.h"
#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

// Bounds are widened by this, far above their rounding and far below any length that matters.
constexpr double kSlack = 1e-8;

detail::Corners corners_of(const Mesh& mesh, std::int32_t triangle) {
  const auto t = static_cast<std::size_t>(triangle);
  return {{mesh.corner(t, 0), mesh.corner(t, 1), mesh.corner(t, 2)}};
}

Resized thicker(const Profile& cutter, double by) {
  if (by < 0 && -by > smallest_corner(cutter) * (1 - 1e-12))
    throw Error("an overcut of " + std::to_string(-by) +
                " mm is deeper than the cutter's smallest corner radius, " +
                std::to_string(smallest_corner(cutter)) + " mm");
  return *resized(cutter, by);
}

double distance_in_plan(const Box3& box, const Vec2& p) {
  const double dx = std::max({box.min().x() - p.x(), 0.0, p.x() - box.max().x()});
  const double dy = std::max({box.min().y() - p.y(), 0.0, p.y() - box.max().y()});
  return std::sqrt(dx * dx + dy * dy);
}

/// The share of the move during which its axis is within `reach` of the box along each of X and Y.
bool clip_to_box(const Vec3& a, const Vec3& b, const Box3& box, double reach, double& from, double& to) {
  from = 0, to = 1;
  for (int k = 0; k < 2; ++k) {
    const double low = box.min()[k] - reach, high = box.max()[k] + reach, step = b[k] - a[k];
    if (std::abs(step) < 1e-12) {
      if (std::max(a[k], b[k]) < low || std::min(a[k], b[k]) > high) return false;
      continue;
    }
    double t0 = (low - a[k]) / step, t1 = (high - a[k]) / step;
    if (t0 > t1) std::swap(t0, t1);
    from = std::max(from, t0);
    to = std::min(to, t1);
  }
  return from <= to;
}

}  // namespace

TipSurface::TipSurface(std::shared_ptr<const ContactPart> part, const Profile& cutter,
                       const TipSurfaceOptions& options)
    : part_(std::move(part)), cutter_(cutter), contact_(cutter), lift_(0), options_(options) {
  const Resized grown = thicker(cutter, options.allowance_mm);
  contact_ = grown.profile;
  lift_ = -grown.tip_z_mm;
}

TipSurface TipSurface::with_more_allowance(double by_mm) const {
  TipSurfaceOptions options = options_;
  options.allowance_mm += by_mm;
  return {part_, cutter_, options};
}

std::optional<Touch> TipSurface::touch(const Vec2& xy) const {
  detail::TriangleTouch best;
  std::int32_t best_triangle = -1;
  const Mesh& mesh = part_->mesh();
  const auto visit = [&](std::int32_t i) {
    const detail::TriangleTouch touch = detail::touch_triangle(contact_, xy, corners_of(mesh, i));
    if (touch.height < best.height || touch.height == kNothingBelow) return;
    if (touch.height == best.height && i > best_triangle)
      return;  // of equals the first triangle, in any order
    best = touch;
    best_triangle = i;
  };
  const double radius = contact_.radius();
  if (options_.brute_force) {
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) visit(static_cast<std::int32_t>(i));
  } else {
    part_->tree().walk(
        [&](const Box3& box) {
          const double far = distance_in_plan(box, xy);
          if (far > radius + kSlack) return kNothingBelow;
          return box.max().z() - contact_.height(std::max(0.0, far - kSlack)) + kSlack;
        },
        [&](double value) { return value >= best.height && value != kNothingBelow; }, visit);
  }
  if (best_triangle < 0) return std::nullopt;
  Touch result;
  result.height = best.height + lift_;
  result.point = best.point;
  result.feature = best.feature;
  result.triangle = best_triangle;
  // The cutter's own normal where it touches, turned round; on a sharp rim the one of its bottom.
  const Vec2 out = plan(best.point) - xy;
  const double r = std::min(out.norm(), radius);
  double slope = 0;
  for (const auto& piece : contact_.pieces()) {
    if (r < piece.r0) break;
    const double u = std::clamp((r - piece.centre_r) / (piece.arc > 0 ? piece.arc : 1), 0.0, 1.0);
    slope = piece.arc > 0 ? (u < 1 ? u / std::sqrt((1 - u) * (1 + u)) : 1e16) : piece.slope0;
  }
  const double length = std::sqrt(1 + slope * slope);
  const Vec2 side = r > 0 ? Vec2(out * (-slope / (length * r))) : Vec2(0, 0);
  result.normal = Vec3(side.x(), side.y(), 1 / length).normalized();
  return result;
}

double TipSurface::height(const Vec2& xy) const {
  const auto found = touch(xy);
  return found ? found->height : kNothingBelow;
}

double TipSurface::height_over(std::int32_t triangle, const Vec2& xy) const {
  return detail::touch_triangle(contact_, xy, corners_of(part_->mesh(), triangle)).height + lift_;
}

Clearance TipSurface::clearance(const Vec3& tip_a, const Vec3& tip_b, double up_to) const {
  // From here on the thicker cutter at its own tip.
  const Vec3 a(tip_a.x(), tip_a.y(), tip_a.z() - lift_), b(tip_b.x(), tip_b.y(), tip_b.z() - lift_);
  detail::MoveRoom best;
  best.room = up_to;
  std::int32_t best_triangle = -1;
  const Mesh& mesh = part_->mesh();
  const auto visit = [&](std::int32_t i) {
    const detail::MoveRoom room = detail::room_over_triangle(contact_, a, b, corners_of(mesh, i));
    if (room.room > best.room || (room.room == best.room && i > best_triangle)) return;
    best = room;
    best_triangle = i;
  };
  if (options_.brute_force) {
    for (std::size_t i = 0; i < mesh.triangles.size(); ++i) visit(static_cast<std::int32_t>(i));
  } else {
    const double reach = contact_.radius() + kSlack;
    part_->tree().walk(
        [&](const Box3& box) {
          double from, to;
          if (!clip_to_box(a, b, box, reach, from, to)) return kNothingBelow;
          const double low = std::min(a.z() + from * (b.z() - a.z()), a.z() + to * (b.z() - a.z()));
          const Vec2 near = plan(a) + (plan(b) - plan(a)) * (0.5 * (from + to));
          const double half = 0.5 * (to - from) * (plan(b) - plan(a)).norm();
          const double far = std::max(0.0, distance_in_plan(box, near) - half - kSlack);
          if (far > reach) return kNothingBelow;
          return box.max().z() - low - contact_.height(far) + kSlack;  // minus the room
        },
        [&](double value) { return -value <= best.room && value != kNothingBelow; }, visit);
  }
  Clearance result;
  result.room = best.room;
  result.share = best.share;
  result.tip = best_triangle >= 0 ? Vec3(tip_a + best.share * (tip_b - tip_a)) : tip_a;
  result.triangle = best_triangle;
  return result;
}

}  // namespace yardpass
