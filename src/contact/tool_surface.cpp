#include "yardpass/contact/tool_surface.h"

#include <cmath>

#include "yardpass/contact/assembly.h"
#include "yardpass/geom/rounding.h"

namespace yardpass {

namespace {

TipSurfaceOptions with_reserve(TipSurfaceOptions options, double reserve) {
  options.allowance_mm += reserve;
  return options;
}

/// What is above the cutter keeps its own clearance from the part, and what rounding can move it; the stock
/// to leave is the cutter's.
TipSurface whole_tool(std::shared_ptr<const ContactPart> part, const Tool& tool,
                      const TipSurfaceOptions& options, double reserve) {
  TipSurface surface(std::move(part), profile_of(tool), options);
  if (tool.undercuts()) return surface;  // its neck stands in its own shadow
  for (const ToolSection& section : sections_above(tool))
    surface =
        surface.with_body(section.profile, section.above_tip_mm, clearance_of(tool, section.part) + reserve);
  return surface;
}

}  // namespace

ToolSurface::ToolSurface(std::shared_ptr<const ContactPart> part, const Tool& tool, TipSurfaceOptions options,
                         std::optional<double> step_mm)
    : ToolSurface(std::move(part), std::make_shared<const Tool>(completed(tool)), std::move(options),
                  step_mm ? rounding_reserve_of(*step_mm) : 0) {}

ToolSurface::ToolSurface(std::shared_ptr<const ContactPart> part, std::shared_ptr<const Tool> tool,
                         TipSurfaceOptions options, double reserve)
    : TipSurface(whole_tool(std::move(part), *tool, with_reserve(options, reserve), reserve)),
      tool_(std::move(tool)),
      reserve_(reserve),
      cutter_options_(with_reserve(std::move(options), reserve)) {}

double ToolSurface::posted_height(double z) const {
  if (!(reserve_ > 0)) return z;
  constexpr double kRounding = 1e-6;                  // of a step
  const double step = reserve_ * 2 / std::sqrt(3.0);  // the reserve is half its diagonal in space
  return std::ceil(z / step - kRounding) * step;
}

}  // namespace yardpass
