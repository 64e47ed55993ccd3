// Pictures of a run, as its list of outputs asks for them.
#pragma once

#include "yardpass/report/outputs.h"

namespace yardpass::detail {

void draw_paths(OutputSource& source);
void draw_spacing(OutputSource& source);
void draw_how_much_is_left(OutputSource& source);
void draw_left(OutputSource& source);

/// The plan of the stock with a little air around.
Box2 plan_of_block(const Report& report);

}  // namespace yardpass::detail
