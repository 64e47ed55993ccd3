/// Curves that an operation runs along or starts from, as a job gives them.
#pragma once

#include <string>
#include <vector>

#include "yardpass/curve/curve.h"

namespace yardpass {

/// By name; the curves themselves are found once the part is there, in the order of the names.
struct GivenCurves {
  std::vector<std::string> names = {};
  std::vector<Curve> curves = {};
  [[nodiscard]] bool given() const { return !names.empty() || !curves.empty(); }
};

}  // namespace yardpass
