/// A closed piece of a line.
#pragma once

namespace yardpass {

/// As shares of the line: 0 at its start, 1 at its end.
struct LinePiece {
  double from, to;
};

}  // namespace yardpass
