// Sizes of broken edges, told.
#pragma once

#include "report/json_values.h"

namespace yardpass::detail {

/// Of each edge; adds to the figures of the operation.
void add_edges(Json& json, const EdgeSizes& sizes, Units units);
/// A table for each operation that breaks edges; empty if none does.
std::string edges_html(const Report& report);

}  // namespace yardpass::detail
