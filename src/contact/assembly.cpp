#include "yardpass/contact/assembly.h"

#include <algorithm>
#include <cmath>

namespace yardpass {

namespace {

/// A cone or cylinder section as a cutter: a flat disc, and a cone above it if it widens.
Profile section_profile(double lower_diameter, double upper_diameter, double length) {
  if (upper_diameter <= lower_diameter) return Profile::flat(lower_diameter);
  const double low = 0.5 * lower_diameter, high = 0.5 * upper_diameter, slope = length / (high - low);
  return Profile::from_pieces({{0, 0, low, 0, 0, 0}, {low, 0, high, length, slope, slope}});
}

}  // namespace

std::vector<ToolSection> sections_above(const Tool& tool) {
  std::vector<ToolSection> sections;
  // Neck and shank stand in the cutter's shadow unless they are wider, or have a clearance of their own.
  const bool neck = tool.neck_diameter_mm > 0 && tool.neck_length_mm > 0;
  if (neck)
    sections.push_back({tool.flute_length_mm, Profile::flat(tool.neck_diameter_mm), ToolPart::neck, 0});
  const double shank_from = tool.flute_length_mm + (neck ? tool.neck_length_mm : 0);
  if (tool.shank_diameter_mm > 0 && tool.stickout_mm > shank_from)
    sections.push_back({shank_from, Profile::flat(tool.shank_diameter_mm), ToolPart::shank, 0});
  double above = tool.stickout_mm;
  int number = 0;
  for (const HolderSection& section : tool.holder) {
    sections.push_back(
        {above, section_profile(section.lower_diameter_mm, section.upper_diameter_mm, section.length_mm),
         ToolPart::holder, number++});
    above += section.length_mm;
  }
  return sections;
}

AssemblyClearance clearance_of(const Tool& tool) {
  return {tool.neck_clearance_mm, tool.shank_clearance_mm, tool.holder_clearance_mm};
}

double clearance_of(const Tool& tool, ToolPart part) {
  switch (part) {
    case ToolPart::neck:
      return tool.neck_clearance_mm;
    case ToolPart::shank:
      return tool.shank_clearance_mm;
    case ToolPart::holder:
      return tool.holder_clearance_mm;
    case ToolPart::cutter:
      break;
  }
  return 0;
}

const char* name_of(ToolPart part) {
  switch (part) {
    case ToolPart::cutter:
      return "cutter";
    case ToolPart::neck:
      return "neck";
    case ToolPart::shank:
      return "shank";
    case ToolPart::holder:
      return "holder";
  }
  return "";
}

AssemblySurface::AssemblySurface(const std::shared_ptr<const ContactPart>& part, const Tool& tool,
                                 const AssemblyClearance& clearance, const TipSurfaceOptions& options) {
  bodies_.push_back({TipSurface(part, profile_of(tool), options), 0, ToolPart::cutter, 0});
  for (const ToolSection& section : sections_above(tool)) {
    TipSurfaceOptions grown;
    grown = {.allowance_mm = section.part == ToolPart::neck    ? clearance.neck_mm
                             : section.part == ToolPart::shank ? clearance.shank_mm
                                                               : clearance.holder_mm};
    bodies_.push_back(
        {TipSurface(part, section.profile, grown), section.above_tip_mm, section.part, section.section});
  }
}

std::optional<AssemblySurface::AssemblyTouch> AssemblySurface::touch(const Vec2& xy) const {
  std::optional<AssemblyTouch> best;
  for (const Body& body : bodies_) {
    auto touch = body.surface.touch(xy);
    if (!touch) continue;
    touch->height -= body.above_tip_mm;
    if (!best || touch->height > best->touch.height) best = AssemblyTouch{*touch, body.part, body.section};
  }
  return best;
}

AssemblySurface::AssemblyRoom AssemblySurface::clearance(const Vec3& a, const Vec3& b, double up_to) const {
  AssemblyRoom best;
  best.clearance.room = up_to;
  for (const Body& body : bodies_) {
    const Vec3 up(0, 0, body.above_tip_mm);
    Clearance room = body.surface.clearance(a + up, b + up, best.clearance.room);
    if (room.triangle < 0 || room.room >= best.clearance.room) continue;
    room.tip -= up;
    best = {room, body.part, body.section};
  }
  return best;
}

double least_stickout(const std::shared_ptr<const ContactPart>& part, const Tool& tool,
                      const std::vector<Vec3>& moves, const AssemblyClearance& clearance) {
  double least = tool.flute_length_mm, above_holder = 0;
  for (const HolderSection& section : tool.holder) {
    const TipSurface surface(
        part, section_profile(section.lower_diameter_mm, section.upper_diameter_mm, section.length_mm),
        {.allowance_mm = clearance.holder_mm});
    // With the section's lower end at the height of the tip, the room tells how much higher it must stand.
    for (std::size_t i = 0; i + 1 < std::max<std::size_t>(moves.size(), 2) && !moves.empty(); ++i) {
      const Vec3 &a = moves[i], &b = moves[std::min(i + 1, moves.size() - 1)];
      const Vec3 up(0, 0, least + above_holder);
      const double room = surface.clearance(a + up, b + up, 0.0).room;
      if (room < 0) least -= room;
    }
    above_holder += section.length_mm;
  }
  return least;
}

}  // namespace yardpass
