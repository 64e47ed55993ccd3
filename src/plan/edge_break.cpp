#include "yardpass/plan/edge_break.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "yardpass/geom/error.h"

namespace yardpass {

namespace {

constexpr double kPi = std::numbers::pi;

double angle_between(const Vec3& a, const Vec3& b) { return std::atan2(a.cross(b).norm(), a.dot(b)); }

/// Of the width by which the legs are as they are.
EdgeFlat with_width(const EdgeSection& section, const Vec3& normal, double size_mm, BreakSize by) {
  const double one = angle_between(section.one, normal), other = angle_between(normal, section.other),
               material = std::sin(section.material_rad());
  const double width = by == BreakSize::across     ? size_mm
                       : by == BreakSize::down_one ? size_mm * material / std::sin(other)
                                                   : size_mm * material / std::sin(one);
  return {normal, width, width * std::sin(other) / material, width * std::sin(one) / material,
          width * std::sin(one) * std::sin(other) / material};
}

/// Radius of a ball's place about the middle of a rounding, in the section: from one normal to the other.
Vec3 turned_to(const EdgeSection& section, double share) {
  const double all = kPi - section.material_rad();
  // On the great circle from the one normal to the other.
  return (std::sin((1 - share) * all) * section.one + std::sin(share * all) * section.other) / std::sin(all);
}

}  // namespace

Vec3 EdgeFlat::middle(const EdgeSection& section) const {
  return section.at + 0.5 * (leg_one_mm * section.into_one() + leg_other_mm * section.into_other());
}

EdgeFlat even_flat(const EdgeSection& section, double size_mm, BreakSize by) {
  require(size_mm > 0, "size_mm", "must be above 0");
  return with_width(section, (section.one + section.other).normalized(), size_mm, by);
}

std::optional<EdgeFlat> flat_of(const EdgeSection& section, const Vec3& normal, double size_mm, BreakSize by,
                                double least_deg) {
  require(size_mm > 0, "size_mm", "must be above 0");
  const double least = least_deg * kPi / 180, one = angle_between(section.one, normal),
               other = angle_between(normal, section.other), all = kPi - section.material_rad();
  if (one < least || other < least || std::abs(one + other - all) > 1e-6) return std::nullopt;
  return with_width(section, normal, size_mm, by);
}

double ball_hollow_mm(const EdgeFlat& flat, double radius_mm) {
  const double half = 0.5 * flat.width_mm;
  return radius_mm - std::sqrt(std::max(0.0, radius_mm * radius_mm - half * half));
}

std::optional<Vec3> ball_tip(const EdgeSection& section, const EdgeFlat& flat, double radius_mm) {
  if (!(0.5 * flat.width_mm < radius_mm)) return std::nullopt;
  const Vec3 centre = flat.middle(section) + flat.normal * (radius_mm - ball_hollow_mm(flat, radius_mm));
  // It must touch with its lower half all the way from leg to leg.
  for (const Vec3& end : {Vec3(section.at + flat.leg_one_mm * section.into_one()),
                          Vec3(section.at + flat.leg_other_mm * section.into_other())})
    if (end.z() > centre.z()) return std::nullopt;
  return centre - Vec3(0, 0, radius_mm);
}

std::optional<ConeBreak> chamfer_break(const EdgeSection& section, const Tool& chamfer, double size_mm,
                                       BreakSize by, double margin_mm, double least_deg) {
  const double half = chamfer.taper_angle_deg * kPi / 180, slope = section.along.z(),
               level = std::sqrt(std::max(0.0, 1 - slope * slope));
  if (!(level > 1e-9) || std::sin(half) > level * (1 - 1e-9)) return std::nullopt;
  const Vec3 up = (Vec3(0, 0, 1) - slope * section.along) / level;
  Vec3 side = section.along.cross(up);
  if (side.dot(section.one + section.other) < 0) side = -side;
  const double leans = std::asin(std::sin(half) / level);
  const Vec3 normal = std::sin(leans) * up + std::cos(leans) * side;
  const auto flat = flat_of(section, normal, size_mm, by, least_deg);
  if (!flat) return std::nullopt;
  // Up the flank it goes inwards over the part; a piece of the flat is as high on it as it is in the section,
  // but for what the slope of the edge adds.
  const Vec3 outward = with_z(plan(normal), 0).normalized(),
             flank = (std::cos(half) * Vec3(0, 0, 1) - std::sin(half) * outward).normalized();
  const Vec3 across = section.along.cross(normal).normalized();
  // Along the flank so far as along the section, the rest being run along the edge.
  const double high = 0.5 * flat->width_mm * std::cos(half) / std::abs(flank.dot(across));
  const Profile profile = profile_of(completed(chamfer));
  const double least_radius = 0.5 * chamfer.tip_diameter_mm, most = profile.height(profile.radius());
  ConeBreak result{*flat, Vec3::Zero(), margin_mm, margin_mm + 2 * high};
  if (result.flank_to_mm > most) return std::nullopt;
  const double middle = margin_mm + high, radius = least_radius + middle * std::tan(half);
  result.tip = flat->middle(section) + radius * outward - Vec3(0, 0, middle);
  return result;
}

double rounded_leg_mm(const EdgeSection& section, double radius_mm) {
  return radius_mm / std::tan(0.5 * section.material_rad());
}

std::optional<std::vector<Vec3>> rounded_tips(const EdgeSection& section, double radius_mm,
                                              double ball_radius_mm, int passes) {
  require(radius_mm > 0, "radius_mm", "must be above 0");
  require(passes >= 2, "passes", "must be at least 2");
  const Vec3 middle =
      section.at + rounded_leg_mm(section, radius_mm) * section.into_one() - radius_mm * section.one;
  std::vector<Vec3> tips;
  for (int k = 0; k < passes; ++k) {
    const Vec3 out = turned_to(section, static_cast<double>(k) / (passes - 1));
    if (out.z() < -1e-9) return std::nullopt;
    tips.emplace_back(middle + (radius_mm + ball_radius_mm) * out - Vec3(0, 0, ball_radius_mm));
  }
  return tips;
}

double rounded_ridge_mm(const EdgeSection& section, double radius_mm, double ball_radius_mm, int passes) {
  require(passes >= 2, "passes", "must be at least 2");
  const double half = 0.5 * (kPi - section.material_rad()) / (passes - 1), far = radius_mm + ball_radius_mm;
  const double under = ball_radius_mm * ball_radius_mm - far * far * std::sin(half) * std::sin(half);
  // Balls that do not meet leave the edge as it was.
  if (under <= 0) return radius_mm / std::sin(0.5 * section.material_rad()) - radius_mm;
  return std::min(far * std::cos(half) - std::sqrt(under) - radius_mm,
                  radius_mm / std::sin(0.5 * section.material_rad()) - radius_mm);
}

}  // namespace yardpass
