// Pictures of a run, as its list of outputs asks for them.
#pragma once

#include "yardpass/report/outputs.h"

namespace yardpass::detail {

void draw_paths(OutputSource& source);
void draw_corner_paths(OutputSource& source);
void draw_stock_view(OutputSource& source);
void draw_summary(OutputSource& source);
void draw_section(OutputSource& source);
void draw_spacing(OutputSource& source);
void draw_how_much_is_left(OutputSource& source);
void draw_left(OutputSource& source);

/// "view-3", or "view-3-2" where a program comes back to operation 3: of the report's operation of an index.
[[nodiscard]] std::string stem_of(const char* kind, const Report& report, std::size_t index);

/// Within 0.01 mm of the simulation, or as much more as keeps it below a million triangles.
const Mesh& mesh_of_stock(OutputSource& source);

/// The plan of the stock with a little air around.
Box2 plan_of_block(const Report& report);

}  // namespace yardpass::detail
