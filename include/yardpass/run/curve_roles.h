/// What curves are for in operations that run along them, before anything is planned.
#pragma once

#include "yardpass/plan/given_curves.h"
#include "yardpass/run/settle.h"

namespace yardpass {

struct OperationCurves {
  std::int32_t operation = 0;  ///< its number
  std::string name;
  std::vector<CurveRole> roles;
};

/// Of the active operations whose curves have roles. Throws Error that names the operation where they do not
/// go together; LoopError, with curves and places for a picture, where it has some.
[[nodiscard]] std::vector<OperationCurves> curve_roles(const JobSetup& setup,
                                                       const std::vector<Settled>& operations);

}  // namespace yardpass
