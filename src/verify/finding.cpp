#include "yardpass/verify/finding.h"

#include <array>

namespace yardpass {

namespace {

struct Names {
  FindingKind kind;
  const char *id, *words;
};
constexpr std::array<Names, 16> kNames{{
    {FindingKind::gouge, "gouge", "gouge"},
    {FindingKind::rapid_into_part, "rapid-into-part", "rapid into the part"},
    {FindingKind::rapid_through_stock, "rapid-through-stock", "rapid through stock"},
    {FindingKind::shank_into_part, "shank-into-part", "shank into the part"},
    {FindingKind::holder_into_part, "holder-into-part", "holder into the part"},
    {FindingKind::shank_into_stock, "shank-into-stock", "shank into stock"},
    {FindingKind::holder_into_stock, "holder-into-stock", "holder into stock"},
    {FindingKind::deeper_than_flutes, "deeper-than-flutes", "cut deeper than the flutes"},
    {FindingKind::too_near, "too-near", "too near what is kept away from"},
    {FindingKind::in_keep_out, "in-keep-out", "at feed over an area that is kept out of"},
    {FindingKind::outside_travel, "outside-travel", "outside the machine's travel"},
    {FindingKind::plunge_too_steep, "plunge-too-steep", "steeper into material than the tool takes"},
    {FindingKind::plunge_too_fast, "plunge-too-fast", "faster down into material than the plunge feed"},
    {FindingKind::too_thick, "too-thick", "more material in its way than the tool's limit"},
    {FindingKind::too_engaged, "too-engaged", "more of the cutter in material than its limit"},
    {FindingKind::undercut_cutter, "undercut-cutter", "undercut cutter, not proved"},
}};

const Names& names_of(FindingKind kind) {
  for (const Names& names : kNames)
    if (names.kind == kind) return names;
  return kNames[0];
}

}  // namespace

const std::vector<FindingKind>& all_finding_kinds() {
  static const std::vector<FindingKind> kinds = [] {
    std::vector<FindingKind> all;
    for (const Names& names : kNames) all.push_back(names.kind);
    return all;
  }();
  return kinds;
}

bool can_be_accepted(FindingKind kind) { return kind != FindingKind::undercut_cutter && !is_an_angle(kind); }

bool is_an_angle(FindingKind kind) { return kind == FindingKind::too_engaged; }

const char* name_of(FindingKind kind) { return names_of(kind).words; }

const char* id_of(FindingKind kind) { return names_of(kind).id; }

}  // namespace yardpass
