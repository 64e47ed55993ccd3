// The part as operations plan on it: with their lids, run_outs, carriers and keep_away.
#pragma once

#include "yardpass/contact/tip_surface.h"
#include "yardpass/job/operation.h"
#include "yardpass/setup/setup.h"

namespace yardpass::detail {

/// Groups of its triangles: 0 for the part and what guides, then one for each region that has an allowance of
/// its own, then one for each thing that is kept away from.
struct GuidedPart {
  std::shared_ptr<const ContactPart> part;
  std::vector<double> clearances_mm = {};     ///< of the keep_away
  std::vector<Obstacles::Guard> guards = {};  ///< the same, by group
  /// The allowance on all of its groups (before the reserve for rounding).
  [[nodiscard]] TipSurfaceOptions options(const Allowance& allowance) const;
};

/// Indexed once for each set of guides, and kept only as long as a later operation wants it.
class GuidedParts {
 public:
  /// `wanted`: of each operation, in the order in which they will be planned.
  GuidedParts(const JobSetup& setup, std::vector<Guides> wanted)
      : setup_(setup), wanted_(std::move(wanted)) {}
  /// The one of the next operation.
  GuidedPart next(const Progress& progress);

 private:
  struct Kept {
    Guides guides;
    GuidedPart part;
  };
  const JobSetup& setup_;
  std::vector<Guides> wanted_;
  std::size_t at_ = 0;
  std::vector<Kept> kept_;
};

}  // namespace yardpass::detail
