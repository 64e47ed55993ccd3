#include <algorithm>
#include <cmath>
#include <numbers>

#include "builder.h"
#include "parts.h"

namespace yardpass::demo {

namespace {

constexpr double kPi = std::numbers::pi;
constexpr double kFlangeZ = -10, kBottomZ = -18, kOuter = 80;
constexpr int kCorners = 400;

/// Points of an arc in the section (radius, Z), from one angle to another in degrees, both ends included.
void add_arc(Polyline2& section, const Vec2& centre, double radius, double from, double to, int steps) {
  for (int i = 0; i <= steps; ++i) {
    const double angle = (from + (to - from) * i / steps) * kPi / 180;
    section.push_back(centre + radius * Vec2(std::cos(angle), std::sin(angle)));
  }
}

/// From the flange up over the bead and down the bore to the bottom, outside first. The bead is an arc of 7
/// mm; its outer side runs into a fillet of 4 mm, its inner side into a bore with 4 degrees of draft.
Polyline2 bead_and_bore() {
  constexpr double bead = 7, fillet = 4;
  const Vec2 crown(52, -bead);
  // The fillet touches the flange from above and the bead from outside.
  const double rise = kFlangeZ + fillet - crown.y(), reach = bead + fillet;
  const Vec2 foot(crown.x() + std::sqrt(reach * reach - rise * rise), kFlangeZ + fillet);
  const double meet = std::atan2(foot.y() - crown.y(), foot.x() - crown.x()) * 180 / kPi;
  Polyline2 section;
  add_arc(section, foot, fillet, 270, 180 + meet, 20);
  Polyline2 over;
  add_arc(over, crown, bead, meet, 176, 60);
  section.insert(section.end(), over.begin() + 1, over.end());
  const Vec2 end = section.back();
  const double draft = std::tan(4 * kPi / 180);
  // Straight along the draft, widening upwards, down to a chamfer of 1 mm.
  const double low = kBottomZ + 1;
  for (int i = 1; i <= 6; ++i) {
    const double z = end.y() + (low - end.y()) * i / 6;
    section.emplace_back(end.x() - (end.y() - z) * draft, z);
  }
  section.emplace_back(section.back().x() + 1, kBottomZ);
  return section;
}

}  // namespace

Mesh porthole_ring() {
  Builder builder;
  const auto revolve = [&](const Polyline2& section) {
    std::vector<std::vector<int>> rings;
    for (const Vec2& p : section) {
      rings.push_back(builder.ring(circle({0, 0}, p.x(), kCorners), p.y()));
      if (rings.size() > 1) builder.band(rings[rings.size() - 2], rings.back());
    }
    return std::pair(rings.front(), rings.back());
  };
  const auto [bead_foot, bore_end] = revolve(bead_and_bore());
  // The edge of the flange: from the bottom up, then a round of 2 mm onto its face.
  Polyline2 edge{{kOuter, kBottomZ}};
  add_arc(edge, {kOuter - 2, kFlangeZ - 2}, 2, 0, 90, 16);
  const auto [edge_low, edge_top] = revolve(edge);
  std::vector<std::vector<int>> above{bead_foot}, below{bore_end};
  for (int i = 0; i < 8; ++i) {
    const double angle = 2 * kPi * (i + 0.5) / 8;
    const Vec2 centre = 70.5 * Vec2(std::cos(angle), std::sin(angle));
    // A clearance hole for a screw of 5 mm, with a countersink of 90 degrees.
    const auto rim = builder.ring(circle(centre, 3.6, 72), kFlangeZ),
               neck = builder.ring(circle(centre, 2.75, 72), kFlangeZ - 0.85),
               end = builder.ring(circle(centre, 2.75, 72), kBottomZ);
    builder.band(rim, neck);
    builder.band(neck, end);
    above.push_back(rim);
    below.push_back(end);
  }
  builder.face(edge_top, above);
  builder.face_below(edge_low, below);
  return builder.mesh;
}

std::vector<Curve> porthole_ring_drawing() {
  std::vector<Curve> drawing;
  const auto add = [&](const char* name, const char* layer, const char* colour, const Vec2& centre,
                       double radius) {
    Curve curve{{}, true, name, layer, colour};
    for (const Vec2& p : circle(centre, radius, 180)) curve.points.emplace_back(p.x(), p.y(), kFlangeZ);
    drawing.push_back(std::move(curve));
  };
  add("rim", "outline", "#22272e", {0, 0}, kOuter);
  add("outer", "gasket", "#d55e00", {0, 0}, 76.5);
  add("inner", "gasket", "#d55e00", {0, 0}, 64);
  return drawing;
}

}  // namespace yardpass::demo
