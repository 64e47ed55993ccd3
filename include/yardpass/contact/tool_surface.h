/// A tool over a part: the two in one, so that no path is planned with one and cut with another.
#pragma once

#include <optional>

#include "yardpass/contact/tip_surface.h"
#include "yardpass/tool/tool.h"

namespace yardpass {

/// The tip surface of a tool: its cutter, and its neck, shank and holder with the clearances that the tool
/// asks for. Completes the tool, and adds to the allowance what rounding to the posted decimals can move a
/// point (`rounding_reserve`), so that posted moves are as free as planned ones. Cheap to copy; immutable, so
/// any number of threads may ask it.
class ToolSurface : public TipSurface {
 public:
  /// `step_mm`: of the last decimal of the program; nothing: moves are taken as they are, without reserve.
  /// Throws Error if the tool lacks a dimension or has an impossible one, or if the allowance is an overcut
  /// deeper than it allows.
  ToolSurface(std::shared_ptr<const ContactPart> part, const Tool& tool, TipSurfaceOptions options = {},
              std::optional<double> step_mm = 0.001);

  [[nodiscard]] const Tool& tool() const { return *tool_; }  ///< completed
  /// The same of the cutter alone, for what asks how low the cutter could go.
  [[nodiscard]] TipSurface cutter_alone() const { return {shared_part(), cutter(), cutter_options_}; }
  [[nodiscard]] double rounding_reserve_mm() const { return reserve_; }
  /// The first height at or above z that the program's decimals can say: rounding does not move it. Without
  /// decimals z itself.
  [[nodiscard]] double posted_height(double z) const;

 private:
  ToolSurface(std::shared_ptr<const ContactPart> part, std::shared_ptr<const Tool> tool,
              TipSurfaceOptions options, double reserve);
  std::shared_ptr<const Tool> tool_;
  double reserve_;
  TipSurfaceOptions cutter_options_;
};

}  // namespace yardpass
