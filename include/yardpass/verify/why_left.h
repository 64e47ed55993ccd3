/// Why material is left, and where it is thickest.
#pragma once

#include "yardpass/tool/tool.h"
#include "yardpass/verify/left.h"

namespace yardpass {

enum class LeftBecause : std::uint8_t {
  thin,          ///< no more than the limit is left
  no_part,       ///< there is no part below
  on_purpose,    ///< allowance of all operations here, a lid, or outside all their boundaries
  out_of_reach,  ///< no tool of the operations here can take more without cutting the part
  not_asked,     ///< nobody looked whether a tool could have taken more
  missed         ///< a tool could have taken more
};
/// "thin", "no part", "on purpose", "out of reach", "not explained", "missed"
[[nodiscard]] const char* name_of(LeftBecause why);

/// An operation as far as it says what should be left.
struct LeftByOperation {
  Region area;                 ///< where it works
  Region lids = {};            ///< what it runs over on purpose
  double allowance_mm = 0;     ///< what it leaves everywhere
  const Tool* tool = nullptr;  ///< must outlive the call
  /// More than that on walls or floors, as TipSurfaceOptions.
  double wall_extra_mm = 0, floor_extra_mm = 0;
};

struct ThickPlace {
  Vec3 at{0, 0, 0};  ///< top of the material
  double left_mm = 0;
  LeftBecause why = LeftBecause::missed;
  std::int32_t last_cut = -1;  ///< the move that made it, -1 if none
};

struct WhyLeft {
  std::vector<LeftBecause> why;  ///< of each cell, as Stock::index
  double limit_mm = 0;           ///< what is below it is thin
  double on_purpose_mm2 = 0, out_of_reach_mm2 = 0, not_asked_mm2 = 0, missed_mm2 = 0;  ///< in plan
  /// Squares of so many cells a side were answered for by their thickest cell; 1: every cell was asked, 0:
  /// none.
  int asked_every = 1;
  std::vector<ThickPlace>
      thickest;  ///< at most ten, thickest first, at least ten cells and a fortieth of the block apart
};

/// In plan, of the cells whose centres lie in a region.
[[nodiscard]] double area_because(const WhyLeft& left, const Stock& stock, const Region& region,
                                  LeftBecause why);

struct WhyLeftOptions {
  double limit_mm = 0.05;  ///< what is thinner needs no reason
  /// About so many times the part is asked where a cutter stands on it. Where that is not enough to ask of
  /// each cell, the thickest of a square of cells answers for all of it. 0: nothing is asked; then what is
  /// not left on purpose is `not_asked`.
  double most_work = 1e7;
};

/// Tells for each cell of the stock why it is thicker than the limit. Out of reach: where none of the tools
/// of the operations here can leave less, by more than half the limit, without cutting the part (the closing
/// of the part by the cutter: the least that a cutter on its tip surface leaves above the place, measured in
/// space as what is left is). Looked for at samples a fifteenth of the cutter's radius apart, where the
/// cutter touches the part as steeply as the material lies over it, and from the better of these downhill to
/// 0.001 mm; so that a place may be told as out of reach that a cutter gets to through a gap narrower than
/// the samples. Runs on all cores; the result does not depend on their number.
[[nodiscard]] WhyLeft explain_left(const Stock& stock, const LeftMap& map,
                                   const std::shared_ptr<const ContactPart>& part,
                                   const std::vector<LeftByOperation>& operations,
                                   const std::vector<std::int32_t>& last_cut,
                                   const WhyLeftOptions& options = {}, const Progress& progress = {});

}  // namespace yardpass
