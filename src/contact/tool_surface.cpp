#include "yardpass/contact/tool_surface.h"

#include "yardpass/geom/rounding.h"

namespace yardpass {

namespace {

TipSurfaceOptions with_reserve(TipSurfaceOptions options, double reserve) {
  options.allowance_mm += reserve;
  return options;
}

}  // namespace

ToolSurface::ToolSurface(std::shared_ptr<const ContactPart> part, const Tool& tool, TipSurfaceOptions options,
                         std::optional<int> decimals)
    : ToolSurface(std::move(part), std::make_shared<const Tool>(completed(tool)), std::move(options),
                  decimals ? rounding_reserve(*decimals) : 0) {}

ToolSurface::ToolSurface(std::shared_ptr<const ContactPart> part, std::shared_ptr<const Tool> tool,
                         TipSurfaceOptions options, double reserve)
    : TipSurface(std::move(part), profile_of(*tool), with_reserve(std::move(options), reserve)),
      tool_(std::move(tool)),
      reserve_(reserve) {}

}  // namespace yardpass
