/// Seams: where what an operation finishes meets what others have finished.
#pragma once

#include "yardpass/contact/tip_surface.h"
#include "yardpass/keys/keys.h"
#include "yardpass/plan/cuts.h"
#include "yardpass/plan/site.h"
#include "yardpass/stock/stock.h"

namespace yardpass {

/// Passes rise towards the seam, so that they fade into what lies beyond it.
struct Feather {
  double height_mm = 0;  ///< at the seam itself, straight up; 0: they do not rise
  double over_mm = 1;    ///< from where on; REQUIRES: above 0
};
/// `feather`, `feather_over`.
void keys_of(Feather& feather, const Usual& usual, Keys& keys);

/// The borders of an area, but for what of them lies within `margin_mm` of the outline of the part, or
/// beyond: nothing was finished there.
[[nodiscard]] std::vector<Polyline2> seam_lines(const Region& area, const Region& part, double margin_mm);

/// Lifts every cut near the seam, by the full height on it, and by less and less up to `over_mm` away. Cuts
/// stay free of the part. On all cores.
void feather(CutPlan& plan, const std::vector<Polyline2>& seam, const Feather& feather);

/// How much higher material stands beyond the seam than what is cut up to it: normal to the surface.
struct SeamStep {
  std::int64_t places = 0;                           ///< looked at
  double half_mm = 0, most_mm = 0, greatest_mm = 0;  ///< on half of them, on 95 %, anywhere
  Vec3 at{0, 0, 0};                                  ///< of the greatest: on the part
};
/// Predicted: what the material before holds above the part beyond the seam (the area lies on the left of its
/// lines), against what will be left there, `leaves_mm`, and what the cutter's round takes off beyond. In
/// cells of the material, so within the slope's change over half a cell. `surface`: of the cutter that cuts
/// up to the seam, without allowance. On all cores; the result does not depend on their number.
[[nodiscard]] SeamStep seam_step(const std::vector<Polyline2>& seam, const TipSurface& surface,
                                 const Stock& before, double leaves_mm);

}  // namespace yardpass
