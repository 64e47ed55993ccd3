// A number told by places of the part: { top_of = "plate", plus = 1 }.
#pragma once

#include "job/table_keys.h"

namespace yardpass::detail {

/// Nothing, with a message, if it is not understood.
std::optional<Measure> read_measure(const Given& node, const char* key, TableReader& reader,
                                    KeyContext& context);

/// The keys of such a table, one of which is said besides `plus`.
struct MeasureKind {
  const char* key;
  Measure::What what;
  std::size_t places;  ///< 0: names something
  const char* says;
  Named kind = Named::regions;  ///< of what is named
};
[[nodiscard]] std::span<const MeasureKind> measure_kinds();

}  // namespace yardpass::detail
