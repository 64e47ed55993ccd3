// The moves of an operation, for pictures.
#pragma once

#include <vector>

#include "yardpass/report/report.h"

namespace yardpass::detail {

struct Stroke {
  MoveKind kind;
  std::int32_t pass;  ///< from 1; 0: not known
  Vec3 from, to;
};

/// Of one of Program::operations, as posted and read back; what each is for is known only when we posted it
/// ourselves. Arcs are in chords.
[[nodiscard]] std::vector<Stroke> strokes_of(const Report& report, std::int32_t operation);

}  // namespace yardpass::detail
