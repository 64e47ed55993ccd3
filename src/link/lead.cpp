#include "yardpass/link/lead.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "link/directions.h"

namespace yardpass {

namespace {

constexpr double kDegree = std::numbers::pi / 180;

/// The direction in which the lead swings away from the cut: of length 1, square to it.
std::optional<Vec3> swing(const Lead& lead, const LeadPlace& place) {
  constexpr double kSquare = 0.05;  // less than 3 degrees off the cut is no plane
  Vec3 away = lead.plane == LeadPlane::upright ? Vec3(0, 0, 1) : place.normal;
  Vec3 along = place.along;
  if (lead.plane == LeadPlane::level) {
    away.z() = 0;
    along.z() = 0;
    if (along.norm() < kSquare || away.norm() < kSquare) return std::nullopt;
    along.normalize();
  }
  away -= away.dot(along) * along;
  if (away.norm() < kSquare) return std::nullopt;
  return away.normalized();
}

Polyline3 arc_into(const Lead& lead, const LeadPlace& place, const Vec3& along, const Vec3& away, double size,
                   double tolerance) {
  const double radius = size * lead.radius_mm, sweep = lead.sweep_deg * kDegree;
  // At least every 8 degrees: what looks round runs round.
  const double by_tolerance = 2 * std::acos(std::max(0.0, 1 - tolerance / radius));
  const double step = std::clamp(by_tolerance, 0.01, 8 * kDegree);
  const int count = std::max(2, static_cast<int>(std::ceil(sweep / step)));
  Polyline3 line;
  for (int k = count; k > 0; --k) {
    const double angle = sweep * k / count;
    line.push_back(place.at + radius * (1 - std::cos(angle)) * away - radius * std::sin(angle) * along);
  }
  line.push_back(place.at);
  return line;
}

}  // namespace

std::optional<Polyline3> lead_line(const Lead& lead, const LeadPlace& place, double size,
                                   double tolerance_mm) {
  if (lead.shape == LeadShape::none || lead.shape == LeadShape::ramp) return std::nullopt;
  const std::optional<Vec3> away = swing(lead, place);
  if (!away) return std::nullopt;
  Vec3 along = place.along;
  if (lead.plane == LeadPlane::level) along = Vec3(along.x(), along.y(), 0).normalized();
  if (lead.shape == LeadShape::arc) return arc_into(lead, place, along, *away, size, tolerance_mm);
  const double angle = lead.angle_deg * kDegree;
  return Polyline3{place.at + size * lead.length_mm * (std::sin(angle) * *away - std::cos(angle) * along),
                   place.at};
}

LeadPlace lead_place(const TipSurface& surface, const Polyline3& line) {
  LeadPlace place{line.front(), detail::start_direction(line), Vec3(0, 0, 1)};
  constexpr double kTouching = 0.1;  // mm: higher above the surface it stands free
  if (const std::optional<Touch> touch = surface.touch(plan(place.at));
      touch && place.at.z() < touch->height + kTouching)
    place.normal = touch->normal;
  return place;
}

}  // namespace yardpass
