#include "yardpass/verify/finding.h"

namespace yardpass {

const std::vector<FindingKind>& all_finding_kinds() {
  static const std::vector<FindingKind> kinds{FindingKind::gouge,
                                              FindingKind::rapid_into_part,
                                              FindingKind::rapid_through_stock,
                                              FindingKind::shank_into_part,
                                              FindingKind::holder_into_part,
                                              FindingKind::shank_into_stock,
                                              FindingKind::holder_into_stock,
                                              FindingKind::deeper_than_flutes,
                                              FindingKind::guard_too_near,
                                              FindingKind::outside_travel};
  return kinds;
}

const char* name_of(FindingKind kind) {
  switch (kind) {
    case FindingKind::gouge:
      return "gouge";
    case FindingKind::rapid_into_part:
      return "rapid into the part";
    case FindingKind::rapid_through_stock:
      return "rapid through stock";
    case FindingKind::shank_into_part:
      return "shank into the part";
    case FindingKind::holder_into_part:
      return "holder into the part";
    case FindingKind::shank_into_stock:
      return "shank into stock";
    case FindingKind::holder_into_stock:
      return "holder into stock";
    case FindingKind::deeper_than_flutes:
      return "cut deeper than the flutes";
    case FindingKind::guard_too_near:
      return "too near a guard";
    case FindingKind::outside_travel:
      return "outside the machine's travel";
  }
  return "";
}

const char* id_of(FindingKind kind) {
  switch (kind) {
    case FindingKind::gouge:
      return "gouge";
    case FindingKind::rapid_into_part:
      return "rapid-into-part";
    case FindingKind::rapid_through_stock:
      return "rapid-through-stock";
    case FindingKind::shank_into_part:
      return "shank-into-part";
    case FindingKind::holder_into_part:
      return "holder-into-part";
    case FindingKind::shank_into_stock:
      return "shank-into-stock";
    case FindingKind::holder_into_stock:
      return "holder-into-stock";
    case FindingKind::deeper_than_flutes:
      return "deeper-than-flutes";
    case FindingKind::guard_too_near:
      return "guard-too-near";
    case FindingKind::outside_travel:
      return "outside-travel";
  }
  return "";
}

}  // namespace yardpass
