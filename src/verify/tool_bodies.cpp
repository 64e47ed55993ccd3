#include "verify/tool_bodies.h"

#include <algorithm>

#include "yardpass/contact/assembly.h"

namespace yardpass::detail {

namespace {

/// A profile thinner all round by the limit, and how much higher its tip then stands.
Resized thinner(const Profile& profile, double limit) {
  if (auto result = resized(profile, -limit)) return *result;
  return {profile, 0};
}

}  // namespace

Bodies::Bodies(const std::vector<Tool>& tools, double limit, double cell)
    : limit_(limit), count_(tools.size()) {
  cutters_.resize(3 * count_, Profile::needle());
  for (std::size_t k = 0; k < count_; ++k) {
    const Profile profile = profile_of(tools[k]);
    const Resized rapid = thinner(profile, limit);
    cutters_[index(k, Use::cut)] = cutters_[index(k, Use::plunge)] = profile;
    cutters_[index(k, Use::rapid)] = rapid.profile;
    rapid_lift_.push_back(rapid.tip_z_mm);
  }
  for (std::size_t k = 0; k < count_; ++k) add_bodies(tools[k], k, cell);
}

void Bodies::add_bodies(const Tool& tool, std::size_t k, double cell) {
  const double radius = cutters_[k].radius();
  if (tool.flute_length_mm > 0)
    add(k, Profile::flat(2 * radius), tool.flute_length_mm, {Use::cut, Use::plunge},
        {FindingKind::deeper_than_flutes, limit_});
  for (const ToolSection& section : sections_above(tool)) {
    // What stands in the cutter's shadow meets nothing that the flutes do not.
    if (section.profile.radius() <= radius + limit_) continue;
    const bool holder = section.part == ToolPart::holder;
    add(k, section.profile, section.above_tip_mm, {Use::cut, Use::plunge, Use::rapid},
        {holder ? FindingKind::holder_into_stock : FindingKind::shank_into_stock, limit_});
    if (holder)
      add(k, section.profile, section.above_tip_mm - tool.stickout_mm + tool.flute_length_mm,
          {Use::cut, Use::plunge, Use::rapid}, {FindingKind::holder_into_stock, 0, tool.flute_length_mm});
  }
  // Material that reaches deeper into the cutter than the limit meets what is left of it, thinner by that.
  if (const auto core =
          tool.thickest_cut_mm > 0 ? resized(cutters_[k], -tool.thickest_cut_mm - limit_) : std::nullopt)
    for (const Use use : {Use::cut, Use::plunge}) {
      tested_.push_back({static_cast<std::int32_t>(index(k, use)), core->profile, core->tip_z_mm, true});
      meaning_.push_back({FindingKind::too_thick, 0});
    }
  // The middle of the tool, where a cutter that must not plunge has no teeth: wide enough for a cell.
  const double core = std::max(0.1 * radius, 0.75 * cell), above = tool.plunge_through_mm;
  tested_.push_back({static_cast<std::int32_t>(index(k, Use::plunge)), Profile::flat(2 * core), above, true});
  meaning_.push_back({FindingKind::plunge_too_steep, above});
}
void Bodies::add(std::size_t tool, const Profile& profile, double above_tip, std::initializer_list<Use> uses,
                 const Meaning& meaning) {
  const Resized thin = thinner(profile, limit_);
  for (const Use use : uses) {
    const double lift = above_tip + thin.tip_z_mm - (use == Use::rapid ? rapid_lift_[tool] : 0);
    tested_.push_back({static_cast<std::int32_t>(index(tool, use)), thin.profile, lift, true});
    meaning_.push_back(meaning);
  }
}

}  // namespace yardpass::detail
