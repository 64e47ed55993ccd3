// Part, stock and tool, cut along a line.
#pragma once

#include <optional>

#include "yardpass/report/report.h"

namespace yardpass::detail {

struct SectionTool {
  Tool tool;  ///< completed
  Vec3 tip;   ///< on the line in plan
};

/// At true scale, upright through the line. `stock` may be nothing. Throws Error if the line has no length,
/// or if it cannot be written.
void draw_section(const std::string& title, const Mesh& part, const Stock* stock,
                  const std::optional<SectionTool>& tool, const SectionLine& line, const Telling& telling,
                  const std::string& mark, const std::filesystem::path& file);

}  // namespace yardpass::detail
