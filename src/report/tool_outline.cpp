#include "report/tool_outline.h"

#include <algorithm>
#include <cmath>

namespace yardpass::detail {

namespace {

ToolPart cutter_of(const Tool& tool) {
  constexpr int kPieces = 32;
  const Profile profile = profile_of(tool);
  ToolPart cutter{"cutter", {{0, 0}}};
  for (const Profile::Piece& piece : profile.pieces()) {
    const int steps = piece.arc > 0 ? kPieces : 1;
    for (int k = 1; k <= steps; ++k) {
      // Places crowd where it is steep.
      const double share = piece.arc > 0 ? std::sin(0.5 * M_PI * k / steps) : 1;
      const double r = piece.r0 + share * (piece.r1 - piece.r0);
      cutter.outline.emplace_back(r, profile.height(r));
    }
  }
  const double top = std::max(tool.flute_length_mm, cutter.outline.back().y());
  cutter.outline.emplace_back(profile.radius(), top);
  cutter.outline.emplace_back(0, top);
  return cutter;
}

}  // namespace

std::vector<ToolPart> tool_outline(const Tool& tool) {
  std::vector<ToolPart> parts{cutter_of(tool)};
  double z = parts[0].outline.back().y();
  const auto add = [&](const char* name, double low_radius, double high_radius, double to) {
    if (to <= z || high_radius <= 0) return;
    parts.push_back({name, {{0, z}, {low_radius, z}, {high_radius, to}, {0, to}}});
    z = to;
  };
  const double neck = 0.5 * tool.neck_diameter_mm, shank = 0.5 * tool.shank_diameter_mm;
  if (neck > 0) add("neck", neck, neck, z + tool.neck_length_mm);
  add("shank", shank, shank, tool.stickout_mm);
  z = std::max(z, tool.stickout_mm);
  for (const HolderSection& section : tool.holder)
    add("holder", section.lower_diameter_mm / 2, section.upper_diameter_mm / 2, z + section.length_mm);
  return parts;
}

}  // namespace yardpass::detail
